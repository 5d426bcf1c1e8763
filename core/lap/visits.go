package lap

import (
	"slices"
	"time"
)

// DayMinutes is a technician's day, and DayStarts the hour at which it begins in
// the place's own time (common practice).
const (
	DayMinutes = 450
	DayStarts  = 8
)

// late is the hour from which a day's visits count as over.
const late = 18

// MovableDays is how far from its own day a visit may be moved: further off it is
// another one (ours).
const MovableDays = 60

// Weekly is how a pool is seen: each week on one day by one technician.
type Weekly struct {
	Weekday    time.Weekday
	Technician string
	Seen       time.Time // the last visit; zero when there was none
}

// Move puts one planned visit on another day, or gives it to somebody else for
// once. The last one of a planned day counts; one without To takes the day back.
type Move struct {
	On         time.Time // the day it was planned on
	To         time.Time
	Technician string // "" is the usual one
}

// Visit is a planned one.
type Visit struct {
	On         time.Time // midnight of the day that the pool's weekday gives
	At         time.Time // when it is to be, at nine in the morning
	Technician string
}

// Moved tells a visit that is not on its own day, or not by the usual hand.
func (v Visit) Moved(usual string) bool { return !sameDate(v.At, v.On) || v.Technician != usual }

// Planned are a pool's next n visits in the order of their days, from now's day
// on, in now's zone. A day on which the pool was seen already, or that is nearly
// over, is none of them.
func Planned(w Weekly, moves []Move, now time.Time, n int) []Visit {
	y, m, d := now.Date()
	over := 0 // the first day that can still be
	if (!w.Seen.IsZero() && dateOf(w.Seen.In(now.Location())).Equal(dateOf(now))) || now.Hour() >= late {
		over = 1
	}
	first := time.Date(y, m, d+over, 0, 0, 0, 0, now.Location())
	var out []Visit
	// A visit whose day is past may have been moved to one still to come.
	const back = MovableDays/7 + 1
	start := d + (int(w.Weekday)-int(now.Weekday())+7)%7 - 7*back
	for i := range back + n + 2 {
		v := Visit{On: time.Date(y, m, start+7*i, 0, 0, 0, 0, now.Location()), Technician: w.Technician}
		at := v.On
		for _, mv := range moves {
			if !sameDate(mv.On, v.On) {
				continue
			}
			at, v.Technician = v.On, w.Technician
			if !mv.To.IsZero() {
				ty, tm, td := mv.To.Date()
				at = time.Date(ty, tm, td, 0, 0, 0, 0, now.Location())
			}
			if mv.Technician != "" {
				v.Technician = mv.Technician
			}
		}
		if at.Before(first) {
			continue
		}
		v.At = time.Date(at.Year(), at.Month(), at.Day(), 9, 0, 0, 0, now.Location())
		out = append(out, v)
	}
	slices.SortStableFunc(out, func(a, b Visit) int { return a.At.Compare(b.At) })
	out = slices.CompactFunc(out, func(a, b Visit) bool { return a.At.Equal(b.At) }) // one visit a day
	return out[:min(n, len(out))]
}

func sameDate(a, b time.Time) bool {
	ay, am, ad := a.Date()
	by, bm, bd := b.Date()
	return ay == by && am == bm && ad == bd
}
