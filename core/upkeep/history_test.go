package upkeep

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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
	vague.Load.SD = 1.8
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

// What records are really like: each is taken in its stride.
func TestFollowBearsRealRecords(t *testing.T) {
	e := &Exposure{KGalPerDay: 25}
	for name, c := range map[string]struct {
		visits []Visit
		now    time.Time
		check  func(t *testing.T, h History)
	}{
		"readings out of order": {
			[]Visit{visited(0, 0.9, true), visited(14, 0.4, false), visited(7, 0.2, false)}, monday.AddDate(0, 0, 15),
			func(t *testing.T, h History) { assert.InDelta(t, 0.4, h.State.Load, 0.25) },
		},
		"two visits the same day": {
			[]Visit{visited(0, 0.9, true), visited(10, 0.5, false), visited(10, 0.55, false)}, monday.AddDate(0, 0, 11),
			func(t *testing.T, h History) { assert.InDelta(t, 0.55, h.State.Load, 0.15) },
		},
		"cleaned twice the same day": {
			[]Visit{visited(0, 0.9, true), visited(0, 0.3, true), visited(7, 0.2, false)}, monday.AddDate(0, 0, 8),
			func(t *testing.T, h History) { assert.InDelta(t, 0.25, h.State.Load, 0.15) },
		},
		"a cleaning with no reading after it": {
			[]Visit{visited(0, 0.9, true)}, monday.AddDate(0, 0, 1),
			func(t *testing.T, h History) {
				assert.InDelta(t, AfterCleaning.Mean, h.State.Load, 0.15)
				assert.Greater(t, h.State.LoadBelief().SD, AfterCleaning.SD*0.9, "it is not made surer than it is")
			},
		},
		"a gauge swapped mid-cycle": { // reads half a load more from then on
			[]Visit{visited(0, 0.9, true), visited(7, 0.15, false), visited(14, 0.25, false), visited(21, 0.85, false),
				visited(28, 0.95, false), visited(35, 1.05, false)}, monday.AddDate(0, 0, 36),
			func(t *testing.T, h History) {
				assert.Greater(t, h.State.Load, 0.75, "it comes round to the new gauge")
			},
		},
		"a pool idle all winter": {
			[]Visit{visited(0, 0.9, true), visited(7, 0.15, false), visited(170, 0.3, false)},
			monday.AddDate(0, 0, 171),
			func(t *testing.T, h History) {
				assert.InDelta(t, 0.35, h.State.Load, 0.3, "the first reading of spring counts, not months of forecast")
			},
		},
		"a reading in the future is not looked at": {
			[]Visit{visited(0, 0.9, true), visited(100, 3, false)}, monday.AddDate(0, 0, 5),
			func(t *testing.T, h History) { assert.Less(t, h.State.Load, 0.8) },
		},
	} {
		t.Run(name, func(t *testing.T) {
			h := Follow(c.visits, pad.Sand, e, c.now)
			for _, v := range []float64{h.State.Load, h.State.Growth, h.State.VarLoad, h.State.VarGrowth} {
				require.False(t, math.IsNaN(v) || math.IsInf(v, 0))
			}
			assert.Positive(t, h.State.VarLoad)
			assert.Positive(t, h.State.VarGrowth)
			c.check(t, h)
		})
	}
}

// A gauge swapped mid-season shifts every later reading. The growth stays what it
// was, and a few visits on the load follows the new gauge; no cleaning is made up.
func TestAGaugeSwappedMidSeasonIsFollowed(t *testing.T) {
	var vs []Visit
	for c := range 3 { // twenty-eight-day cycles, 0.06 to 0.9
		for w := 1; w <= 4; w++ {
			vs = append(vs, visited(28*c+7*w, 0.06+0.21*float64(w), w == 4))
		}
	}
	now := monday.AddDate(0, 0, 84+21).Add(time.Hour)
	after := func(shift float64) History {
		next := append([]Visit(nil), vs...)
		for w := 1; w <= 3; w++ {
			load := 0.06 + 0.21*float64(w)
			if w > 1 {
				load += shift
			}
			next = append(next, visited(84+7*w, load, false))
		}
		return Follow(next, pad.DE, &Exposure{KGalPerDay: 25}, now)
	}
	same, lower := after(0), after(-0.2)
	require.Equal(t, same.LastCleaned, lower.LastCleaned)
	assert.Less(t, lower.State.Load, same.State.Load)
	assert.Greater(t, lower.State.Load, 0.45, "not thrown to the new gauge's figure at once")
	assert.InDelta(t, same.State.Growth, lower.State.Growth, 0.35*same.State.Growth)
	assert.Len(t, lower.Cycles, len(same.Cycles))
	assert.False(t, math.IsNaN(lower.State.Ahead(lower.State.LoadBelief(), 25, 14).Cross50))
}

// The moment at which a filter has even odds of being over its limit is the one that DaysLeft
// tells in half days, so that a list sorted by one reads sorted by the other.
func TestOverAtIsWhatDaysLeftTells(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := Filter{
			State: State{
				Load:      rapid.Float64Range(-0.2, 1.6).Draw(t, "load"),
				Growth:    rapid.Float64Range(0.0005, 0.02).Draw(t, "growth"),
				VarLoad:   rapid.Float64Range(0.001, 0.2).Draw(t, "var"),
				VarGrowth: 1e-6,
			},
			HadForecast: true,
			PerDay:      rapid.Float64Range(0, 40).Draw(t, "per day"),
		}
		at, days := f.OverAt(monday), f.DaysLeft()
		if at == nil {
			assert.True(t, days < 0 || days >= horizon, "%v", days)
			return
		}
		exact := at.Sub(monday).Hours() / 24
		assert.GreaterOrEqual(t, days, exact-1e-6)
		assert.LessOrEqual(t, days, exact+0.5+1e-6)
		f.HadForecast = false
		assert.Nil(t, f.OverAt(monday))
		assert.Equal(t, -1.0, f.DaysLeft())
	})
}
