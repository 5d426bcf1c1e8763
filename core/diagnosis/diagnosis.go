// Package diagnosis turns readings and things seen into ranked suspects, the
// reasons for and against each, and the next check worth its minutes.
//
// Method: Bayes over (fault, place, severity) with the filter's load as an
// unknown that every fault carries. The pad's network predicts every meter for
// every combination; meters are read with heavy-tailed noise around that; signs
// count by their likelihood under each fault, with the signs of air tied to one
// hidden cause. The next check is the one with the largest expected fall in
// entropy a minute (after de Kleer and Williams 1987, and Heckerman, Breese and
// Rommelse 1995; both from memory).
//
// The package does no I/O and keeps no state between calls.
package diagnosis

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
)

// EngineVersion is stored with every diagnosis, so that a record can say which
// rules spoke. Raise it with any change of the model or of its numbers.
const EngineVersion = "3.1"

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
	Model    *pad.Model
	Readings []Reading
	Signs    map[fault.Sign]bool // absent: not looked
	// Load is the forecast of the filter's load before today's readings.
	Load Belief
	// Priors replaces the catalogue's priors where the company knows better.
	Priors map[fault.ID]float64
	// Season weighs the faults that have one; "" is not known.
	Season fault.Season
	// Open are suspects that the last visit left open: likelier by openFactor.
	Open []fault.ID
	// Worn are faults whose part is past the given share of its expected life.
	Worn map[fault.ID]float64
	// Installed are chronic findings that an inspection spoke for, in its words.
	Installed map[fault.ID]string
	// Pool is the pool's volume for the chronic findings; 0 is not known.
	Pool units.Volume
}

// Result is a diagnosis.
type Result struct {
	// Suspects by falling probability; Healthy is one of them. With Other they add
	// up to one, and to more by the chance of two at once.
	Suspects []Suspect
	Other    float64 // something that the catalogue does not hold
	// Load is what is now thought of the filter's load, over all suspects.
	Load Belief
	// LoadGrid holds Load as a distribution: probability at LoadAt(i).
	LoadGrid []float64
	// Observed is what today's readings alone say of the load. Its SD tells how
	// vague they are; Known is false without any usable reading.
	Observed Belief
	Known    bool
	Expected []Expected // one a reading
	Next     []Check    // best first; empty when no check would change much
	Chronic  []Finding  // likeliest first; those hardly likely are left out
	Alike    []string   // leading suspects that these readings can't tell apart
	Misfit   *Misfit    // set when the readings do not fit together
	Dangers  []Danger
	Grade    *Grade // along the first reading; nil without readings
}

// Observe is what readings say of the load if nothing else is amiss: for records
// taken over from elsewhere, which nobody diagnoses again. Without a usable
// reading it is as vague as the grid is wide. Errors are the solver's.
func Observe(m *pad.Model, readings []Reading) (Belief, error) {
	e, err := prepared(Case{Model: m, Readings: readings, Load: upkeep.Unknown})
	if err != nil {
		return Belief{}, err
	}
	if err := e.addFault(0, fault.Catalogue[0], 0); err != nil {
		return Belief{}, err
	}
	var like, alone [loadN]float64
	for l := range like {
		like[l] = e.metersLog(&e.variants[0], LoadAt(l))
	}
	spread(like[:], like[:], alone[:], alone[:])
	return belief(alone[:]), nil
}

// Suspect is one fault that could explain what was found.
type Suspect struct {
	Fault fault.Fault
	Place string // where, "" when there is one place or the evidence can't tell
	P     float64
	// With are the faults that may be there at the same time, each with the chance
	// of both; P holds them too.
	With     []Together
	Severity float64 // 0..1, of the step that fits best
	Load     float64 // that fits best with it
	For      []Evidence
	Against  []Evidence

	effects pad.Effects
}

// Expected is what a reading should have been.
type Expected struct {
	Clean pad.State // on the clean line
	// Spread is one standard deviation of Clean, calibration alone.
	Spread [len(pad.AllMeters)]float64
	Limit  units.Pressure // tank gauge at load 1 at this speed
}

