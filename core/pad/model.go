package pad

import (
	"fmt"
	"math"

	"fairlap/core/hydraulics"
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
}

// Setting is where the filter valve's handle stands.
type Setting string

// Settings in which a reading can be taken.
const (
	SetFilter      Setting = "filter"
	SetRecirculate Setting = "recirculate"
)

// Operation is how the pad is being run.
type Operation struct {
	Speed   units.Speed
	Setting Setting // "" means filter
}

// State is what the meters would say, and how the water moves. Every number is
// finite.
type State struct {
	Tank       units.Pressure // at the tank gauge; can be a little below zero
	Vacuum     units.Pressure // at the vacuum tap, positive
	Flow       units.Flow
	Power      units.Power
	Condition  hydraulics.Condition
	Cavitating bool
}

// Model is a pad ready to be solved. It is immutable and safe for concurrent
// use; give each goroutine its own Solver.
type Model struct {
	Doc    Document
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

	net      *hydraulics.Network
	curve    hydraulics.Curve
	power    hydraulics.WirePower
	idx      linkIndex
	ref      []float64 // clean flow of each link at top speed
	loadUnit float64   // linear resistance of load 1 at the present water
}

type linkIndex struct {
	suction, returns                  []int
	trunk, basket, pump, discharge    int
	filter, heater, check, cell, back int
	stations                          []station
	pumpIn, tank, inlet               int // nodes
}

// station is a place of the grade line: the element between two nodes.
type station struct {
	id      StationID
	in, out int
}

// StationID names a place along the water's path.
type StationID string

// The stations of the grade line, in the water's order.
const (
	StationSuction StationID = "suction"
	StationBasket  StationID = "basket"
	StationPump    StationID = "pump"
	StationFilter  StationID = "filter"
	StationHeater  StationID = "heater"
	StationCell    StationID = "cell"
	StationReturns StationID = "returns"
)

// viscosityReference is the water temperature at which a catalogue's filter
// drops are stated.
const viscosityReference = units.Temperature(20)

// shutBelow is the valve opening under which a line passes nothing.
const shutBelow = 0.02

// valveK is the loss coefficient of a diverter or ball valve by opening: near
// nothing when open, about 12 at half, steep below (shape common practice).
func valveK(opening float64) float64 {
	x := (1 - opening) / opening
	return 0.3 + 12*x*x
}

// orificeK is the loss of a return fitting, by its opening's velocity head.
const orificeK = 1.0

// New builds a model of a document with the given parameters and limit rise.
func New(doc Document, params Parameters, temp units.Temperature, limit units.Pressure) (*Model, error) {
	if errs := doc.Validate(); len(errs) > 0 {
		return nil, &errs[0]
	}
	curve, err := doc.curve()
	if err != nil {
		return nil, fmt.Errorf("pump curve: %w", err)
	}
	m := &Model{Doc: doc, Water: hydraulics.WaterAt(temp), LimitRise: limit, curve: curve}
	nodes, links := m.layout()
	if m.net, err = hydraulics.New(nodes, links); err != nil {
		return nil, fmt.Errorf("laying out the pad: %w", err)
	}
	return m.with(params)
}

// with returns the model under other parameters.
func (m *Model) with(params Parameters) (*Model, error) {
	c := *m
	c.Params = params
	c.power = hydraulics.WirePower{
		Idle: m.Doc.Pump.IdleW * params.Idle, Base: m.Doc.Pump.BaseW * params.Base,
		PerFlow: m.Doc.Pump.PerGpmW / float64(units.GPM(1)) * params.PerFlow,
	}
	c.ref = nil
	s := c.Solver()
	if _, err := s.Solve(Operation{Speed: c.TopSpeed()}, Effects{}); err != nil {
		return nil, fmt.Errorf("solving the clean pad at top speed: %w", err)
	}
	c.ref = append([]float64(nil), s.sol.Flow...)
	if err := c.scaleLoad(); err != nil {
		return nil, err
	}
	return &c, nil
}

// TopSpeed is the pump's full speed.
func (m *Model) TopSpeed() units.Speed { return units.Speed(m.Doc.Pump.TopRPM) }

