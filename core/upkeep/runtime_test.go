package upkeep

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"fairlap/core/pad"
)

// 90 °F → 9 h, 100 °F → 10 h, never under 8 h (handbook; common practice).
func TestHeatRaisesTheRunTime(t *testing.T) {
	single := func(hours float64) *pad.Document {
		return &pad.Document{Pump: pad.Pump{Kind: pad.SingleSpeed}, Programme: []pad.Slot{{Hours: hours, RPM: 3450}}}
	}
	assert.Empty(t, RunTime(single(9), 40, 15000, 90))
	assert.Contains(t, say(RunTime(single(8), 40, 15000, 90)), "needs 9")
	assert.Contains(t, say(RunTime(single(9), 40, 15000, 100)), "needs 10")
	assert.Contains(t, say(RunTime(single(6), 40, 15000, 50)), "needs 8")
	varied := &pad.Document{Pump: pad.Pump{Kind: pad.VariableSpeed}, Programme: []pad.Slot{{Hours: 6, RPM: 1800}}}
	assert.Empty(t, RunTime(varied, 16, 15000, 70), "once round")
	assert.Contains(t, say(RunTime(varied, 16, 15000, 95)), "should 2", "twice in the heat")
	assert.Contains(t, say(RunTime(varied, 9, 15000, 70)), "0.6 times")
	assert.Empty(t, RunTime(varied, 9, 0, 70), "a pool of unknown size")
	now := time.Date(2026, 7, 10, 10, 0, 0, 0, time.UTC)
	air, known := Heat(
		func(day time.Time) (Weather, bool) { return Weather{AirF: 80 + float64(day.Day())}, day.Day() >= 6 },
		now,
	)
	assert.True(t, known)
	assert.InDelta(t, 87.5, air, 1e-9, "the mean of the days that are known")
	_, known = Heat(nil, now)
	assert.False(t, known)
}