// Misfit names the reading that would have to be wrong.
type Misfit struct {
	Reading int
	Meter   pad.Meter
	Fits    float64 // what the best suspect would have it read, SI
	Sigmas  float64
}

// Danger is a state to make safe before any thinking.
type Danger struct {
	Code string `json:"code"`
	Says string `json:"says"`
	Stop bool   `json:"stop"`
}

// vesselCeiling is the vessel's hard limit (handbook, common practice; the label rules).
var vesselCeiling = units.PSI(50)

// conditionSays are the named conditions of a pad whose handles, as recorded,
// leave the water no path.
var conditionSays = map[hydraulics.Condition]Danger{
	hydraulics.DeadHead:  {"dead-head", "Stop: with the handles as recorded the pump has no way out (dead head). Never start it so; pump off, then read every return handle.", true},
	hydraulics.DrySource: {"dry", "Stop: with the handles as recorded the pump has no open suction and would run dry. Pump off, then read every suction handle.", true},
	hydraulics.NoPath:    {"no-path", "Stop: with the handles as recorded the water has no path in or out. Pump off, then read every handle.", true},
}

func (e *engine) dangers() []Danger {
	c := &e.c
	var out []Danger
	for _, f := range fault.Signs {
		if f.Danger != "" && c.Signs[f.ID] {
			out = append(out, Danger{string(f.ID), f.Danger, true})
		}
	}
	// A filter valve on Closed or Winter with the pump running.
	if v := e.best[indexOf(fault.ValvePosition)]; v >= 0 && e.faultPost[e.variants[v].fault] > 0.5 && c.running() {
		if set := e.variants[v].effects.Setting; !set.MayRun() && set != "" {
			out = append(out, Danger{"never-run", "Stop: all points to the filter valve on Closed with the pump running (dead head). Pump off now; minutes of this melt fittings or burst parts.", true})
		}
	}
	if d, ok := conditionSays[e.condition]; ok {
		out = append(out, d)
	}
	worst := units.Pressure(0)
	for _, r := range c.Readings {
		if r.Tank != nil && *r.Tank > worst {
			worst = *r.Tank
		}
	}
	switch {
	case worst >= vesselCeiling:
		out = append(out, Danger{"tank-over-vessel", "Stop: the tank is at 50 psi or more. Pump off, stand clear of band and lid, open the bleed slowly. The tank's label rules.", true})
	case worst >= pad.ServiceCeiling:
		out = append(out, Danger{"tank-over-service", "The tank is over 30 psi, the usual ceiling in service. Slow or stop the pump before anything else; the tank's label rules.", false})
	}
	return out
}

func (c *Case) running() bool {
	for _, r := range c.Readings {
		if r.Speed > 0 {
			return true
		}
	}
	return false
}

func indexOf(id fault.ID) int {
	for i := range fault.Catalogue {
		if fault.Catalogue[i].ID == id {
			return i
		}
	}
	return 0
}

// Diagnose weighs a case. It fails only when the pad itself can't be solved.
func Diagnose(c Case) (*Result, error) {
	e, err := newEngine(c)
	if err != nil {
		return nil, err
	}
	e.weigh()
	if err := e.pairs(); err != nil {
		return nil, err
	}
	r := &Result{Expected: e.expected, Dangers: e.dangers()}
	e.rank(r)
	e.joinPairs(r)
	e.loads(r)
	e.explain(r)
	if err := e.propose(r); err != nil {
		return nil, err
	}
	e.misfit(r)
	e.alike(r)
	if err := e.chronic(r); err != nil {
		return nil, err
	}
	if err := e.grade(r); err != nil {
		return nil, err
	}
	return r, nil
}

// Grid of loads on which the posterior is kept.
const (
	loadLow  = -0.2
	loadStep = 0.05
	loadN    = 61
)

// LoadAt is the load of a grid entry.
func LoadAt(i int) float64 { return loadLow + loadStep*float64(i) }

// loadLimit is the first grid entry at or over the cleaning limit.
var loadLimit = int(math.Round((1 - loadLow) / loadStep))
