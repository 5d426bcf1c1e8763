package lap

import (
	"fmt"
	"sort"
	"time"

	"fairlap/core/upkeep"
)

// Route is one pool's visits to come and the work that goes with them.
type Route struct {
	Pool       string
	Technician string
	Base       float64 // minutes of a visit without any due work
	Visits     []time.Time
	Due        []upkeep.Due
	At         []int // visit of each piece of Due, −1 for none (see upkeep.AtVisit)
}

// Day is one technician's day.
type Day struct {
	Technician string
	Date       time.Time // midnight of the visits' zone
	Limit      float64
	Minutes    float64 // of the stops with their due work and the driving between
	Stops      []DayStop
	Slid       []Slide
}

// DayStop is one pool's visit on a day.
type DayStop struct {
	Pool string
	Base float64
	Due  []upkeep.Due
}

// Slide is work that a full day pushed to the pool's next visit.
type Slide struct {
	Pool string
	Due  upkeep.Due
	To   time.Time
	Why  string
}

// DriveMinutes is what the way between two stops takes, until a road table says
// better (ours: the demo town's mean).
const DriveMinutes = 9

// Plan lays routes out as days up to a horizon. On a day over its limit the work
// with the least chance of harm slides to the pool's next visit, one piece after
// the other until the day fits or only stops are left; work that nobody could do
// later within the horizon stays.
func Plan(routes []Route, limit float64, until time.Time) []Day {
	type key struct {
		technician string
		date       time.Time
	}
	at := make([][]int, len(routes))
	days := map[key][]int{} // routes by day
	for r := range routes {
		at[r] = append([]int(nil), routes[r].At...)
		for _, v := range routes[r].Visits {
			if v.Before(until) {
				k := key{routes[r].Technician, dateOf(v)}
				days[k] = append(days[k], r)
			}
		}
	}
	keys := make([]key, 0, len(days))
	for k := range days {
		keys = append(keys, k)
	}
	sort.Slice(keys, func(a, b int) bool {
		if !keys[a].date.Equal(keys[b].date) {
			return keys[a].date.Before(keys[b].date)
		}
		return keys[a].technician < keys[b].technician
	})
	var out []Day
	for _, k := range keys {
		d := Day{Technician: k.technician, Date: k.date, Limit: limit}
		type piece struct{ route, due, visit int }
		var here []piece
		for _, r := range days[k] {
			d.Minutes += routes[r].Base + DriveMinutes
			for i, v := range at[r] {
				if v >= 0 && dateOf(routes[r].Visits[v]).Equal(k.date) {
					here = append(here, piece{r, i, v})
					d.Minutes += routes[r].Due[i].Minutes
				}
			}
		}
		d.Minutes -= DriveMinutes // none after the last
		sort.SliceStable(here, func(a, b int) bool {
			return routes[here[a].route].Due[here[a].due].Harm < routes[here[b].route].Due[here[b].due].Harm
		})
		for _, p := range here {
			r := &routes[p.route]
			if d.Minutes <= limit {
				break
			}
			if p.visit+1 >= len(r.Visits) {
				continue
			}
			due := r.Due[p.due]
			at[p.route][p.due] = p.visit + 1
			d.Minutes -= due.Minutes
			d.Slid = append(d.Slid, Slide{r.Pool, due, r.Visits[p.visit+1],
				fmt.Sprintf("the day was over its %.0f minutes; of its work this does the least harm by waiting (%.0f %%)", limit, 100*due.Harm)})
		}
		for _, r := range days[k] {
			s := DayStop{Pool: routes[r].Pool, Base: routes[r].Base}
			for i, v := range at[r] {
				if v >= 0 && dateOf(routes[r].Visits[v]).Equal(k.date) {
					s.Due = append(s.Due, routes[r].Due[i])
				}
			}
			d.Stops = append(d.Stops, s)
		}
		out = append(out, d)
	}
	return out
}

func dateOf(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d, 0, 0, 0, 0, t.Location())
}
