// Package diagnosis turns readings and things seen into ranked suspects, the
// reasons for and against each, what was found wrong whatever the gauges say, and
// the next check worth its minutes.
//
// Method: Bayes over (fault, place, severity) with the filter's load as an
// unknown that every fault carries. The pad's network predicts every meter for
// every combination; the meters of one stop are read with errors of their own, now
// and then wide ones, and with errors that they share: the calibration's, the
// network's, the gauge's. Signs count by their likelihood under each fault, with the
// signs of air tied to one hidden cause. Two faults at once are rows of their own.
// The next check is the one with the largest expected fall in entropy a minute
// (after de Kleer and Williams 1987, and Heckerman, Breese and Rommelse 1995; both
// from memory), unless the trade has an order for the situation.
//
// An answer goes through values passed on: survey (what stands fixed) → hypotheses →
// tables (what each meter would say) → posterior → pairs → suspects → findings,
// evidence, next check. Numbers of the reasoning stand in numbers.go. Every sum is
// made in one order: the same case gives the same bits.
//
// The package does no I/O and keeps no state between calls.
package diagnosis

import (
	"slices"

	"fairlap/core/danger"
	"fairlap/core/fault"
	"fairlap/core/foretell"
	"fairlap/core/loads"
	"fairlap/core/misses"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// EngineVersion is stored with every diagnosis, so that a record can say which
// rules spoke. Raise it with any change of the model or of its numbers.
const EngineVersion = "4.5"

// Reading is one set of meters read in one setting of the filter valve, or in
// SpaMode. At speed 0 the pump was off, and the tank gauge says what stands there.
type Reading struct {
	pad.Reading
	Setting pad.Setting
}

// SpaMode is the setting of a reading taken on Filter with suction and return
// both on the spa.
const SpaMode pad.Setting = "spa"

// Belief is what is thought of an uncertain number.
type Belief = upkeep.Belief

// Case is everything known at a stop.
type Case struct {
	Model *plumbing.Model
	// Before is what was found and done earlier at this stop, in order. What stands
	// below it was found after the last of it.
	Before   []Stage
	Readings []Reading
	Signs    map[fault.Sign]bool // absent: not looked
	// Load is the forecast of the filter's load before today's readings.
	Load Belief
	// Priors replaces the catalogue's priors where the company knows better.
	Priors map[fault.ID]float64
	// Called tells that somebody called: the stop is no routine visit.
	Called bool
	// Heater is what the stop knows of a heater that crackled or fired; "" is nothing: a crackling
	// one counts as hot.
	Heater Heater
	// Season weighs the faults that have one; "" is not known.
	Season fault.Season
	// Open are suspects that the last visit left open: likelier by openFactor.
	Open []fault.ID
	// Worn are faults whose part is past the given share of its expected life.
	Worn map[fault.ID]float64
	// Installed are chronic findings that an inspection spoke for, in its words.
	Installed map[fault.ID]words.Message
	// Pool is the pool's volume for the chronic findings; 0 is not known.
	Pool units.Volume
}

// Heater is whether a heater still holds the heat of its fire.
type Heater string

// What is known of a heater.
const (
	HeaterHot    Heater = "hot"    // fired, and water has not yet carried its heat out
	HeaterCooled Heater = "cooled" // off, and cooled
)

// Result is a diagnosis.
type Result struct {
	// Suspects by falling probability; Healthy is one of them, two faults at once are
	// one. With Other they add up to one.
	Suspects []Suspect
	Other    float64 // something that the catalogue does not hold
	// Found is what was seen wrong: to be mended whatever the gauges say.
	Found []Found
	// Unexplained are the signs that no suspect above brings.
	Unexplained []fault.SignFact
	// Load is what is now thought of the filter's load, over all suspects.
	Load Belief
	// LoadGrid holds Load as a distribution: probability at LoadAt(i).
	LoadGrid []float64
	// Observed is what today's readings alone say of the load: the middle of it, and
	// half of what lies between 16 and 84 %, which tells how vague they are. Known is
	// false without any usable reading.
	Observed Belief
	Known    bool
	// AsFound is Observed of what was read before the filter was cleaned at this stop, of the last
	// readings at all where it was not.
	AsFound      Belief
	AsFoundKnown bool
	Kind         pad.FilterKind
	// AtLimit counts the readings of the tank gauge at their own limit, or over it.
	AtLimit  int
	Expected []Expected      // one a reading
	Next     []Check         // best first; empty when no check would change much, or a danger stands
	Chronic  []Finding       // likeliest first; those hardly likely are left out
	Alike    []words.Message // leading suspects that these readings can't tell apart
	Misfit   *Misfit         // set when the readings do not fit together
	Dangers  []danger.Danger
	Grade    *Grade // along the first reading; nil without readings
	// Changed is what was thought before the last work of this stop; nil without any.
	Changed *Changed
}

// Stopped tells that a danger stands that binds everything: nothing that runs the
// pump, resets, opens or cleans may be offered.
func (r *Result) Stopped() bool {
	for _, d := range r.Dangers {
		if d.Stop {
			return true
		}
	}
	return false
}

// Suspect is one fault that could explain what was found, or two at once.
type Suspect struct {
	Fault fault.Fault   // as it sits at its place
	Place words.Message // where, "" when there is one place or the evidence can't tell
	P     float64
	// With is the other fault of two at once, with the same P; empty for one alone.
	With     []Together
	Severity float64 // 0..1, of the step that fits best
	// Quiet is the part of P under which it does nothing to the water or the gauge: there to be
	// seen, and no cause of what the meters say.
	Quiet   float64
	Load    float64 // that fits best with it
	For     []Evidence
	Against []Evidence

	causes []cause
	fit    hypothesis // as it fits best
	table  *foretell.Table
	within [2]float64 // where in its steps, deviations
}

// Together is the other fault of two at once, and the chance of both.
type Together struct {
	Fault fault.Fault
	P     float64
}

// Expected is what a reading should have been.
type Expected struct {
	Clean plumbing.State // on the clean line
	// Spread is one standard deviation of Clean, calibration alone.
	Spread [len(pad.AllMeters)]float64
	Limit  units.Pressure // tank gauge at load 1 at this speed
}

// Diagnose weighs a case. It fails only when the pad itself can't be solved.
func Diagnose(c Case) (*Result, error) {
	now, load, changed, found, err := stages(&c)
	if err != nil {
		return nil, err
	}
	s, err := surveyed(now)
	if err != nil {
		return nil, err
	}
	s.fresh = len(c.Before) == 0
	r, p, err := s.answerTo(load)
	if err != nil {
		return nil, err
	}
	r.Changed = changed
	if r.AsFound, r.AsFoundKnown = found.load, found.known; r.Known && !found.closed {
		r.AsFound, r.AsFoundKnown = r.Observed, true
	}
	r.Dangers = s.dangers(p)
	s.explain(r, p)
	if r.Chronic, err = s.chronic(r); err != nil {
		return nil, err
	}
	s.findings(r)
	if !r.Stopped() {
		if r.Next, err = s.propose(r, p); err != nil {
			return nil, err
		}
		r.Next = slices.DeleteFunc(r.Next, func(c Check) bool {
			return c.Reading != nil && danger.Forbids(r.Dangers, c.Reading.Operation.Speed, s.ops[0].Speed)
		})
	}
	r.Misfit = s.misfit(r)
	r.Alike = s.alike(r)
	r.Grade, err = s.grade(r)
	return r, err
}

// tells is whether a reading says something of the load.
func (s *survey) tells() bool {
	for _, rd := range s.readings {
		if rd.Speed > 0 && (rd.Tank != nil || rd.Flow != nil || rd.Power != nil) {
			return true
		}
	}
	return false
}

// Observe is what readings say of the load if nothing else is amiss: for records
// taken over from elsewhere, which nobody diagnoses again. Without a usable
// reading it is as vague as the grid is wide. Errors are the solver's.
func Observe(m *plumbing.Model, readings []Reading) (Belief, error) {
	s, err := surveyed(&Case{Model: m, Readings: readings, Load: upkeep.Unknown})
	if err != nil {
		return Belief{}, err
	}
	t, err := s.teller.Under(plumbing.Effects{})
	if err != nil {
		return Belief{}, err
	}
	w := weighed{
		hypothesis: hypothesis{cause: cause{fault: &fault.Catalogue[0]}},
		table:      t,
		like:       make([]float64, loads.N),
	}
	e := new(misses.Errors)
	for l := range w.like {
		w.like[l] = s.metersLog(e, &w.hypothesis, t, loads.Grid[l])
	}
	_, alone := (&posterior{}).spread(s, &w)
	return loads.Middle(alone[:]), nil
}
