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

// History is what a pool's visits say of its filter up to a time.
type History struct {
	State       State
	HadForecast bool // some observation or cleaning stands behind State
	LastCleaned *time.Time
	Cycles      []Cycle
	CycleDays   []float64 // days between cleanings
	Chemicals   *time.Time
	Points      []LoadPoint
	// Watts are the readings of power, for whoever knows the pad's model to fill in.
	Watts []WattsPoint
	// Primes and Drains are what was timed at visits.
	Primes, Drains []Timed
	// PerDay is the weighed thousand gallons a day to expect from now on, and Scale the
	// loads that they are scaled by.
	PerDay, Scale float64
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
	h := History{PerDay: exposure.PerDay(now, expectedDays)}
	walk := walkBlind
	if exposure.Sky != nil {
		walk = walkSeen
	}
	walk *= exposure.scale()
	h.Scale = exposure.scale()
	var present Cycle
	start := Unknown
	var from, until time.Time
	passed := 0.0 // from the cycle's start to until
	kgal := func(t time.Time) float64 {
		if !until.After(from) || t.Before(until) {
			until, passed = from, 0
		}
		passed += exposure.Between(until, t)
		until = t
		return passed
	}
	for _, v := range visits {
		if v.Closed.After(now) {
			break
		}
		if from.IsZero() {
			from = v.Closed
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
			present = append(present, Observation{KGal: kgal(v.Closed), Load: *v.Load})
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
		h.LastCleaned, from, present, start = &at, at, nil, AfterCleaning
		if v.After.Tells() {
			present = Cycle{{KGal: 0, Load: *v.After}}
			h.Points = append(h.Points, LoadPoint{at, v.After.Mean, v.After.SD, true, true})
		} else {
			h.Points = append(h.Points, LoadPoint{at, AfterCleaning.Mean, AfterCleaning.SD, true, false})
		}
	}
	h.HadForecast = h.LastCleaned != nil || len(present) > 0
	x := 0.0
	if !from.IsZero() {
		x = kgal(now)
	}
	growth := GrowthPrior(kind, h.Cycles, walk)
	wild := wildness(growth, h.Cycles, walk)
	h.State = Track(Belief{growth.Mean, growth.SD * math.Sqrt(wild)}, start, present, x, walk*wild)
	return h
}

// DaysSince is the days since the last cleaning, −1 without one.
func (h History) DaysSince(now time.Time) float64 {
	if h.LastCleaned == nil {
		return -1
	}
	return now.Sub(*h.LastCleaned).Hours() / 24
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
