//go:build long

package evaluation

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/learning"
)

// The roof is over the diagnosis.
func TestTheRoofIsOverTheDiagnosis(t *testing.T) {
	m := secondMaker(t, 0.01)
	stops, err := m.SecondStops(200)
	require.NoError(t, err)
	roof := NewRoof(m)
	var theirs, ours []learning.Settled
	for _, s := range stops {
		seen := Seen{AllMeters, 2, s.AsTheyFell()}
		said, err := roof.Judge(s, seen)
		require.NoError(t, err)
		sum := 0.0
		for _, x := range said {
			sum += x.P
		}
		assert.InDelta(t, 1, sum, 1e-9)
		theirs = append(theirs, learning.Settled{Said: said, Was: s.Truth})
		said, err = Ours(s, seen)
		require.NoError(t, err)
		ours = append(ours, learning.Settled{Said: said, Was: s.Truth})
	}
	a, b := learning.Score(theirs), learning.Score(ours)
	assert.Greater(t, a.First, 160)
	assert.Less(t, a.Brier, b.Brier)
	assert.Greater(t, b.Three, 170)
}
