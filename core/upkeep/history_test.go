package upkeep

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
)

var monday = time.Date(2026, 9, 7, 9, 0, 0, 0, time.UTC)

// visited is a visit some days after monday; a load of 0 means no reading told.
func visited(day int, load float64, cleaned bool) Visit {
	at := monday.AddDate(0, 0, day)
	v := Visit{Arrived: at, Closed: at.Add(30 * time.Minute), Cleaned: cleaned}
	if load > 0 {
		v.Load = &Belief{Mean: load, SD: 0.1}
	}
	return v
}

func TestHistoryLearnsCyclesFromVisits(t *testing.T) {
	var vs []Visit
	for c := range 4 { // fourteen-day cycles, 0.05 to 0.85
		vs = append(vs, visited(14*c+7, 0.45, false), visited(14*c+14, 0.85, true))
	}
	now := monday.AddDate(0, 0, 63)
	h := Follow(vs, pad.Sand, &Exposure{KGalPerDay: 25}, now)
	assert.True(t, h.HadForecast)
	assert.InDelta(t, 7, h.DaysSince(now), 0.1)
	assert.InDelta(t, 14, h.UsualDays(), 0.1)
	assert.InDelta(t, 0.45, h.State.Load, 0.08, "a week after a cleaning")
	assert.Len(t, h.Cycles, 3)
	f := h.State.Ahead(h.State.LoadBelief(), 25, 14)
	assert.InDelta(t, 9.6, f.Cross50, 2)
	assert.Less(t, f.Cross10, f.Cross50)
	assert.Less(t, f.Cross50, f.Cross90)
}

func TestHistoryOfAPoolThatNobodyKnows(t *testing.T) {
	h := Follow(nil, pad.DE, &Exposure{KGalPerDay: 20}, monday)
	assert.False(t, h.HadForecast)
	assert.Equal(t, -1.0, h.DaysSince(monday))
	assert.Zero(t, h.UsualDays())
	assert.InDelta(t, Unknown.Mean, h.State.Load, 1e-9)
	assert.InDelta(t, Unknown.SD, h.State.LoadBelief().SD, 1e-9, "nothing known is said as nothing known")
}

func TestHistoryTakesTroubleAsItComes(t *testing.T) {
	// A cleaning with no reading after it; two visits the same day; a vague reading; a reading from the future.
	vague := visited(3, 2.5, false)
	vague.Load.SD = 0.9
	vs := []Visit{visited(0, 0.9, true), visited(0, 0.06, false), vague, visited(7, 0.4, false), visited(30, 3, true)}
	h := Follow(vs, pad.Sand, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 0, 8))
	require.NotNil(t, h.LastCleaned)
	assert.Equal(t, monday.Add(30*time.Minute), *h.LastCleaned)
	assert.InDelta(t, 0.45, h.State.Load, 0.12)
	for _, p := range h.Points {
		assert.Less(t, p.Load, 1.0, "what tells nothing, and what is yet to come, is left out")
	}
	// Idle all winter: the forecast grows vaguer, never finer.
	spring := Follow(vs[:4], pad.Sand, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 5, 0))
	assert.Greater(t, spring.State.LoadBelief().SD, h.State.LoadBelief().SD)
}

func TestChemicalsAreRemembered(t *testing.T) {
	at := monday.Add(time.Hour)
	v := visited(0, 0, false)
	v.Chemicals = &at
	h := Follow([]Visit{v, visited(7, 0.3, false)}, pad.Sand, &Exposure{KGalPerDay: 25}, monday.AddDate(0, 0, 8))
	require.NotNil(t, h.Chemicals)
	assert.Equal(t, at, *h.Chemicals)
}
