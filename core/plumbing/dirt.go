package plumbing

import (
	"math"

	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
)

// RuleID is what says of a pad that its filter is dirty enough to be cleaned.
type RuleID string

// The rules; the first that dirt reaches is the pad's limit (handbook).
const (
	RuleRise     RuleID = "rise"      // the school's, at full speed
	RulePump     RuleID = "pump"      // seven tenths of what this pump can raise at all
	RuleCeiling  RuleID = "ceiling"   // of the tank in service, at the programme's top speed
	RuleLabel    RuleID = "label"     // the tank's own
	RuleFlowLoss RuleID = "flow-loss" // of the flow at the daily speed
	RuleDevice   RuleID = "device"    // a device's least flow in its hours
)

// Ruling is the rule that makes a pad's load 1, and the water at it.
type Ruling struct {
	Rule   RuleID
	Device words.Message // name of the device, of RuleDevice
	Speed  units.Speed   // at which it rules
	// Daily is the speed of most of the programme's hours, 0 without one; Clean and Left
	// are the flows there without dirt and at load 1.
	Daily       units.Speed
	Clean, Left units.Flow
}

// clearOf is how much more than it needs a device must have with a clean filter, before
// dirt is blamed for what it lacks; underCeiling how far a clean tank must stand under
// the ceiling (ours).
const clearOf = 1.15

var underCeiling = units.PSI(2)

// Within gives the model with the first of all the handbook's limits as its load 1: the
// rise that it has, the tank's ceiling or label at the programme's top speed, a share of
// the flow lost at its daily speed (0: not looked at), a device's least flow in its
// hours. What the clean pad breaks already is no limit on dirt. Errors are the solver's.
func (m *Model) Within(flowLoss float64) (*Model, error) {
	c := *m
	c.within, c.flowLoss = true, flowLoss
	return c.with(c.Params)
}

// LoadScale is how many of this model's loads the load of the rise alone is.
func (m *Model) LoadScale() float64 {
	if m.loadUnit <= 0 || m.riseUnit <= 0 {
		return 1
	}
	return m.riseUnit / m.loadUnit
}

// LoadUnit is the resistance that is load 1, in the network's own units: loads of two
// models compare by it.
func (m *Model) LoadUnit() float64 { return m.loadUnit }

// mostResistance bounds the search for a load's resistance.
const mostResistance = 1e7

// scaleLoad finds the resistance of load 1: the one that raises the tank gauge by
// LimitRise at top speed, or at which a stricter limit is reached. When the pump can't
// raise it so far, it is the resistance at seven tenths of the rise that it can (ours),
// and LimitReached is false.
func (m *Model) scaleLoad() error {
	if m.LimitRise <= 0 {
		return nil
	}
	s := m.Solver()
	at := func(speed units.Speed, figure func(State) float64) func(float64) (float64, error) {
		return func(r float64) (float64, error) {
			m.loadUnit = r
			st, err := s.Solve(pad.Operation{Speed: speed}, Effects{Load: 1})
			return figure(st), err
		}
	}
	gauge := func(st State) float64 { return float64(st.Tank) }
	flow := func(st State) float64 { return -float64(st.Flow) }
	top := at(m.TopSpeed(), gauge)
	clean, err := top(0)
	if err != nil {
		return err
	}
	most, err := top(mostResistance)
	if err != nil {
		return err
	}
	m.Ruling = Ruling{Rule: RuleRise, Speed: m.TopSpeed()}
	rise := float64(m.LimitRise)
	m.LimitReached = most-clean > rise*1.1
	if !m.LimitReached {
		rise, m.Ruling.Rule = 0.7*(most-clean), RulePump
	}
	limit, err := resistanceAt(top, clean+rise, mostResistance)
	if err != nil {
		return err
	}
	m.riseUnit = limit
	stricter := func(rule Ruling, f func(float64) (float64, error), bound float64) error {
		r, err := resistanceAt(f, bound, limit)
		if err == nil && r < limit {
			limit, m.Ruling = r, rule
		}
		return err
	}
	daily, fast := m.dailySpeed(), m.fastestProgrammed()
	if m.within && fast > 0 {
		f := at(fast, gauge)
		stands, err := f(0)
		if err != nil {
			return err
		}
		for _, c := range []struct {
			rule  RuleID
			bound units.Pressure
		}{{RuleCeiling, ServiceCeiling}, {RuleLabel, m.VesselLimit()}} {
			if units.Pressure(stands)+underCeiling > c.bound {
				continue
			}
			if err := stricter(Ruling{Rule: c.rule, Speed: fast}, f, float64(c.bound)); err != nil {
				return err
			}
		}
	}
	if m.within && daily > 0 && m.flowLoss > 0 {
		f := at(daily, flow)
		most, err := f(0)
		if err != nil {
			return err
		}
		if err := stricter(Ruling{Rule: RuleFlowLoss, Speed: daily}, f, (1-m.flowLoss)*most); err != nil {
			return err
		}
	}
	if m.within {
		if err := m.deviceLimits(s, at, stricter); err != nil {
			return err
		}
	}
	m.loadUnit, m.Ruling.Daily = limit, daily
	if daily > 0 {
		for load, out := range map[float64]*units.Flow{0: &m.Ruling.Clean, 1: &m.Ruling.Left} {
			st, err := s.Solve(pad.Operation{Speed: daily}, Effects{Load: load})
			if err != nil {
				return err
			}
			*out = st.Flow
		}
	}
	return nil
}

