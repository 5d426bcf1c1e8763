package lap

import (
	"slices"
	"sort"
	"time"

	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// Route is one pool's visits to come and the work that goes with them.
type Route struct {
	Pool   string
	Base   float64 // minutes of a visit without any due work
	Order  int     // its place in the day's given order
	Place  *Place  // nil when nobody said where
	Visits []Visit
	Due    []upkeep.Due
	At     []int // visit of each piece of Due, −1 for none (see upkeep.AtVisit)
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
	Pool   string
	Visit  Visit
	Base   float64
	Due    []upkeep.Due
	Arrive time.Time
	Drive  float64 // minutes from the stop before
}

// Minutes is what the stop takes with its due work.
func (s *DayStop) Minutes() float64 {
	sum := s.Base
	for i := range s.Due {
		sum += s.Due[i].Minutes
	}
	return sum
}

// Slide is work that a full day pushed to the pool's next visit.
type Slide struct {
	Pool string
	Due  upkeep.Due
	To   time.Time
	Why  words.Message
}

// DriveMinutes is what the way between two stops takes where nobody said where
// they are (ours).
const DriveMinutes = 9

// Terms are what days are planned by.
type Terms struct {
	Limit float64   // minutes of a day
	Until time.Time // days before it are planned
	Roads Roads     // nil for Straight
}

// Drive is the minutes between two stops, DriveMinutes where one's place is not
// known.
func (t *Terms) Drive(from, to *Place) float64 {
	if from == nil || to == nil {
		return DriveMinutes
	}
	if t.Roads == nil {
		return Straight(*from, *to).Minutes
	}
	return t.Roads(*from, *to).Minutes
}

// piece is a piece of due work on a day.
type piece struct{ route, due, visit int }

// Plan lays routes out as days up to a horizon. On a day over its limit the work
// with the least chance of harm slides to the pool's next visit, one piece after
// the other until the day fits or only stops and work that somebody put on that
// day are left; work that nobody could do later within the horizon stays.
func Plan(routes []Route, t Terms) []Day {
	// A day is its date: two times of one zone need not share its pointer.
	type key struct {
		date       int // year, month and day in one figure
		technician string
	}
	dates := map[int]time.Time{}
	type call struct{ route, visit int }
	days := map[key][]call{}
	work := make(map[call][]int, len(routes)) // due work by visit
	for r := range routes {
		for v, planned := range routes[r].Visits {
			if planned.At.Before(t.Until) {
				y, m, d := planned.At.Date()
				k := key{10000*y + 100*int(m) + d, planned.Technician}
				if _, ok := dates[k.date]; !ok {
					dates[k.date] = dateOf(planned.At)
				}
				days[k] = append(days[k], call{r, v})
			}
		}
		for i, v := range routes[r].At {
			if v >= 0 {
				work[call{r, v}] = append(work[call{r, v}], i)
			}
		}
	}
	keys := make([]key, 0, len(days))
	for k := range days {
		keys = append(keys, k)
	}
	sort.Slice(keys, func(a, b int) bool {
		if keys[a].date != keys[b].date {
			return keys[a].date < keys[b].date
		}
		return keys[a].technician < keys[b].technician
	})
	out := make([]Day, 0, len(keys))
	for _, k := range keys {
		calls := days[k]
		sort.SliceStable(
			calls,
			func(a, b int) bool { return routes[calls[a].route].Order < routes[calls[b].route].Order },
		)
		date := dates[k.date]
		d := Day{Technician: k.technician, Date: date, Limit: t.Limit, Stops: make([]DayStop, 0, len(calls))}
		var here []piece
		for i, c := range calls {
			r := &routes[c.route]
			d.Minutes += r.Base
			if i > 0 {
				d.Minutes += t.Drive(routes[calls[i-1].route].Place, r.Place)
			}
			for _, w := range work[c] {
				here = append(here, piece{c.route, w, c.visit})
				d.Minutes += r.Due[w].Minutes
			}
		}
		sort.SliceStable(here, func(a, b int) bool {
			return routes[here[a].route].Due[here[a].due].Harm < routes[here[b].route].Due[here[b].due].Harm
		})
		for _, p := range here {
			r := &routes[p.route]
			if d.Minutes <= t.Limit {
				break
			}
			due := r.Due[p.due]
			if p.visit+1 >= len(r.Visits) || due.Planned != nil {
				continue
			}
			from, to := call{p.route, p.visit}, call{p.route, p.visit + 1}
			work[from] = slices.DeleteFunc(work[from], func(i int) bool { return i == p.due })
			work[to] = append(work[to], p.due)
			d.Minutes -= due.Minutes
			d.Slid = append(d.Slid, Slide{r.Pool, due, r.Visits[p.visit+1].At,
				words.Of("lap.the-day-was-over-its", "limit", words.ND(t.Limit, 0), "harm", words.Share(due.Harm))})
		}
		at := time.Date(date.Year(), date.Month(), date.Day(), DayStarts, 0, 0, 0, date.Location())
		for i, c := range calls {
			r := &routes[c.route]
			s := DayStop{Pool: r.Pool, Visit: r.Visits[c.visit], Base: r.Base}
			for _, w := range work[c] {
				s.Due = append(s.Due, r.Due[w])
			}
			if i > 0 {
				s.Drive = t.Drive(routes[calls[i-1].route].Place, r.Place)
			}
			s.Arrive = at.Add(minutes(s.Drive))
			at = s.Arrive.Add(minutes(s.Minutes()))
			d.Stops = append(d.Stops, s)
		}
		out = append(out, d)
	}
	return out
}

func minutes(m float64) time.Duration { return time.Duration(m * float64(time.Minute)) }

func dateOf(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d, 0, 0, 0, 0, t.Location())
}
