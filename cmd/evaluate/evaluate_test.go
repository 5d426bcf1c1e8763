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