// deviceLimits takes in each device's least flow in its hours: a cell's are all that serve
// it with a clean filter, the slowest of them first to fail; nobody says when a heater
// fires, and it is given the fastest.
func (m *Model) deviceLimits(
	s *Solver,
	at func(units.Speed, func(State) float64) func(float64) (float64, error),
	stricter func(Ruling, func(float64) (float64, error), float64) error,
) error {
	for _, d := range []struct {
		name words.Message
		dev  *pad.Device
		fast bool
		link func(*LinkIndex) int
	}{{"heater", m.Doc.Heater, true, func(x *LinkIndex) int { return x.Heater }},
		{"salt cell", m.Doc.Cell, false, func(x *LinkIndex) int { return x.Cell }}} {
		if d.dev == nil || d.dev.LeastGPM <= 0 {
			continue
		}
		through := func(State) float64 { return -float64(s.FlowOf(d.link(&s.View.Idx))) }
		least := float64(units.GPM(d.dev.LeastGPM))
		speed := units.Speed(0)
		for _, slot := range m.Doc.Programme {
			v := units.Speed(slot.RPM)
			q, err := at(v, through)(0)
			if err != nil {
				return err
			}
			if -q >= clearOf*least && (speed == 0 || v < speed != d.fast) {
				speed = v
			}
		}
		if speed == 0 {
			continue
		}
		if err := stricter(Ruling{Rule: RuleDevice, Device: d.name, Speed: speed}, at(speed, through),
			-least); err != nil {
			return err
		}
	}
	return nil
}

// resistanceAt finds the resistance at which a figure that grows with it reaches a
// bound, up to the most.
func resistanceAt(f func(float64) (float64, error), bound, most float64) (float64, error) {
	g, err := f(most)
	if err != nil || g <= bound {
		return most, err
	}
	lo, hi := 0.0, most
	for range 60 {
		mid := math.Sqrt(math.Max(lo, 1) * hi)
		g, err := f(mid)
		if err != nil {
			return hi, err
		}
		if g < bound {
			lo = mid
		} else {
			hi = mid
		}
		if hi/math.Max(lo, 1) < 1.0001 {
			break
		}
	}
	return hi, nil
}

// dailySpeed is the speed of most of the programme's hours, the faster of two; 0 for a
// pump that has none, or that holds its flow whatever the filter does.
func (m *Model) dailySpeed() units.Speed {
	if m.Doc.Pump.Kind == pad.FlowHolding {
		return 0
	}
	hours, best := map[float64]float64{}, 0.0
	for _, s := range m.Doc.Programme {
		hours[s.RPM] += s.Hours
	}
	for rpm, h := range hours {
		if h > hours[best] || h == hours[best] && rpm > best {
			best = rpm
		}
	}
	return units.Speed(best)
}

// LongestSpeed is the programme's longest slot's, the top speed of a pump without one.
func (m *Model) LongestSpeed() units.Speed {
	best, hours := m.TopSpeed(), 0.0
	for _, s := range m.Doc.Programme {
		if s.Hours > hours && s.RPM > 0 {
			best, hours = units.Speed(s.RPM), s.Hours
		}
	}
	return best
}

func (m *Model) fastestProgrammed() units.Speed {
	top := 0.0
	for _, s := range m.Doc.Programme {
		top = math.Max(top, s.RPM)
	}
	return units.Speed(top)
}
