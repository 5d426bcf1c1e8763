package pad

import (
	"math"

	"fairlap/core/hydraulics"
	"fairlap/core/units"
)

// Solver solves one model again and again without allocating. It is not safe
// for concurrent use.
type Solver struct {
	m     *Model
	base  []hydraulics.Link // nominal numbers under the model's parameters
	links []hydraulics.Link
	pump  hydraulics.Curve
	sol   hydraulics.Solution
}

// Solver makes a solver for the model.
func (m *Model) Solver() *Solver {
	s := &Solver{m: m, base: m.net.Links()}
	scale := func(i int, f float64) {
		if i >= 0 {
			s.base[i].Pipe *= f
			s.base[i].Quadratic *= f
		}
	}
	for _, i := range append([]int{m.idx.trunk}, m.idx.suction...) {
		scale(i, m.Params.Suction)
	}
	for _, i := range append([]int{m.idx.back, m.idx.heater, m.idx.check, m.idx.cell}, m.idx.returns...) {
		scale(i, m.Params.Return)
	}
	f := &m.Doc.Filter
	q := units.GPM(f.AtGPM)
	warm := m.Water.Viscosity / hydraulics.WaterAt(viscosityReference).Viscosity
	s.base[m.idx.filter].Linear = float64(m.Water.Head(units.PSI(f.MediaPsi))) / float64(q) * warm * m.Params.Media
	s.base[m.idx.filter].Quadratic = hydraulics.FixedDrop(m.Water.Head(units.PSI(f.VesselPsi)), q)
	s.links = append([]hydraulics.Link(nil), s.base...)
	return s
}

// Head left and capacity left of a pump that swallows a share of air: gentle at
// a few per cent, collapsing past a third (shape common practice, ours in
// numbers; see docs/method.md).
func airyHead(share float64) float64 { return math.Exp(-4 * math.Pow(share, 1.2)) }

// leastSuctionHead is the lowest head that water reaches at the pump before it
// boils off (ours: 8.8 m, about 26 inHg, below the surface).
const leastSuctionHead = -8.8

// Solve gives the pad's state in an operation under effects.
func (s *Solver) Solve(op Operation, e Effects) (State, error) {
	m := s.m
	copy(s.links, s.base)
	x := &m.idx
	// Extra resistances are scaled by each element's own clean flow, so the
	// first solve of a model (ref nil) must be of a clean pad.
	extra := func(i int, head float64) {
		if head > 0 && m.ref != nil {
			q := math.Max(math.Abs(m.ref[i]), 1e-5)
			s.links[i].Quadratic += head / (q * q)
		}
	}
	extra(x.basket, e.Basket)
	if e.SuctionExtra > 0 || e.SuctionShut {
		i := x.suction[e.SuctionLine]
		extra(i, e.SuctionExtra)
		s.links[i].Shut = s.links[i].Shut || e.SuctionShut
	}
	if e.ReturnExtra > 0 {
		if e.ReturnLine < 0 {
			extra(x.back, e.ReturnExtra)
		} else {
			extra(x.returns[e.ReturnLine], e.ReturnExtra)
		}
	}
	f := &s.links[x.filter]
	if op.Setting == SetRecirculate {
		f.Linear, f.Quadratic = 0, 0.3*f.Quadratic
	} else {
		// Load below clean (a channelled bed) takes from the media's own part.
		f.Linear = math.Max(f.Linear*0.05, f.Linear+m.loadUnit*e.Load)
	}
	ratio := float64(op.Speed) / m.Doc.Pump.TopRPM
	air := math.Min(0.95, e.Air*ratio)
	headLeft := (1 - e.HeadLost) * airyHead(air) * m.Params.Head
	capacityLeft := (1 - e.CapacityLost) * (1 - air)
	var st State
	for range 12 {
		s.pump = m.curve.AtSpeed(ratio).Degraded(headLeft, math.Max(capacityLeft, 0.02))
		s.links[x.pump].Pump = &s.pump
		if err := m.net.Solve(s.links, &s.sol); err != nil {
			return State{}, err
		}
		below := s.sol.Head[x.pumpIn]
		if s.sol.Condition == hydraulics.DrySource || below >= leastSuctionHead*1.01 {
			break
		}
		// Boiling at the eye holds the suction at its limit: give up pump head.
		st.Cavitating = true
		headLeft *= math.Max(0.5, math.Pow(leastSuctionHead/below, 0.8))
	}
	st.Condition = s.sol.Condition
	st.Flow = units.Flow(math.Max(0, s.sol.Flow[x.pump]))
	st.Power = m.power.At(ratio, st.Flow)
	if air > 0 { // lighter water takes less torque
		st.Power -= units.Power((float64(st.Power) - m.power.Idle) * 0.7 * air)
	}
	tank, tap := s.sol.Head[x.tank], s.sol.Head[x.pumpIn]
	if m.Doc.VacuumTap == TapInlet {
		tap = s.sol.Head[x.inlet]
	}
	if st.Condition == hydraulics.DrySource {
		tap = math.Max(tap, leastSuctionHead)
	}
	rise := func(ft float64) float64 { return float64(units.FeetHead(ft)) }
	st.Tank = m.Water.Pressure(units.Head(tank - rise(m.Doc.GaugeHeightFt)))
	st.Vacuum = m.Water.Pressure(units.Head(math.Max(0, rise(m.Doc.PumpHeightFt)-tap)))
	return st, nil
}

// GradePoint is one station of the grade line: pressure above the pool's
// surface before and after it.
type GradePoint struct {
	Station StationID
	In, Out units.Pressure
}

// Grade gives the last solve's pressures along the water's path.
func (s *Solver) Grade() []GradePoint {
	out := make([]GradePoint, 0, len(s.m.idx.stations))
	for _, st := range s.m.idx.stations {
		out = append(out, GradePoint{st.id, s.m.Water.Pressure(units.Head(s.sol.Head[st.in])), s.m.Water.Pressure(units.Head(s.sol.Head[st.out]))})
	}
	return out
}

// FilteredPerDay is the water that the clean pad's programme filters in a day.
func (m *Model) FilteredPerDay() (units.Volume, error) {
	s := m.Solver()
	total := 0.0
	for _, slot := range m.Doc.Programme {
		st, err := s.Solve(Operation{Speed: units.Speed(slot.RPM)}, Effects{})
		if err != nil {
			return 0, err
		}
		total += float64(st.Flow) * slot.Hours * 3600
	}
	return units.Volume(total), nil
}

// TurnoverMinutes is how long a flow takes to pass a pool's volume once.
func TurnoverMinutes(v units.Volume, q units.Flow) float64 { return float64(v) / float64(q) / 60 }
