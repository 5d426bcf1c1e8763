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

func sandDoc() *pad.Document {
	return &pad.Document{
		Pump:   pad.Pump{Kind: pad.VariableSpeed, BaseW: 560},
		Filter: pad.Filter{Kind: pad.Sand, Valve: pad.Multiport, AreaFt2: 3.1},
	}
}

// A part found bad is due before next week's visit until somebody has put it right; found
// bad again later it is due again.
func TestAPartFoundBadIsOwed(t *testing.T) {
	at := func(day int) time.Time { return monday.AddDate(0, 0, day) }
	item := OwedItem("lid-o-ring")
	require.NotEmpty(t, item)
	assert.Empty(t, OwedItem("kettle"))
	assert.Equal(t, "New: lid O-ring", say(ItemName(item, pad.Sand)))
	owed := func(now int, marks ...Mark) []Due {
		l := Ledger{
			Now:      at(now),
			Gear:     GearOf(sandDoc()),
			Settings: Defaults(),
			Since:    at(-400),
			Marks:    marks,
		}
		var out []Due
		for _, d := range l.List() {
			if d.Item == item {
				out = append(out, d)
			}
		}
		return out
	}
	found := Mark{Item: item, Act: MarkOwe, At: at(0)}
	assert.Empty(t, owed(1))
	require.Len(t, owed(1, found), 1)
	d := owed(1, found, found)[0]
	assert.Len(t, owed(1, found, found), 1, "found twice it is one part")
	assert.True(t, d.By.Before(at(7)), "before next week's visit")
	assert.Equal(t, "Lid O-ring", say(d.Materials[0].Name))
	assert.Contains(t, say(d.Reason), "Found bad")
	done := Mark{Item: item, Act: MarkDone, At: at(2)}
	assert.Empty(t, owed(3, found, done))
	assert.Len(t, owed(6, found, done, Mark{Item: item, Act: MarkOwe, At: at(5)}), 1)
}

// A small unit goes by the calendar, two weeks (common practice), whatever the company's
// school and the pool's gallons.
func TestASmallUnitGoesByTheCalendar(t *testing.T) {
	small := GearOf(&pad.Document{
		Unit:        pad.AboveGround,
		Filter:      pad.Filter{Kind: pad.Cartridge, Valve: pad.NoValve},
		PoolGallons: 9000,
	})
	sand := GearOf(sandDoc())
	assert.Equal(t, 14.0, CalendarOf(&small))
	assert.Equal(t, 35.0, CalendarOf(&Gear{Kind: pad.Cartridge}))
	assert.Equal(t, Calendar, Defaults().For(&small).School)
	assert.Equal(t, Rise, Defaults().For(&sand).School)
	cleaned := monday
	l := Ledger{
		Now:      monday.AddDate(0, 0, 10),
		Gear:     small,
		Settings: Defaults(),
		Filter:   Filter{LastCleaned: &cleaned, HadForecast: true},
		Since:    monday.AddDate(0, 0, -100),
	}
	d, ok := l.cleaning()
	require.True(t, ok)
	assert.Equal(t, monday.AddDate(0, 0, 14), d.By)
	a := Advise(
		Question{
			Now:       monday.AddDate(0, 0, 10),
			NextVisit: monday.AddDate(0, 0, 17),
			Settings:  Defaults().For(&small),
			Kind:      pad.Cartridge,
			DaysSince: 10,
			Every:     CalendarOf(&small),
		},
	)
	assert.Equal(t, CleanNow, a.Action)
	assert.Contains(t, say(a.Reason), "every 14 days")
}

// A guess past the limit ends in "over, how far is not known": three idle weeks said
// 216 %, twelve 334 %. Up to the limit nothing changes, and more dirt is never less load.
func TestAGuessPastTheLimitSaysOver(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := rapid.Float64Range(-0.2, 6).Draw(t, "a"), rapid.Float64Range(-0.2, 6).Draw(t, "b")
		sd := rapid.Float64Range(0.02, 2).Draw(t, "sd")
		of := func(load float64) Belief { return State{Load: load, VarLoad: sd * sd}.LoadBelief() }
		if a > b {
			a, b = b, a
		}
		assert.LessOrEqual(t, of(a).Mean, of(b).Mean)
		assert.LessOrEqual(t, of(b).Mean, 1.5)
		if a <= 1 {
			assert.Equal(t, a, of(a).Mean)
			assert.InDelta(t, sd, of(a).SD, 1e-12)
		} else {
			assert.Greater(t, of(a).Mean, 1.0)
			assert.GreaterOrEqual(t, of(a).SD, 0.25)
		}
	})
	far := State{Load: 0.4, Growth: 0.05, VarLoad: 0.01, VarGrowth: 1e-4}.Ahead(Belief{0.4, 0.1}, 20, 90)
	for _, d := range far.Days {
		assert.LessOrEqual(t, d.P90, 1.5, "the fan ends there too")
		assert.LessOrEqual(t, d.P10, d.P50)
		assert.LessOrEqual(t, d.P50, d.P90)
	}
	read := State{Growth: 0.01}.Ahead(Belief{2, 0.1}, 20, 9)
	assert.InDelta(t, 2, read.Days[0].P50, 1e-9, "what was read stays read")
	at := State{Load: 1 + 1e-6, VarLoad: 0.09}.LoadBelief()
	assert.InDelta(t, 1, at.Mean, 1e-5, "without a jump")
}

// The same water brings more of a stricter limit's loads: two pads whose limits differ by
// half pass them after the same dirt.
func TestAStricterLimitComesSooner(t *testing.T) {
	for _, scale := range []float64{1, 1.5, 2.2} {
		e := Exposure{KGalPerDay: 20, Scale: scale}
		plain := Exposure{KGalPerDay: 20}
		assert.InDelta(
			t,
			scale*plain.Between(monday, monday.AddDate(0, 0, 9)),
			e.Between(monday, monday.AddDate(0, 0, 9)),
			1e-9,
		)
		cleaned := Visit{Arrived: monday, Closed: monday, Cleaned: true}
		h := Follow([]Visit{cleaned}, pad.Sand, &e, monday.AddDate(0, 0, 7))
		base := Follow([]Visit{cleaned}, pad.Sand, &plain, monday.AddDate(0, 0, 7))
		start := AfterCleaning.Mean
		assert.InDelta(t, scale, (h.State.Load-start)/(base.State.Load-start), 1e-6)
		assert.False(t, math.IsNaN(h.State.VarLoad))
	}
}
