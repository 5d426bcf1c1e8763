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

func weeks(from time.Time, n int) []time.Time {
	out := make([]time.Time, n)
	for i := range out {
		out[i] = from.AddDate(0, 0, 7*i)
	}
	return out
}

func TestAFullDaySlidesWhatHarmsLeast(t *testing.T) {
	routes := []Route{
		{"Quince", "Brandt", 40, weeks(tuesday, 3), []upkeep.Due{{Item: "clean-filter", Minutes: 30, Harm: 0.8}, {Item: "cell", Minutes: 20, Harm: 0.05}}, []int{0, 0}},
		{"Heron", "Brandt", 40, weeks(tuesday, 3), []upkeep.Due{{Item: "tear-down", Minutes: 90, Harm: 0.1}}, []int{0}},
		{"Sorrel", "Teague", 30, weeks(tuesday.AddDate(0, 0, 1), 3), nil, nil},
	}
	days := Plan(routes, 215, tuesday.AddDate(0, 0, 13))
	require.Len(t, days, 4)
	d := days[0]
	assert.Equal(t, "Brandt", d.Technician)
	assert.Equal(t, 40.0+40+9+30+90, d.Minutes)
	require.Len(t, d.Slid, 1)
	assert.Equal(t, "cell", d.Slid[0].Due.Item)
	assert.Equal(t, tuesday.AddDate(0, 0, 7), d.Slid[0].To)
	assert.Contains(t, d.Slid[0].Why, "least harm by waiting (5 %)")
	assert.Equal(t, "cell", days[2].Stops[0].Due[0].Item, "and there it stands")
	assert.Equal(t, []int{0, 0}, routes[0].At, "the routes are left as they came")
	// Stops alone over the limit: everything slides, the stops stay.
	days = Plan(routes, 10, tuesday.AddDate(0, 0, 6))
	assert.Len(t, days[0].Slid, 3)
	assert.Len(t, days[0].Stops, 2)
	assert.Empty(t, Plan(nil, 450, tuesday))
}

// Nothing is lost, nothing done twice, and a day is over its limit only when
// nothing more can slide.
func TestPlanKeepsEveryPiece(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var routes []Route
		pieces := 0
		const n = 5
		for r := range rapid.IntRange(1, 6).Draw(t, "pools") {
			route := Route{Pool: fmt.Sprint(r), Technician: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "who"), Base: rapid.Float64Range(10, 60).Draw(t, "base"),
				Visits: weeks(tuesday.AddDate(0, 0, rapid.IntRange(0, 4).Draw(t, "weekday")), n)}
			for i := range rapid.IntRange(0, 3).Draw(t, "due") {
				route.Due = append(route.Due, upkeep.Due{Item: fmt.Sprint(i), Minutes: rapid.Float64Range(5, 100).Draw(t, "minutes"), Harm: rapid.Float64Range(0, 1).Draw(t, "harm")})
				route.At = append(route.At, rapid.IntRange(0, n-1).Draw(t, "at"))
				pieces++
			}
			routes = append(routes, route)
		}
		limit := rapid.Float64Range(60, 300).Draw(t, "limit")
		found := 0
		for _, d := range Plan(routes, limit, tuesday.AddDate(0, 0, 60)) {
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
