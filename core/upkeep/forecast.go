// Package upkeep answers when to do what: how loaded the filter is, when it will
// pass its limit, whether to clean today or at a later visit, and what holds
// forbid meanwhile. It knows loads and volumes, not networks or screens.
//
// Load between cleanings is a straight line in the water filtered, with a random
// walk for storms and bathers: a two-state Kalman filter (load, growth), robust
// by widening a reading that surprises (after West 1981, from memory). A pool's
// past cycles are the prior for its next one; a new pool takes its filter
// kind's.
package upkeep

import (
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"fairlap/core/pad"
)

// Belief is a mean and a standard deviation.
type Belief struct {
	Mean float64 `json:"mean"`
	SD   float64 `json:"sd"`
}

// Observation is a load read after a volume filtered since the last cleaning.
type Observation struct {
	KGal float64 // thousand gallons filtered since the cleaning
	Load Belief
}

// Cycle is the observations between two cleanings, in the order of KGal.
type Cycle []Observation

// Growth of load per thousand gallons by filter kind, before a pool has shown
// its own (ours, from common practice: sand 7–14 days, DE about four weeks,
// cartridge 4–6 weeks at some 25,000 gal a day).
var kindGrowth = map[pad.FilterKind]Belief{
	pad.Sand: {0.0036, 0.0022}, pad.Cartridge: {0.0011, 0.0007}, pad.DE: {0.0014, 0.0009},
}

// Where a cycle starts.
var (
	// AfterCleaning is the load that a usual cleaning leaves.
	AfterCleaning = Belief{0.05, 0.08}
	// Unknown is the load of a filter that nobody has spoken of.
	Unknown = Belief{0.5, 0.45}
)

const (
	// walkSeen and walkBlind are the variance of load per thousand gallons that no
	// growth explains, with the weather known and without: a storm that nobody saw
	// lies in the second.
	walkSeen, walkBlind = 0.00003, 0.00012
	// cycleSpread is how much a pool's cycles differ, as a share of their growth.
	cycleSpread = 0.25
	// surprise is how many deviations a reading may be off before it is widened.
	surprise = 2.5
	// wildPrior is how many readings the allowance itself is worth.
	wildPrior = 20.0
)

// State is what is known of a filter: its load now and its growth per thousand
// gallons, jointly normal.
type State struct {
	Load, Growth float64
	VarLoad      float64
	VarGrowth    float64
	Cov          float64
	// Walk is the variance per thousand gallons that no growth explains; 0 stands for
	// that without a known weather.
	Walk float64
}

func (s *State) walk() float64 {
	if s.Walk > 0 {
		return s.Walk
	}
	return walkBlind
}

// GrowthPrior gives what a pool's past cycles say of its next one's growth.
func GrowthPrior(kind pad.FilterKind, past []Cycle, walk float64) Belief {
	base := kindGrowth[kind]
	var slopes, weights []float64
	for _, c := range past {
		if len(c) < 2 || c[len(c)-1].KGal-c[0].KGal < 5 {
			continue
		}
		s := filter(Belief{base.Mean, 1.5 * base.SD}, AfterCleaning, c, walk)
		slopes = append(slopes, s.Growth)
		weights = append(weights, 1/(s.VarGrowth+0.1*base.SD*base.SD))
	}
	if len(slopes) == 0 {
		return base
	}
	// The kind's own belief counts as one more cycle.
	slopes, weights = append(slopes, base.Mean), append(weights, 1/(base.SD*base.SD))
	mean := stat.Mean(slopes, weights)
	// Cycles of one pool differ by about a quarter (ours) until it shows otherwise.
	between := cycleSpread * cycleSpread * mean * mean
	if len(slopes) > 4 {
		between = stat.Variance(slopes[:len(slopes)-1], nil)
	}
	total := 0.0
	for _, w := range weights {
		total += w
	}
	return Belief{mean, math.Sqrt(between + 1/total)}
}

