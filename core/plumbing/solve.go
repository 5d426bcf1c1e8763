package plumbing

import (
	"math"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Solver solves one model again and again without allocating. It is not safe
// for concurrent use.
type Solver struct {
	m     *Model
	views map[pad.Setting]*view
	View  *view // of the last solve
	pump  hydraulics.Curve
	air   float64 // head of the air over boiling
	boils float64 // head at the eye at which water boils off, against the pool's surface
}

// view is one setting's numbers and working memory.
type view struct {
	*plan
	base, links []hydraulics.Link // base: under the model's parameters, valves left out
	sol         hydraulics.Solution
}

// boilingMargin is the share of the air's head that a pump can pull before the
// water breaks (ours: 8.8 m, about 26 inHg, at sea level).
const boilingMargin = 0.88

// Solver makes a solver for the model.
func (m *Model) Solver() *Solver {
	s := &Solver{m: m, views: make(map[pad.Setting]*view, 1)}
	s.air = float64(m.Water.Head(hydraulics.AtmosphereAt(units.Feet(m.Doc.AltitudeFt)) - m.Water.Vapour))
	s.boils = float64(units.FeetHead(m.Doc.PumpHeightFt)) - boilingMargin*s.air
	return s
}

func (s *Solver) viewOf(set pad.Setting) (*view, error) {
	if set == "" {
		set = pad.SetFilter
	}
	if v := s.views[set]; v != nil {
		return v, nil
	}
	m := s.m
	p := m.plans[set]
	if p == nil {
		return nil, &pad.FieldError{
			Path: "setting",
			Text: words.Of("pad.this-filter-s-valve-has", "set", words.Name(string(set))),
		}
	}
	v := &view{plan: p, base: p.net.Links()}
	for i := range v.base {
		f := m.Params.scale(p.names[i])
		v.base[i].Pipe *= f
		v.base[i].Quadratic *= f
	}
	f := &m.Doc.Filter
	q := units.GPM(f.AtGPM)
	warm := m.Water.Viscosity / hydraulics.WaterAt(viscosityReference).Viscosity
	passages := 2 * valveShare
	if f.Valve == pad.NoValve {
		passages = 0
	}
	v.base[p.Idx.filter].Linear = float64(m.Water.Head(units.PSI(f.MediaPsi))) / float64(q) * warm * m.Params.Media
	v.base[p.Idx.filter].Quadratic = (1 - passages) * hydraulics.FixedDrop(m.Water.Head(units.PSI(f.VesselPsi)), q)
	v.links = append([]hydraulics.Link(nil), v.base...)
	s.views[set] = v
	return v, nil
}

// scale is the factor that a link's losses take from the parameters.
func (p Parameters) scale(n LinkName) float64 {
	switch {
	case n.Side == pad.SuctionSide:
		return p.Suction
	case n.Side == pad.ReturnSide, n.Kind == "heater", n.Kind == "check", n.Kind == "cell":
		return p.Return
	}
	return 1
}

// Head left and capacity left of a pump that swallows a share of air: gentle at
// a few per cent, collapsing past a third (shape common practice, ours in
// numbers; see docs/method.md).
func airyHead(share float64) float64 { return math.Exp(-4 * math.Pow(share, 1.2)) }

// bedWeight is the head that lifts a bed of sand: the weight under water of a
// foot and a quarter of it (usual residential bed depth, common practice).
const bedWeight = 0.381 * (1 - 0.42) * 1.65

// Solve gives the pad's state in an operation under effects. It fails when the
// filter's valve has no such setting or the network does not settle.
func (s *Solver) Solve(op pad.Operation, e Effects) (State, error) {
	if e.Setting != "" && (op.Setting == "" || op.Setting == pad.SetFilter) {
		op.Setting = e.Setting
	}
	v, err := s.viewOf(op.Setting)
	if err != nil {
		return State{}, err
	}
	s.View = v
	s.set(op, e)
	m, x := s.m, &v.Idx
	ratio := float64(op.Speed) / m.Doc.Pump.TopRPM
	if e.Stopped {
		ratio = 0
	}
	air := math.Min(0.95, e.Air*ratio)
	if e.AirSteady && ratio > 0 {
		air = math.Min(0.95, e.Air)
	}
	headLeft := (1 - e.HeadLost) * airyHead(air) * m.Params.Head
	capacityLeft := (1 - e.CapacityLost) * (1 - air)
	var st State
	for range 12 {
		s.pump = m.curve.AtSpeed(ratio).Degraded(headLeft, math.Max(capacityLeft, 0.02))
		v.links[x.pump].Pump = &s.pump
		if err := v.net.Solve(v.links, &v.sol); err != nil {
			return State{}, err
		}
		if s.lift(op) {
			continue
		}
		below := v.sol.Head[x.pumpIn]
		if v.sol.Condition == hydraulics.DrySource || below >= s.boils*1.01 {
			break
		}
		// Boiling at the eye holds the suction at its limit: give up pump head.
		st.Cavitating = true
		headLeft *= math.Max(0.5, math.Pow(s.boils/below, 0.8))
	}
	s.fill(&st, ratio, air)
	return st, nil
}

// airLighter is how much of its torque a share of air takes off a pump, at each end
// of what is known (ours).
const airLighter = 0.7

// standby is how much of its idle watts a stopped pump may still show, and
// leastStandby of how many at least (ours).
const (
	standby      = 0.8
	leastStandby = 10
)

// power is what the motor draws. For a sound pump the straight line in flow, fitted
// to the pad. What a sick one draws lies between that line (a floor at shut-off, as
// friction of the disc has it) and hydraulic power over the sound pump's efficiency
// (it lifts less, so it draws less): the middle, with the doubt between the ends as
// two deviations each way.
func (s *Solver) power(st *State, ratio, air float64) {
	m := s.m
	line := m.power.At(ratio, st.Flow)
	st.Power = line
	if ratio <= 0 { // dark, or a display that stays lit
		st.PowerDoubt = units.Power(standby * math.Max(m.power.Idle, leastStandby))
	}
	sound, sick := m.curve.AtSpeed(ratio).Head(st.Flow), s.pump.Head(st.Flow)
	if ratio <= 0 || sound <= 0 {
		return
	}
	left := float64(sick) / (float64(sound) * m.Params.Head)
	if left = math.Max(0, math.Min(1, left)); left > 0.999 {
		return
	}
	shaft := float64(line) - m.power.Idle
	low, high := shaft*left, shaft*(1-airLighter*air)
	st.Power = units.Power(m.power.Idle + (math.Min(low, high)+high)/2)
	st.PowerDoubt = units.Power(math.Max(0, high-low)/3 + 0.03*shaft)
}

// set gives the links their numbers for an operation under effects.
func (s *Solver) set(op pad.Operation, e Effects) {
	v, m := s.View, s.m
	copy(v.links, v.base)
	for i := range v.handles {
		h := &v.handles[i]
		opening := h.opening
		if at, ok := op.Handles[h.id]; ok {
			if opening = at; h.port != 0 {
				opening = pad.PortOpening(h.port, at)
			}
		}
		opening = m.reallyOpen(h, opening, &e)
		if opening < ShutBelow {
			v.links[h.link].Shut = true
			continue
		}
		v.links[h.link].Quadratic += hydraulics.MinorLoss(pad.ValveK(opening), h.bore) * m.Params.scale(v.names[h.link])
	}
	// Extra resistances are scaled by each element's own clean flow, so the
	// first solve of a model (ref nil) must be of a clean pad.
	extra := func(i int, head float64) {
		if head > 0 && m.ref != nil {
			q := math.Max(math.Abs(m.ref[i]), 1e-5)
			v.links[i].Quadratic += head / (q * q)
		}
	}
	x := &v.Idx
	extra(x.basket, e.Basket)
	if e.SuctionExtra > 0 || e.SuctionShut {
		i := x.Suction[e.SuctionLine]
		extra(i, e.SuctionExtra)
		v.links[i].Shut = v.links[i].Shut || e.SuctionShut
	}
	for _, i := range x.Suction {
		v.links[i].Shut = v.links[i].Shut || e.SuctionAllShut
	}
	for _, i := range x.Returns {
		v.links[i].Shut = v.links[i].Shut || e.ReturnAllShut
	}
	if e.ReturnExtra > 0 {
		if e.ReturnLine < 0 {
			extra(x.back, e.ReturnExtra)
		} else {
			extra(x.Returns[e.ReturnLine], e.ReturnExtra)
		}
	}
	if op.Setting != pad.SetBackwash { // there the dirt lifts with the bed
		f := &v.links[x.filter]
		// Load below clean (a channelled bed) takes from the media's own part; what
		// slips past leaves the media the rest: h = f((1−p)·q).
		left := 1 - e.Past
		f.Linear = left * math.Max(f.Linear*0.05, f.Linear+m.loadUnit*e.Load)
		f.Quadratic *= left * left
	}
}

// reallyOpen is how far a valve stands open under a fault of the handles.
func (m *Model) reallyOpen(h *handle, opening float64, e *Effects) float64 {
	if e.HeaterBypass > 0 && h.id == pad.HeaterBypass {
		return math.Max(opening, e.HeaterBypass)
	}
	if h.port == 0 {
		return opening
	}
	for _, x := range [...]struct {
		side pad.Side
		to   pad.Body
	}{{pad.SuctionSide, e.SpaSuction}, {pad.ReturnSide, e.SpaReturn}} {
		if t, ok := m.toBody[x.side][x.to]; ok && x.to != "" && t.Valve == h.id {
			return pad.PortOpening(h.port, t.Angle)
		}
	}
	return opening
}

// lift holds a backwashed sand bed at its own weight once the water carries it;
// true when the network must be solved again.
func (s *Solver) lift(op pad.Operation) bool {
	if op.Setting != pad.SetBackwash || s.m.Doc.Filter.Kind != pad.Sand {
		return false
	}
	f := &s.View.links[s.View.Idx.filter]
	q := math.Abs(s.View.sol.Flow[s.View.Idx.filter])
	if f.Linear*q <= bedWeight*1.001 {
		return false
	}
	f.Linear = bedWeight / q
	return true
}

// fill reads the state off the last solution.
func (s *Solver) fill(st *State, ratio, air float64) {
	m, v, x := s.m, s.View, &s.View.Idx
	st.Condition = v.sol.Condition
	st.Flow = units.Flow(math.Max(0, v.sol.Flow[x.pump]))
	s.power(st, ratio, air)
	tank, eye := v.sol.Head[x.tank], v.sol.Head[x.pumpIn]
	if st.Condition == hydraulics.DrySource {
		eye = math.Max(eye, s.boils)
	}
	tap := eye
	if m.Doc.VacuumTap == pad.TapInlet && st.Condition != hydraulics.DrySource {
		tap = v.sol.Head[x.inlet]
	}
	rise := func(ft float64) float64 { return float64(units.FeetHead(ft)) }
	st.Tank = m.Water.Pressure(units.Head(tank - rise(m.Doc.GaugeHeightFt)))
	st.Vacuum = m.Water.Pressure(units.Head(math.Max(0, rise(m.Doc.PumpHeightFt)-tap)))
	st.NPSHAvailable = units.Head(math.Max(0, s.air+eye-rise(m.Doc.PumpHeightFt)))
	st.NPSHRequired = m.npshRequired(ratio, st.Flow)
	if m.Doc.Spa != nil {
		for i, n := range v.names {
			if n.Body != pad.SpaBody {
				continue
			}
			if n.Side == pad.SuctionSide {
				st.SpaGain -= units.Flow(v.sol.Flow[i])
			} else {
				st.SpaGain += units.Flow(v.sol.Flow[i])
			}
		}
	}
	if x.waste >= 0 {
		st.ToWaste = units.Flow(math.Max(0, v.sol.Flow[x.waste]))
	}
}

// npshRequired follows the affinity laws from the one stated point: it grows
// with the square of flow, over a floor of three tenths that goes with the
// square of speed (shape ours). 0 when the document does not state it.
func (m *Model) npshRequired(ratio float64, q units.Flow) units.Head {
	p := &m.Doc.Pump
	if p.NPSHrFt <= 0 || ratio <= 0 {
		return 0
	}
	share := q.GPM() / p.NPSHrGPM
	return units.FeetHead(p.NPSHrFt * (0.3*ratio*ratio + 0.7*share*share))
}

// GradePoint is one station of the grade line: pressure above the pool's
// surface before and after it.
type GradePoint struct {
	Station StationID
	In, Out units.Pressure
}

// Grade gives the last solve's pressures along the water's path.
func (s *Solver) Grade() []GradePoint {
	out := make([]GradePoint, 0, len(s.View.Idx.stations))
	for _, st := range s.View.Idx.stations {
		out = append(
			out,
			GradePoint{
				st.id,
				s.m.Water.Pressure(units.Head(s.View.sol.Head[st.in])),
				s.m.Water.Pressure(units.Head(s.View.sol.Head[st.out])),
			},
		)
	}
	return out
}

// FlowOf is the last solve's flow through a link, 0 when there is none.
func (s *Solver) FlowOf(link int) units.Flow {
	if link < 0 {
		return 0
	}
	return units.Flow(s.View.sol.Flow[link])
}

// FilteredPerDay is the water that the clean pad's programme filters in a day.
func (m *Model) FilteredPerDay() (units.Volume, error) {
	s := m.Solver()
	total := 0.0
	for _, slot := range m.Doc.Programme {
		st, err := s.Solve(pad.Operation{Speed: units.Speed(slot.RPM)}, Effects{})
		if err != nil {
			return 0, err
		}
		total += float64(st.Flow) * slot.Hours * 3600
	}
	return units.Volume(total), nil
}

// TurnoverMinutes is how long a flow takes to pass a pool's volume once.
func TurnoverMinutes(v units.Volume, q units.Flow) float64 { return float64(v) / float64(q) / 60 }
