package upkeep

import (
	"math"
	"slices"
	"time"

	"fairlap/core/pad"
)

// vagueObservation is the deviation over which a load on record says nothing, unless
// it says "over the limit" all the same.
const vagueObservation = 0.6

// Tells says whether a load on record says anything.
func (b *Belief) Tells() bool { return b != nil && (b.SD < vagueObservation || b.Mean-b.SD > 1) }

// Visit is what a visit says of the filter.
type Visit struct {
	Arrived, Closed time.Time
	Load            *Belief // as found; nil when no reading could tell
	Cleaned         bool
	After           *Belief    // read right after the cleaning
	Chemicals       *time.Time // when any went in
	Prime, Drain    float64    // seconds that the pot took to fill and an element to drain; 0: not timed
}

// Filter is a filter as it stands at a moment.
type Filter struct {
	State       State
	At          time.Time // the moment; zero where nothing was ever seen of it
	HadForecast bool      // some observation or cleaning stands behind State
	LastCleaned *time.Time
	Chemicals   *time.Time
	// PerDay is the weighed thousand gallons a day to expect from the moment on, and Scale
	// the loads that they are scaled by.
	PerDay, Scale float64
}

// History is what a pool's visits say of its filter up to a time.
type History struct {
	Filter
	Cycles    []Cycle
	CycleDays []float64 // days between cleanings
	Points    []LoadPoint
	// Watts are the readings of power, for whoever knows the pad's model to fill in.
	Watts []WattsPoint
	// Primes and Drains are what was timed at visits.
	Primes, Drains []Timed
}

// expectedDays is how far ahead PerDay looks.
const expectedDays = 14

// LoadPoint is one load on the record.
type LoadPoint struct {
	At      time.Time `json:"at"`
	Load    float64   `json:"load"`
	SD      float64   `json:"sd"`
	Cleaned bool      `json:"cleaned" doc:"a cleaning ended here"`
	After   bool      `json:"after" doc:"read right after the cleaning"`
}

// Follow runs a pool's visits (oldest first) up to a time; load grows with the
// exposure between them.
func Follow(visits []Visit, kind pad.FilterKind, exposure *Exposure, now time.Time) History {
	seen := visits
	if i := slices.IndexFunc(visits, func(v Visit) bool { return v.Closed.After(now) }); i >= 0 {
		seen = visits[:i]
	}
	h := Settle(seen, kind, exposure)
	h.Filter = h.On(exposure, now)
	return h
}

// On carries a filter on to a later moment.
func (f Filter) On(exposure *Exposure, now time.Time) Filter {
	f.PerDay = exposure.PerDay(now, expectedDays)
	if !f.At.IsZero() && now.After(f.At) {
		f.State, f.At = f.State.After(exposure.Between(f.At, now)), now
	}
	return f
}

// Settle runs a pool's visits (oldest first) and leaves its filter as the last of them
// that said anything of its load, or cleaned it, did: what comes of that, whatever the
// day, On tells.
func Settle(visits []Visit, kind pad.FilterKind, exposure *Exposure) History {
	walk := walkBlind
	if exposure.Sky != nil {
		walk = walkSeen
	}
	walk *= exposure.scale()
	h := History{Filter: Filter{Scale: exposure.scale()}}
	var present Cycle
	start := Unknown
	var from time.Time
	passed := 0.0 // from the cycle's start to h.At
	for _, v := range visits {
		if from.IsZero() {
			from, h.At = v.Closed, v.Closed
		}
		if v.Chemicals != nil {
			h.Chemicals = v.Chemicals
		}
		if v.Prime > 0 {
			h.Primes = append(h.Primes, Timed{v.Closed, v.Prime})
		}
		if v.Drain > 0 {
			h.Drains = append(h.Drains, Timed{v.Closed, v.Drain})
		}
		if v.Load.Tells() {
			if v.Closed.Before(h.At) {
				h.At, passed = from, 0
			}
			passed += exposure.Between(h.At, v.Closed)
			h.At = v.Closed
			present = append(present, Observation{KGal: passed, Load: *v.Load})
			h.Points = append(h.Points, LoadPoint{v.Arrived, v.Load.Mean, v.Load.SD, false, false})
		}
		if !v.Cleaned {
			continue
		}
		if h.LastCleaned != nil {
			h.Cycles = append(h.Cycles, present)
			h.CycleDays = append(h.CycleDays, v.Closed.Sub(*h.LastCleaned).Hours()/24)
		}
		at := v.Closed
		h.LastCleaned, from, h.At, passed, present, start = &at, at, at, 0, nil, AfterCleaning
		if v.After.Tells() {
			present = Cycle{{KGal: 0, Load: *v.After}}
			h.Points = append(h.Points, LoadPoint{at, v.After.Mean, v.After.SD, true, true})
		} else {
			h.Points = append(h.Points, LoadPoint{at, AfterCleaning.Mean, AfterCleaning.SD, true, false})
		}
	}
	h.HadForecast = h.LastCleaned != nil || len(present) > 0
	growth := GrowthPrior(kind, h.Cycles, walk)
	wild := wildness(growth, h.Cycles, walk)
	h.State = filter(Belief{growth.Mean, growth.SD * math.Sqrt(wild)}, start, present, walk*wild)
	return h
}

// DaysSince is the days since the last cleaning, −1 without one.
func (f Filter) DaysSince(now time.Time) float64 {
	if f.LastCleaned == nil {
		return -1
	}
	return now.Sub(*f.LastCleaned).Hours() / 24
}

// UsualDays is the median length of the pool's past cycles; 0 when there were none.
func (h History) UsualDays() float64 {
	n := len(h.CycleDays)
	if n == 0 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(h.CycleDays))
	return sorted[n/2]
}

// DaysLeft is until even odds of passing the limit, in half days; −1 for not in sight, or not
// known.
func (f *Filter) DaysLeft() float64 {
	if !f.HadForecast {
		return -1
	}
	course := f.State.Course(f.State.LoadBelief(), f.PerDay)
	return course.Cross(0.5)
}

// OverAt is when even odds of passing the limit are reached, to the moment: a list sorted by it
// is one sorted by DaysLeft. nil for not in sight, or not known.
func (f *Filter) OverAt(now time.Time) *time.Time {
	days := (1 - f.State.Load) / (f.State.Growth * f.PerDay)
	switch {
	case !f.HadForecast:
		return nil
	case f.State.Load >= 1:
		return &now
	case !(days <= horizon): // it may stand still, too
		return nil
	}
	at := now.Add(daysOf(days))
	return &at
}
