package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/upkeep"
	"fairlap/internal/backtest"
)

func TestTablesAndPlotSayWhatWasFound(t *testing.T) {
	h := backtest.Habits{Name: "a town", Pools: 2, Days: 400}
	out := []backtest.Outcome{
		{
			School:      upkeep.Rise,
			PoolYears:   2,
			Cleanings:   60,
			Needless:    4,
			StarvedDays: 30,
			Ahead:       []backtest.Ahead{{True: 7, Low: 5, Median: 8, High: 10, Calendar: 3}},
		},
		{School: upkeep.Calendar, PoolYears: 2, Cleanings: 64, Needless: 14, StarvedDays: 70},
	}
	var text strings.Builder
	tables(&text, h, out)
	assert.Contains(t, text.String(), "| Calendar | 32.0 | 7.0 | 35.0 |")
	assert.Contains(
		t,
		text.String(),
		"off by 1.0 days in the mean; the calendar's by 4.0. The 80 % band holds 100 % of 1 crossings",
	)
	path := filepath.Join(t.TempDir(), "plot.svg")
	require.NoError(t, plotSchools(path, []company{{h.Name, out}}))
	svg, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Contains(t, string(svg), "starved days a pool-year")
}
