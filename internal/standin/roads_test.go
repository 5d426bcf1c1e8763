package standin

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/lap"
)

func TestRoadsAreLongerThanTheCrowFlies(t *testing.T) {
	town, err := RoadMap()
	require.NoError(t, err)
	require.Len(t, town.Corners, 80)
	longest := 0.0
	for i, a := range town.Corners {
		for j, b := range town.Corners {
			if i%7 != 0 || j%3 != 0 {
				continue
			}
			there, back := town.Way(a, b), town.Way(b, a)
			assert.InDelta(t, there.Miles, back.Miles, 1e-9)
			assert.GreaterOrEqual(t, there.Miles, crow(a, b)-1e-3, "and every corner is reached")
			assert.GreaterOrEqual(t, there.Minutes, float64(lap.Park))
			longest = max(longest, there.Miles)
			for _, via := range town.Corners[:5] {
				assert.LessOrEqual(t, there.Miles, town.Way(a, via).Miles+town.Way(via, b).Miles+1e-9)
			}
		}
	}
	assert.InDelta(t, 7, longest, 3, "a town, not a county")
	// The creek: two neighbours on either side go round by a bridge.
	west, east := town.Corners[4], town.Corners[5]
	assert.Greater(t, town.Way(west, east).Miles, 2*crow(west, east))
}
