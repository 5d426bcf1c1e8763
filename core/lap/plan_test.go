package lap

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/upkeep"
)

var tuesday = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

func weeks(who string, from time.Time, n int) []Visit {
	return Planned(Weekly{Weekday: from.Weekday(), Technician: who}, nil, from, n)
}

func TestPlannedVisitsFollowTheWeekdayAndTheMoves(t *testing.T) {
	day := func(d int) time.Time { return time.Date(2026, 11, d, 0, 0, 0, 0, time.UTC) }
	dates := func(vs []Visit) (out []int) {
		for _, v := range vs {
			assert.Equal(t, 9, v.At.Hour())
			out = append(out, v.At.Day())
		}
		return out
	}
	w := Weekly{Weekday: time.Tuesday, Technician: "Brandt"}
	now := tuesday.Add(2 * time.Hour)
	assert.Equal(t, []int{24, 1, 8}, dates(Planned(w, nil, now, 3)))
	w.Seen = tuesday
	assert.Equal(t, []int{1, 8, 15}, dates(Planned(w, nil, now, 3)), "seen today: the next is in a week")
	w.Seen = tuesday.AddDate(0, 0, -7)
	assert.Equal(t, []int{1, 8, 15}, dates(Planned(w, nil, tuesday.Add(10*time.Hour), 3)), "the day is over")
	// Today's visit on Thursday, by somebody else.
	moves := []Move{{On: day(24), To: day(25)}, {On: day(24), To: day(26), Technician: "Teague"}}
	vs := Planned(w, moves, now, 3)
	assert.Equal(t, []int{26, 1, 8}, dates(vs), "the last move counts")
	assert.Equal(t, Visit{On: day(24), At: day(26).Add(9 * time.Hour), Technician: "Teague"}, vs[0])
	assert.True(t, vs[0].Moved("Brandt"))
	assert.False(t, vs[1].Moved("Brandt"))
	assert.Equal(
		t,
		[]int{26, 1, 8},
		dates(Planned(w, moves, day(25), 3)),
		"a moved visit is still to come after its own day",
	)
	assert.Equal(t, []int{1, 8, 15}, dates(Planned(w, moves, day(27), 3)))
	assert.Equal(t, []int{24, 1, 8}, dates(Planned(w, append(moves, Move{On: day(24)}), now, 3)), "and taken back")
	assert.Equal(
		t,
		[]int{1, 8, 15},
		dates(Planned(w, []Move{{On: day(24), To: day(24).AddDate(0, 0, 7)}}, now, 3)),
		"never twice on a day",
	)
	far := []Move{{On: day(24), To: day(24).AddDate(0, 0, 44)}}
	assert.Equal(
		t,
		[]int{5, 7, 12},
		dates(Planned(w, far, day(24).AddDate(0, 0, 40), 3)),
		"weeks off is not forgotten: 7 January",
	)
	// Clocks go back on 1 November 2026 in this place: nine stays nine.
	zone, err := time.LoadLocation("America/New_York")
	require.NoError(t, err)
	assert.Equal(t, []int{27, 3, 10}, dates(Planned(w, nil, time.Date(2026, 10, 26, 12, 0, 0, 0, zone), 3)))
}

