package upkeep

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestExposureCountsSeasonsAndStorms(t *testing.T) {
	storm := time.Date(2026, 7, 10, 0, 0, 0, 0, time.UTC)
	e := Exposure{KGalPerDay: 20, Sky: func(d time.Time) (Weather, bool) {
		return Weather{RainIn: map[bool]float64{true: 1}[d.Equal(storm)]}, true
	}}
	july := time.Date(2026, 7, 6, 9, 0, 0, 0, time.UTC)
	calm := e.Between(july, july.AddDate(0, 0, 3))
	assert.InDelta(t, 3*20*(1+dirtSwing), calm, 0.5)
	assert.InDelta(
		t,
		calm+stormDays*20*(1+dirtSwing),
		e.Between(july.AddDate(0, 0, 3), july.AddDate(0, 0, 6)),
		0.5,
		"the storm's day counts four times",
	)
	january := time.Date(2026, 1, 6, 9, 0, 0, 0, time.UTC)
	assert.Less(
		t,
		e.Between(january, january.AddDate(0, 0, 7)),
		e.Between(july.AddDate(0, 0, 7), july.AddDate(0, 0, 14)),
	)
	south := e
	south.South = true
	assert.Greater(t, south.Between(january, january.AddDate(0, 0, 7)), e.Between(january, january.AddDate(0, 0, 7)))
	assert.Zero(t, e.Between(july, july))
	assert.Zero(t, e.Between(july, july.AddDate(0, 0, -1)))
	year := e
	year.Sky = nil
	assert.InDelta(t, 20*365, year.Between(january, january.AddDate(1, 0, 0)), 5, "over a year the swing is nothing")
	assert.InDelta(t, 26, e.PerDay(july, 14), 0.2, "nobody knows next week's storms")
}

// A day with a clock change counts as a day: parts of it add up, whatever the cut.
func TestClockChangesLoseNoWater(t *testing.T) {
	zone, err := time.LoadLocation("America/New_York")
	require.NoError(t, err)
	e := Exposure{KGalPerDay: 24, Zone: zone}
	for _, day := range []time.Time{time.Date(2026, 3, 8, 0, 0, 0, 0, zone), time.Date(2026, 11, 1, 0, 0, 0, 0, zone)} {
		whole := e.Between(day, day.AddDate(0, 0, 1))
		assert.InDelta(t, e.At(day), whole, 1e-9)
		cut := day.Add(2*time.Hour + 30*time.Minute)
		assert.InDelta(t, whole, e.Between(day, cut)+e.Between(cut, day.AddDate(0, 0, 1)), 1e-9)
	}
}

// A pool that stands still all winter gathers nothing, and what the settings call a
// season may run over the new year.
func TestAPoolIdleAllWinterGathersNothing(t *testing.T) {
	s := Settings{SeasonOpens: "04-15", SeasonCloses: "11-01"}
	e := Exposure{KGalPerDay: 20, Idle: s.Idle()}
	closed, opened := time.Date(2025, 11, 1, 0, 0, 0, 0, time.UTC), time.Date(2026, 4, 15, 0, 0, 0, 0, time.UTC)
	assert.Zero(t, e.Between(closed, opened))
	assert.Positive(t, e.Between(opened, opened.AddDate(0, 0, 1)))
	assert.Zero(t, e.PerDay(closed, 14))
	south := Settings{SeasonOpens: "10-01", SeasonCloses: "05-01"}
	assert.False(t, south.Idle()(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)))
	assert.True(t, south.Idle()(time.Date(2026, 7, 1, 0, 0, 0, 0, time.UTC)))
	all := Settings{}
	assert.Nil(t, all.Idle())
}
