//go:build long

package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/fault"
	"fairlap/internal/evaluation"
)

// A small set, so that a change that spoils the diagnosis is seen at once; the
// figures themselves are in docs/evaluation.md.
func TestFarAheadOfItsRivals(t *testing.T) {
	m := maker(t)
	stops, err := m.Stops(60, evaluation.Evenly)
	require.NoError(t, err)
	r, err := judge(stops, evaluation.Evenly, false)
	require.NoError(t, err)
	mine, table := r.find(ours, evaluation.AllMeters, 1, usual), r.find(signTable, evaluation.AllMeters, 1, usual)
	assert.GreaterOrEqual(t, mine.First, 48, "of 60")
	assert.GreaterOrEqual(t, mine.Three, 56)
	assert.Greater(t, mine.First, table.First)
	assert.Less(t, mine.Brier, table.Brier)
	assert.Less(
		t,
		r.find(ours, evaluation.AllMeters, 1, asTheyFell).Brier,
		r.find(ours, evaluation.GaugeAndSpeed, 1, asTheyFell).Brier+0.05,
		"more meters do no harm",
	)
	assert.Less(t, r.spent(ours, evaluation.AllMeters), r.spent(fixedRule, evaluation.GaugeAndSpeed)/2)
	text := tables([]mixResult{r})
	assert.Contains(t, text, "| Fixed rule | gauge and speed | 1 | none looked at |")
	for _, s := range stops {
		for id := range s.Typical() {
			sg, ok := fault.LookUpSign(id)
			require.True(t, ok, id)
			assert.True(t, sg.On(&s.Pad.Model.Doc), "%s at %s", id, s.Pad.Name)
		}
	}
}