func TestAFullDaySlidesWhatHarmsLeast(t *testing.T) {
	routes := []Route{
		{
			Pool:   "Quince",
			Base:   40,
			Visits: weeks("Brandt", tuesday, 3),
			Due: []upkeep.Due{
				{Item: "clean-filter", Minutes: 30, Harm: 0.8},
				{Item: "cell", Minutes: 20, Harm: 0.05},
			},
			At: []int{0, 0},
		},
		{
			Pool:   "Heron",
			Base:   40,
			Visits: weeks("Brandt", tuesday, 3),
			Due:    []upkeep.Due{{Item: "tear-down", Minutes: 90, Harm: 0.1}},
			At:     []int{0},
		},
		{Pool: "Sorrel", Base: 30, Visits: weeks("Teague", tuesday.AddDate(0, 0, 1), 3)},
	}
	days := Plan(routes, Terms{Limit: 215, Until: tuesday.AddDate(0, 0, 13)})
	require.Len(t, days, 4)
	d := days[0]
	assert.Equal(t, "Brandt", d.Technician)
	assert.Equal(t, 40.0+40+9+30+90, d.Minutes)
	require.Len(t, d.Slid, 1)
	assert.Equal(t, "cell", d.Slid[0].Due.Item)
	assert.Equal(t, tuesday.AddDate(0, 0, 7), d.Slid[0].To)
	assert.Contains(t, say(d.Slid[0].Why), "can wait best (5 %)")
	assert.Equal(t, "cell", days[2].Stops[0].Due[0].Item, "and there it stands")
	assert.Equal(t, []int{0, 0}, routes[0].At, "the routes are left as they came")
	at := days[0].Stops[0].Arrive
	assert.Equal(t, DayStarts, at.Hour())
	assert.Equal(t, at.Add(minutes(40+30+9)), days[0].Stops[1].Arrive, "after the work and the way")
	// What somebody put on the day stays on it.
	routes[0].Due[1].Planned, routes[1].Due[0].Planned = &tuesday, &tuesday
	days = Plan(routes, Terms{Limit: 215, Until: tuesday.AddDate(0, 0, 6)})
	assert.Equal(t, "clean-filter", days[0].Slid[0].Due.Item)
	routes[0].Due[1].Planned, routes[1].Due[0].Planned = nil, nil
	// Stops alone over the limit: everything slides, the stops stay.
	days = Plan(routes, Terms{Limit: 10, Until: tuesday.AddDate(0, 0, 6)})
	assert.Len(t, days[0].Slid, 3)
	assert.Len(t, days[0].Stops, 2)
	assert.Empty(t, Plan(nil, Terms{Limit: DayMinutes, Until: tuesday}))
}

// The same zone read twice is the same zone.
func TestADayIsItsDate(t *testing.T) {
	var routes []Route
	for i := range 2 {
		zone, err := time.LoadLocation("America/Phoenix")
		require.NoError(t, err)
		routes = append(routes, Route{Pool: fmt.Sprint(i), Base: 30, Visits: weeks("Brandt", tuesday.In(zone), 2)})
	}
	days := Plan(routes, Terms{Limit: DayMinutes, Until: tuesday.AddDate(0, 0, 6)})
	require.Len(t, days, 1)
	assert.Len(t, days[0].Stops, 2)
}

// Nothing is lost, nothing done twice, and a day is over its limit only when
// nothing more can slide.
func TestPlanKeepsEveryPiece(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var routes []Route
		pieces := 0
		const n = 5
		for r := range rapid.IntRange(1, 6).Draw(t, "pools") {
			route := Route{Pool: fmt.Sprint(r), Base: rapid.Float64Range(10, 60).Draw(t, "base"),
				Visits: weeks(
					rapid.SampledFrom([]string{"a", "b"}).Draw(t, "who"),
					tuesday.AddDate(0, 0, rapid.IntRange(0, 4).Draw(t, "weekday")),
					n,
				)}
			for i := range rapid.IntRange(0, 3).Draw(t, "due") {
				route.Due = append(
					route.Due,
					upkeep.Due{
						Item:    fmt.Sprint(i),
						Minutes: rapid.Float64Range(5, 100).Draw(t, "minutes"),
						Harm:    rapid.Float64Range(0, 1).Draw(t, "harm"),
					},
				)
				route.At = append(route.At, rapid.IntRange(0, n-1).Draw(t, "at"))
				pieces++
			}
			routes = append(routes, route)
		}
		limit := rapid.Float64Range(60, 300).Draw(t, "limit")
		found := 0
		for _, d := range Plan(routes, Terms{Limit: limit, Until: tuesday.AddDate(0, 0, 60)}) {
			least, movable := 0.0, false
			for _, s := range d.Stops {
				least += s.Base + DriveMinutes
				for _, due := range s.Due {
					found++
					least += due.Minutes
					movable = movable || d.Date.Before(tuesday.AddDate(0, 0, 7*(n-1)-3))
				}
			}
			assert.InDelta(t, least-DriveMinutes, d.Minutes, 1e-6)
			assert.False(t, d.Minutes > limit+1e-9 && movable, "a full day with work that could wait")
		}
		assert.Equal(t, pieces, found)
	})
}
