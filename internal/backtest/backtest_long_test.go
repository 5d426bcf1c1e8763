//go:build long

package backtest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/upkeep"
	"fairlap/internal/standin"
)

// A small company, so that a change that spoils the forecast is seen at once; the
// figures themselves are in docs/evaluation.md.
func TestForecastsBeatTheCalendar(t *testing.T) {
	h := Companies(standin.Sky)[0]
	h.Seed, h.Pools, h.Days = 7, 8, 240
	out, err := Run(h, upkeep.Rise, upkeep.Calendar, ByRise)
	require.NoError(t, err)
	ours, calendar := out[0], out[1]
	s := Judge(ours.Ahead)
	t.Logf(
		"%d forecasts, off by %.1f days a week ahead, the calendar by %.1f; band %.0f %%; starved %.0f against %.0f days, needless %d against %d",
		s.N,
		s.Error,
		s.Calendar,
		100*s.Coverage,
		ours.StarvedDays,
		calendar.StarvedDays,
		ours.Needless,
		calendar.Needless,
	)
	assert.Less(t, s.Error, s.Calendar/2)
	assert.InDelta(t, 0.8, s.Coverage, 0.12)
	assert.Less(t, ours.StarvedDays, calendar.StarvedDays)
	assert.Less(t, 20*ours.Needless, ours.Cleanings, "hardly one in twenty could have waited")
	rise := out[2]
	t.Logf(
		"days with a third of the flow gone: %.0f by the first of all limits, %.0f by the gauge's rise alone, %.0f by the calendar",
		ours.LostDays,
		rise.LostDays,
		calendar.LostDays,
	)
	assert.Less(t, ours.LostDays, 0.8*rise.LostDays, "what a stricter limit is for")
	assert.Less(t, ours.StarvedDays, rise.StarvedDays)
	again, err := Run(h, upkeep.Calendar)
	require.NoError(t, err)
	assert.Equal(t, calendar, again[0], "the same seed lives the same year")
}
