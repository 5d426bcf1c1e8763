package app

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

var monday = time.Date(2026, 9, 7, 9, 0, 0, 0, time.UTC)

// visited is a visit some days after monday; a load of 0 means no reading told.
func visited(day int, load float64, cleaned bool) store.Visit {
	at := monday.AddDate(0, 0, day)
	v := store.Visit{ArrivedAt: at, ClosedAt: at.Add(30 * time.Minute), Cleaned: cleaned}
	if load > 0 {
		sd := 0.1
		v.LoadMean, v.LoadSD = &load, &sd
	}
	return v
}

func TestHistoryLearnsCyclesFromVisits(t *testing.T) {
	var vs []store.Visit
	for c := range 4 { // fourteen-day cycles, 0.05 to 0.85
		vs = append(vs, visited(14*c+7, 0.45, false), visited(14*c+14, 0.85, true))
	}
	now := monday.AddDate(0, 0, 63)
	h := historyAt(vs, pad.Sand, 25, now)
	assert.True(t, h.hadForecast)
	assert.InDelta(t, 7, h.daysSince(now), 0.1)
	assert.InDelta(t, 14, h.usualDays(), 0.1)
	assert.InDelta(t, 0.45, h.state.Load, 0.08, "a week after a cleaning")
	assert.Len(t, h.cycles, 3)
	f := h.state.Ahead(h.state.LoadBelief(), 25, 14)
	assert.InDelta(t, 9.6, f.Cross50, 2)
	assert.Less(t, f.Cross10, f.Cross50)
	assert.Less(t, f.Cross50, f.Cross90)
}

func TestHistoryOfAPoolThatNobodyKnows(t *testing.T) {
	h := historyAt(nil, pad.DE, 20, monday)
	assert.False(t, h.hadForecast)
	assert.Equal(t, -1.0, h.daysSince(monday))
	assert.Zero(t, h.usualDays())
	assert.InDelta(t, upkeep.Unknown.Mean, h.state.Load, 1e-9)
	assert.InDelta(t, upkeep.Unknown.SD, h.state.LoadBelief().SD, 1e-9, "nothing known is said as nothing known")
}

func TestHistoryTakesTroubleAsItComes(t *testing.T) {
	// A cleaning with no reading after it; two visits the same day; a vague reading; a reading from the future.
	vague := visited(3, 2.5, false)
	sd := 0.9
	vague.LoadSD = &sd
	vs := []store.Visit{visited(0, 0.9, true), visited(0, 0.06, false), vague, visited(7, 0.4, false), visited(30, 3, true)}
	h := historyAt(vs, pad.Sand, 25, monday.AddDate(0, 0, 8))
	require.NotNil(t, h.lastCleaned)
	assert.Equal(t, monday.Add(30*time.Minute), *h.lastCleaned)
	assert.InDelta(t, 0.45, h.state.Load, 0.12)
	for _, p := range h.points {
		assert.Less(t, p.Load, 1.0, "what tells nothing, and what is yet to come, is left out")
	}
	// Idle all winter: the forecast grows vaguer, never finer.
	spring := historyAt(vs[:4], pad.Sand, 25, monday.AddDate(0, 5, 0))
	assert.Greater(t, spring.state.LoadBelief().SD, h.state.LoadBelief().SD)
}

func TestChemicalsAreRemembered(t *testing.T) {
	at := monday.Add(time.Hour)
	v := visited(0, 0, false)
	v.ChemicalsAt = &at
	h := historyAt([]store.Visit{v, visited(7, 0.3, false)}, pad.Sand, 25, monday.AddDate(0, 0, 8))
	require.NotNil(t, h.chemicals)
	assert.Equal(t, at, *h.chemicals)
}