// wildness is how far a pool's past readings strayed from what was forecast, as a
// share of what was allowed for: a calm pool's forecasts may be narrower, a wild
// one's must be wider. It counts as if wildPrior readings had strayed as allowed
// (variance matching on innovations, after Mehra 1970, from memory).
func wildness(growth Belief, past []Cycle, walk float64) float64 {
	sum, n := wildPrior, wildPrior
	for _, c := range past {
		s := begin(growth, AfterCleaning, walk)
		at := 0.0
		for i, o := range c {
			s = s.After(math.Max(0, o.KGal-at))
			at = math.Max(at, o.KGal)
			if i > 0 {
				d := o.Load.Mean - s.Load
				sum += math.Min(d*d/(s.VarLoad+o.Load.SD*o.Load.SD), surprise*surprise)
				n++
			}
			s.see(o.Load)
		}
	}
	return sum / n
}

func begin(growth, start Belief, walk float64) State {
	return State{
		Load:      start.Mean,
		Growth:    growth.Mean,
		VarLoad:   start.SD * start.SD,
		VarGrowth: growth.SD * growth.SD,
		Walk:      walk,
	}
}

// filter runs a cycle from its start and gives the state at its last observation.
func filter(growth, start Belief, c Cycle, walk float64) State {
	s := begin(growth, start, walk)
	at := 0.0
	for _, o := range c {
		s = s.After(math.Max(0, o.KGal-at))
		at = math.Max(at, o.KGal)
		s.see(o.Load)
	}
	return s
}

// After carries a state over kgal more of filtered water.
func (s State) After(kgal float64) State {
	return State{
		Load: s.Load + s.Growth*kgal, Growth: s.Growth,
		VarLoad:   s.VarLoad + 2*kgal*s.Cov + kgal*kgal*s.VarGrowth + s.walk()*kgal,
		VarGrowth: s.VarGrowth, Cov: s.Cov + kgal*s.VarGrowth, Walk: s.Walk,
	}
}

// see takes a reading in.
func (s *State) see(o Belief) {
	noise := math.Max(o.SD*o.SD, 1e-6)
	innovation := o.Mean - s.Load
	total := s.VarLoad + noise
	if z2 := innovation * innovation / total; z2 > surprise*surprise {
		total *= z2 / (surprise * surprise)
	}
	kLoad, kGrowth := s.VarLoad/total, s.Cov/total
	s.Load += kLoad * innovation
	s.Growth = math.Max(s.Growth+kGrowth*innovation, 0.05*math.Abs(s.Growth))
	s.VarGrowth -= kGrowth * s.Cov
	s.Cov *= 1 - kLoad
	s.VarLoad *= 1 - kLoad
}

// LoadBelief is the state's load. Past its limit a filter passes less and less water, so
// that a guess grows slower and slower and ends in "over, how far is not known".
func (s State) LoadBelief() Belief {
	sd := math.Sqrt(s.VarLoad)
	if s.Load > 1 {
		sd = math.Max(sd, mostOver/2)
	}
	return Belief{saturated(s.Load, 1), sd}
}

// Expected is the load as every list and page tells it before anything is read.
func (s State) Expected() float64 { return math.Max(0, s.LoadBelief().Mean) }

// saturated is a load as it is told: over the limit, or over what was read if that is more, it
// nears mostOver and never passes it. It is monotone, so that odds of passing the limit
// and quantiles go through it unchanged.
func saturated(load, from float64) float64 {
	if load <= from {
		return load
	}
	return from + mostOver*(1-math.Exp((from-load)/mostOver))
}

// mostOver is how far over its limit a guess may put a filter (ours: past it the pump
// moves so little that the dirt hardly grows).
const mostOver = 0.5

// ChancePast is the chance that the load is over 1 after kgal more, when today's
// load has the given distribution (at loadAt(i), weights adding to one) instead
// of the state's own.
func (s State) ChancePast(loads []float64, loadAt func(int) float64, kgal float64) float64 {
	p := 0.0
	for i, w := range loads {
		p += w * s.PastFrom(loadAt(i), kgal)
	}
	return p
}

