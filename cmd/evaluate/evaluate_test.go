package main

import (
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/plumbing"
	"fairlap/internal/evaluation"
)

func maker(t *testing.T) *evaluation.Maker {
	engine, err := evaluation.StartEPANET("../..")
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, engine.Close()) })
	m, err := evaluation.NewMaker(engine.Solve, tuningSeed)
	require.NoError(t, err)
	return m
}

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

// The pads really stray from their descriptions, and a clean line brings the
// model back to them.
func TestTheCleanLineFindsTheRealPad(t *testing.T) {
	m := maker(t)
	stops, err := m.Stops(240, evaluation.ByRoute)
	require.NoError(t, err)
	var sum, n float64
	for _, s := range stops {
		if s.Truth != fault.Healthy {
			continue
		}
		op, read := s.First()
		st, err := s.Pad.Model.Solver().Solve(op, plumbing.Effects{Load: s.Load.Mean})
		require.NoError(t, err)
		miss := math.Abs(float64(*read.Flow)/float64(st.Flow) - 1)
		assert.Less(t, miss, 0.5, s.Pad.Name)
		sum, n = sum+miss, n+1
	}
	t.Logf(
		"flow at %.0f sound stops: off by %.1f %% in the mean, the meter's own noise and the load's among it",
		n,
		100*sum/n,
	)
	assert.Greater(t, n, 100.0)
	assert.Less(t, sum/n, 0.12)
}

func TestTheSameSeedMakesTheSameStops(t *testing.T) {
	a, err := maker(t).Stops(12, evaluation.Evenly)
	require.NoError(t, err)
	b, err := maker(t).Stops(12, evaluation.Evenly)
	require.NoError(t, err)
	for i := range a {
		assert.Equal(t, a[i].Truth, b[i].Truth)
		_, x := a[i].First()
		_, y := b[i].First()
		assert.Equal(t, x, y)
	}
}

// The method's table of numbers is made from the numbers themselves.
func TestTheTableOfNumbersIsCurrent(t *testing.T) {
	text, err := os.ReadFile("../../docs/method.md")
	require.NoError(t, err)
	assert.Contains(t, string(text), diagnosis.Table(), "run make numbers")
}
