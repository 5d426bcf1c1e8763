// Package plumbing is a described pad as a network of water: solved at any speed, setting
// and fault, calibrated on its clean line, and what its meters would read. Method: the
// handbook; the solver is core/hydraulics.
package plumbing

import (
	"fmt"
	"math"
	"sync"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Parameters scale a document's nominal numbers to the pad as it really is.
// Each is 1 for an untouched catalogue description.
type Parameters struct {
	Suction, Return, Media, Head float64
	Idle, Base, PerFlow          float64 // wire power
}

// parameterCount is the number of fields of Parameters.
const parameterCount = 7

func (p *Parameters) fields() [parameterCount]*float64 {
	return [...]*float64{&p.Suction, &p.Return, &p.Media, &p.Head, &p.Idle, &p.Base, &p.PerFlow}
}

// Effects are what load and a fault change on a pad. The zero value is a sound,
// clean pad. Restrictions are given as extra head lost at the element's own
// clean flow at top speed, in m, so that a number means the same on any pad.
type Effects struct {
	Load         float64 // filter load: 0 clean, 1 at the cleaning limit
	Basket       float64 // m
	SuctionLine  int     // index of the line that SuctionExtra and SuctionShut touch
	SuctionExtra float64 // m
	SuctionShut  bool
	ReturnLine   int // index, or −1 for the common return run
	ReturnExtra  float64
	HeadLost     float64 // share of pump head, 0..1
	CapacityLost float64 // share of pump capacity, 0..1
	Air          float64 // share of air in the water at top speed, 0..1
	AirSteady    bool    // the share is the same at every speed; else it goes with the speed
	Past         float64 // share of the water that slips past the media, 0..1
	HeaterBypass float64 // opening of the heater's bypass where it should be shut
	// Setting is where the filter valve really stands, "" where it is said to.
	Setting pad.Setting
	// SpaSuction and SpaReturn say which water the valves between pool and spa
	// really lead to, "" as they are said to.
	SpaSuction, SpaReturn pad.Body
	// SuctionAllShut and ReturnAllShut leave the pump no way in, or none out.
	SuctionAllShut, ReturnAllShut bool
	Stopped                       bool // the pump does not turn
}

// Plus is both effects at once. ok is false for two that one pad can't have
// together, such as two lines of one side blocked or two settings of one valve.
func (e Effects) Plus(o Effects) (sum Effects, ok bool) {
	sum = e
	touches := func(x Effects) bool { return x.SuctionExtra > 0 || x.SuctionShut }
	switch {
	case touches(e) && touches(o) && e.SuctionLine != o.SuctionLine,
		e.ReturnExtra > 0 && o.ReturnExtra > 0 && e.ReturnLine != o.ReturnLine,
		e.Setting != "" && o.Setting != "" && e.Setting != o.Setting,
		e.SpaSuction != "" && o.SpaSuction != "" && e.SpaSuction != o.SpaSuction,
		e.SpaReturn != "" && o.SpaReturn != "" && e.SpaReturn != o.SpaReturn:
		return sum, false
	}
	if touches(o) {
		sum.SuctionLine = o.SuctionLine
	}
	if o.ReturnExtra > 0 {
		sum.ReturnLine = o.ReturnLine
	}
	either := func(a, b float64) float64 { return 1 - (1-a)*(1-b) }
	sum.Load += o.Load
	sum.Basket += o.Basket
	sum.SuctionExtra += o.SuctionExtra
	sum.SuctionShut = e.SuctionShut || o.SuctionShut
	sum.ReturnExtra += o.ReturnExtra
	sum.HeadLost, sum.CapacityLost = either(e.HeadLost, o.HeadLost), either(e.CapacityLost, o.CapacityLost)
	sum.AirSteady = e.AirSteady || o.AirSteady
	sum.Air, sum.Past = either(e.Air, o.Air), either(e.Past, o.Past)
	sum.HeaterBypass = math.Max(e.HeaterBypass, o.HeaterBypass)
	sum.Setting = max(e.Setting, o.Setting)
	sum.SpaSuction, sum.SpaReturn = max(e.SpaSuction, o.SpaSuction), max(e.SpaReturn, o.SpaReturn)
	sum.SuctionAllShut = e.SuctionAllShut || o.SuctionAllShut
	sum.ReturnAllShut = e.ReturnAllShut || o.ReturnAllShut
	sum.Stopped = e.Stopped || o.Stopped
	return sum, true
}

// State is what the meters would say, and how the water moves. Every number is
// finite.
type State struct {
	Tank   units.Pressure // at the tank gauge; can be a little below zero
	Vacuum units.Pressure // at the vacuum tap, positive
	Flow   units.Flow     // through the pump
	Power  units.Power
	// PowerDoubt is one standard deviation of Power that the law leaves open where the
	// pump itself is sick: nobody knows to some 20 % what a worn, clogged or air-bound
	// pump draws. 0 for a sound one.
	PowerDoubt units.Power
	Condition  hydraulics.Condition
	// SpaGain is what the spa gains (below zero: loses) by its lines, and ToWaste
	// what leaves the pool for good.
	SpaGain, ToWaste units.Flow
	// NPSHAvailable is the suction head left at the pump's eye above boiling;
	// NPSHRequired is what the pump needs there, 0 when not known.
	NPSHAvailable, NPSHRequired units.Head
	// Cavitating says that the water boils at the eye: suction is at its limit.
	Cavitating bool
}

// Model is a pad ready to be solved. It is immutable and safe for concurrent
// use; give each goroutine its own Solver.
type Model struct {
	Doc    pad.Document
	Water  hydraulics.Water
	Params Parameters
	// Cov is the covariance of the parameters' logarithms after calibration.
	Cov [parameterCount][parameterCount]float64
	// Fit tells how the clean line was met; nil when there was none.
	Fit *Fit
	// LimitRise is the gauge rise at top speed that defines load 1, and
	// LimitReached is false when this pump can't raise its gauge that far.
	LimitRise    units.Pressure
	LimitReached bool
	// Ruling is what load 1 is of this pad, and what it means in water.
	Ruling   Ruling
	within   bool    // other limits than the rise count
	flowLoss float64 // share of the daily flow that the filter may take; 0: not looked at
	riseUnit float64 // resistance of the rise alone

	plans    map[pad.Setting]*plan
	toBody   map[pad.Side]map[pad.Body]pad.Turned
	curve    hydraulics.Curve
	power    hydraulics.WirePower
	ref      []float64 // clean flow of each link at top speed, set to filter
	loadUnit float64   // linear resistance of load 1 at the present water
	Figures  *sync.Map // of the limits, by pool volume
}

// viscosityReference is the water temperature at which a catalogue's filter
// drops are stated.
const viscosityReference = units.Temperature(20)

// New builds a model of a document with the given parameters and limit rise.
func New(doc pad.Document, params Parameters, temp units.Temperature, limit units.Pressure) (*Model, error) {
	if errs := doc.Validate(); len(errs) > 0 {
		return nil, &errs[0]
	}
	curve, err := doc.Pump.Points()
	if err != nil {
		return nil, fmt.Errorf("pump curve: %w", err)
	}
	m := &Model{
		Doc:       doc,
		Water:     hydraulics.WaterAt(temp),
		LimitRise: limit,
		curve:     curve,
		plans:     map[pad.Setting]*plan{},
	}
	for _, set := range doc.Settings() {
		if m.plans[set], err = m.layout(set); err != nil {
			return nil, err
		}
	}
	m.toBody = doc.Dividers()
	return m.with(params)
}

// underParameters returns the model under other parameters, good for solving it
// clean: what is scaled by the clean pad's own flows is not renewed.
func (m *Model) underParameters(p Parameters) *Model {
	c := *m
	c.Params, c.Figures = p, new(sync.Map)
	c.power = hydraulics.WirePower{
		Idle: m.Doc.Pump.IdleW * p.Idle, Base: m.Doc.Pump.BaseW * p.Base,
		PerFlow: m.Doc.Pump.PerGpmW / float64(units.GPM(1)) * p.PerFlow,
	}
	return &c
}

// with returns the model under other parameters, whole.
func (m *Model) with(params Parameters) (*Model, error) {
	c := m.underParameters(params)
	c.ref = nil
	s := c.Solver()
	if _, err := s.Solve(pad.Operation{Speed: c.TopSpeed()}, Effects{}); err != nil {
		return nil, fmt.Errorf("solving the clean pad at top speed: %w", err)
	}
	c.ref = append([]float64(nil), s.View.sol.Flow...)
	if err := c.scaleLoad(); err != nil {
		return nil, err
	}
	return c, nil
}

// TopSpeed is the pump's full speed.
func (m *Model) TopSpeed() units.Speed { return units.Speed(m.Doc.Pump.TopRPM) }

// CleanMediaLoad is the clean media's own resistance as a load: what the filter's
// linear part is at load 0, against what one load adds.
func (m *Model) CleanMediaLoad() float64 {
	if m.loadUnit <= 0 {
		return 1
	}
	v, err := m.Solver().viewOf(pad.SetFilter)
	if err != nil {
		return 1
	}
	return v.base[v.Idx.filter].Linear / m.loadUnit
}

// BestFlow is the flow at which this pump turns the largest share of its power into head
// and flow, at top speed.
func (m *Model) BestFlow() units.Flow {
	end := 0.0
	for _, c := range m.Doc.Pump.Curve {
		end = math.Max(end, c.GPM)
	}
	best, most := units.Flow(0), 0.0
	for gpm := 1.0; gpm <= end; gpm++ {
		q := units.GPM(gpm)
		if eff := gpm * m.curve.Head(q).Feet() / (m.Doc.Pump.BaseW + m.Doc.Pump.PerGpmW*gpm); eff > most {
			best, most = q, eff
		}
	}
	return best
}
