package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

func TestLearningMovesPriorsTowardsWhatIsMet(t *testing.T) {
	shipped := learning.Learn(nil, 0)
	for _, f := range fault.Catalogue {
		if f.ID != fault.Healthy {
			assert.InDelta(t, f.Prior, shipped[f.ID], 1e-12, f.ID)
		}
	}
	rapid.Check(t, func(t *rapid.T) {
		visits := rapid.IntRange(0, 5000).Draw(t, "visits")
		n := rapid.IntRange(0, visits).Draw(t, "lids")
		p := learning.Learn(map[fault.ID]int{fault.AirLid: n}, visits)[fault.AirLid]
		rate := float64(n) / float64(max(1, visits))
		lo, hi := min(rate, 0.02), max(rate, 0.02)
		assert.True(
			t,
			p >= lo-1e-9 && p <= hi+1e-9,
			"%v lies between the shipped frequency and the company's own %v",
			p,
			rate,
		)
		more := learning.Learn(map[fault.ID]int{fault.AirLid: n + 1}, visits+1)[fault.AirLid]
		assert.Greater(t, more, p*(1-1e-3))
	})
	// What is met often is thought of sooner.
	m := calibrated(t, pad.Sand)
	rd := run(t, m, 2400, pad.SetFilter, plumbing.Effects{Air: 0.08, Load: 0.4})
	c := Case{Model: m, Readings: []Reading{rd}, Signs: signs{fault.AirInPot: true}, Load: Belief{Mean: 0.4, SD: 0.2}}
	before, err := Diagnose(c)
	require.NoError(t, err)
	c.Priors = learning.Learn(map[fault.ID]int{fault.AirInlet: 40}, 600)
	after, err := Diagnose(c)
	require.NoError(t, err)
	assert.Greater(t, chance(after, fault.AirInlet), 3*chance(before, fault.AirInlet))
}