// layout writes the document as nodes and links. Parameters and effects are
// applied to the links' numbers at each solve.
func (m *Model) layout() ([]hydraulics.Node, []hydraulics.Link) {
	d := &m.Doc
	nodes := []hydraulics.Node{{Name: "pool", Fixed: true}}
	var links []hydraulics.Link
	node := func(name string) int {
		nodes = append(nodes, hydraulics.Node{Name: name})
		return len(nodes) - 1
	}
	link := func(l hydraulics.Link) int {
		links = append(links, l)
		return len(links) - 1
	}
	runLink := func(name string, r Run, from, to int) hydraulics.Link {
		bore := units.Inches(r.BoreIn)
		return hydraulics.Link{Name: name, From: from, To: to,
			Pipe:      hydraulics.HazenWilliams(units.Feet(r.LengthFt), bore, hydraulics.PVC),
			Quadratic: hydraulics.MinorLoss(r.FittingsK, bore)}
	}
	lineLink := func(l Line, from, to int) hydraulics.Link {
		out := runLink(l.ID, l.Run, from, to)
		if l.Opening < shutBelow {
			out.Shut = true
		} else {
			out.Quadratic += hydraulics.MinorLoss(valveK(l.Opening), units.Inches(l.BoreIn))
		}
		if l.EyeballIn > 0 {
			out.Quadratic += hydraulics.MinorLoss(orificeK, units.Inches(l.EyeballIn))
		}
		return out
	}
	deviceLink := func(name string, dev *Device, from, to int) hydraulics.Link {
		return hydraulics.Link{Name: name, From: from, To: to,
			Quadratic: hydraulics.FixedDrop(m.Water.Head(units.PSI(dev.DropPsi)), units.GPM(dev.AtGPM))}
	}
	x := &m.idx
	joint := node("suction joint")
	for _, l := range d.Suction {
		x.suction = append(x.suction, link(lineLink(l, 0, joint)))
	}
	x.inlet = node("pump inlet")
	x.trunk = link(runLink("suction trunk", d.SuctionTrunk, joint, x.inlet))
	x.pumpIn = node("pot")
	// A clean basket and pot: about one velocity head of the trunk (ours).
	x.basket = link(hydraulics.Link{Name: "basket", From: x.inlet, To: x.pumpIn,
		Quadratic: hydraulics.MinorLoss(1, units.Inches(d.SuctionTrunk.BoreIn))})
	outlet := node("pump outlet")
	x.pump = link(hydraulics.Link{Name: "pump", From: x.pumpIn, To: outlet, Pump: &hydraulics.Curve{}})
	x.tank = node("tank")
	x.discharge = link(runLink("discharge", d.Discharge, outlet, x.tank))
	at := node("after filter")
	x.filter = link(hydraulics.Link{Name: "filter", From: x.tank, To: at})
	x.stations = []station{{StationSuction, 0, x.inlet}, {StationBasket, x.inlet, x.pumpIn},
		{StationPump, x.pumpIn, outlet}, {StationFilter, x.tank, at}}
	x.heater, x.check, x.cell = -1, -1, -1
	if d.Heater != nil {
		next := node("after heater")
		x.heater = link(deviceLink("heater", d.Heater, at, next))
		x.stations = append(x.stations, station{StationHeater, at, next})
		at = next
	}
	if d.CheckValve {
		next := node("after check valve")
		l := runLink("check valve", Run{d.ReturnTrunk.BoreIn, 0, 2}, at, next)
		l.OneWay = true
		x.check = link(l)
		at = next
	}
	if d.Cell != nil {
		next := node("after cell")
		x.cell = link(deviceLink("cell", d.Cell, at, next))
		x.stations = append(x.stations, station{StationCell, at, next})
		at = next
	}
	manifold := node("return manifold")
	x.back = link(runLink("return trunk", d.ReturnTrunk, at, manifold))
	for _, l := range d.Returns {
		x.returns = append(x.returns, link(lineLink(l, manifold, 0)))
	}
	// The returns begin where the last device ends: what their common run loses is theirs.
	x.stations = append(x.stations, station{StationReturns, at, 0})
	return nodes, links
}

// scaleLoad finds the resistance of load 1: the one that raises the tank gauge
// by LimitRise at top speed. When the pump can't raise it so far, load 1 is the
// resistance at seven tenths of the rise that it can (ours), and LimitReached is
// false.
func (m *Model) scaleLoad() error {
	if m.LimitRise <= 0 {
		return nil
	}
	s := m.Solver()
	top := Operation{Speed: m.TopSpeed()}
	gauge := func(r float64) (float64, error) {
		m.loadUnit = r
		st, err := s.Solve(top, Effects{Load: 1})
		return float64(st.Tank), err
	}
	clean, err := gauge(0)
	if err != nil {
		return err
	}
	ceiling, err := gauge(1e7)
	if err != nil {
		return err
	}
	rise := float64(m.LimitRise)
	m.LimitReached = ceiling-clean > rise*1.1
	if !m.LimitReached {
		rise = 0.7 * (ceiling - clean)
	}
	lo, hi := 0.0, 1e7
	for range 60 {
		mid := math.Sqrt(math.Max(lo, 1) * hi)
		g, err := gauge(mid)
		if err != nil {
			return err
		}
		if g-clean < rise {
			lo = mid
		} else {
			hi = mid
		}
		if hi/math.Max(lo, 1) < 1.0001 {
			break
		}
	}
	m.loadUnit = hi
	return nil
}