// PastFrom is the chance that a load known exactly is over 1 after kgal more.
func (s State) PastFrom(load, kgal float64) float64 {
	sd := math.Sqrt(math.Max(1e-6, kgal*kgal*s.VarGrowth+s.walk()*kgal))
	return distuv.UnitNormal.CDF((load + s.Growth*kgal - 1) / sd)
}

// Forecast is the load's predictive distribution day by day and when it passes
// its limit.
type Forecast struct {
	Days []DayLoad `json:"days"`
	// Cross10, Cross50 and Cross90 are days from now until the load passes 1 with
	// 10, 50 and 90 % probability; −1 beyond the horizon.
	Cross10 float64 `json:"cross10"`
	Cross50 float64 `json:"cross50"`
	Cross90 float64 `json:"cross90"`
}

// DayLoad is one day of a Forecast.
type DayLoad struct {
	Day  float64 `json:"day"`
	P10  float64 `json:"p10"`
	P50  float64 `json:"p50"`
	P90  float64 `json:"p90"`
	Past float64 `json:"past"` // chance of being over 1
}

// horizon is how far a forecast looks, days.
const horizon = 120

// Course is how a load goes on from today: its distribution on any day to come.
type Course struct {
	state     State
	today     Belief
	perDay    float64 // thousand gallons
	cov, knee float64
}

// Course goes on from today's load at kgalPerDay.
func (s State) Course(today Belief, kgalPerDay float64) Course {
	c := Course{state: s, today: today, perDay: kgalPerDay, knee: math.Max(1, today.Mean)}
	if s.VarLoad > 0 { // a narrower load today carries its share of the covariance
		c.cov = s.Cov * math.Min(1, today.SD*today.SD/s.VarLoad)
	}
	return c
}

// on is the load's mean and deviation after some days.
func (c *Course) on(days float64) (mean, sd float64) {
	k, s := c.perDay*days, &c.state
	return c.today.Mean + s.Growth*k, math.Sqrt(
		math.Max(1e-9, c.today.SD*c.today.SD+2*k*c.cov+k*k*s.VarGrowth+s.walk()*k),
	)
}

// Past is the chance of being over 1 after some days.
func (c *Course) Past(days float64) float64 {
	mean, sd := c.on(days)
	return distuv.UnitNormal.CDF((mean - 1) / math.Max(sd, 1e-6))
}

// Cross is the first half day on which the load has passed 1 with a probability; −1 beyond
// the horizon.
func (c *Course) Cross(probability float64) float64 {
	z := distuv.UnitNormal.Quantile(probability)
	for d := 0.0; d <= horizon; d += 0.5 {
		if mean, sd := c.on(d); (mean-1)/math.Max(sd, 1e-6) >= z {
			return d
		}
	}
	return -1
}

// day is one day of the forecast.
func (c *Course) day(d float64) DayLoad {
	const z = 1.2815515655446004 // 90 % point of the normal
	m, sd := c.on(d)
	return DayLoad{d, saturated(m-z*sd, c.knee), saturated(m, c.knee), saturated(m+z*sd, c.knee), c.Past(d)}
}

// Due is the day until which a cleaning can wait: the first from which one made a
// visit before would have paid; −1 when none within the horizon.
func (c *Course) Due(s *Settings) int {
	starved := 0.0
	for i := range horizon + 1 {
		past := c.Past(float64(i))
		mean, _ := c.on(float64(max(0, i-daysBetween)))
		if s.Pays(past, starved+past, saturated(mean, c.knee)) {
			return i
		}
		starved += past
	}
	return -1
}

// Ahead forecasts from today's load for days at kgalPerDay.
func (s State) Ahead(today Belief, kgalPerDay float64, days int) Forecast {
	c := s.Course(today, kgalPerDay)
	f := Forecast{Cross10: c.Cross(0.1), Cross50: c.Cross(0.5), Cross90: c.Cross(0.9)}
	for d := 0; d <= days; d++ {
		f.Days = append(f.Days, c.day(float64(d)))
	}
	return f
}

// daysBetween are those from one visit to the next.
const daysBetween = 7
