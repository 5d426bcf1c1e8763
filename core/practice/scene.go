package practice

import (
	"errors"
	"fmt"
	"math"
	"time"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
)

// ErrCase says that a case can't be worked; Check says why.
var ErrCase = errors.New("this case can't be worked")

// Spreads of a made pad round its description, and of what its record expects (ours).
const (
	straysBy    = 0.05 // of each loss and the pump's lift, one deviation
	readsWithin = 0.6  // of a meter's noise: a hand that waits reads better than a hasty one
	forecastSD  = 0.18
	cleanLoad   = 0.05 // what a cleaning leaves
)

// usualWater is what cases are worked in: the handbook's figures are for it.
var usualWater = units.Fahrenheit(80)

// hidden is a fault that is there.
type hidden struct {
	diagnosis.Cause
	place fault.Place
}

func (h *hidden) effects() plumbing.Effects {
	if h.place.Effects == nil {
		return plumbing.Effects{}
	}
	return h.place.Effects(h.Step)
}

func causeOf(d *pad.Document, h Hidden) hidden {
	f, _ := known(h.Fault, d)
	out := hidden{Cause: diagnosis.Cause{Fault: f, Step: h.Step}}
	if f.Places != nil {
		out.place = f.Places(d)[h.Place]
		out.Fault = f.At(&out.place)
	}
	return out
}

// Scene is a case made ready: the pad as it really is beside what its record knows.
type Scene struct {
	*Case
	doc     pad.Document
	rig     procedure.Rig
	truth   *plumbing.Model // as the pad really is
	stop    *judge.Stop     // as the record knows it
	setup   *procedure.Setup
	telling *diagnosis.Telling
	causes  []hidden
	loads   float64 // the truth's loads in one of the record's
}

// Set makes a case ready. Errors are ErrCase and the solver's.
func Set(c *Case) (*Scene, error) {
	if errs := c.Check(); len(errs) > 0 {
		return nil, fmt.Errorf("%w: %w", ErrCase, &errs[0])
	}
	s := &Scene{Case: c}
	s.doc, _ = c.document()
	s.rig = procedure.RigOf(&s.doc)
	for _, h := range c.Hidden {
		s.causes = append(s.causes, causeOf(&s.doc, h))
	}
	var err error
	settings := upkeep.Defaults()
	off := func(name string) float64 { return math.Exp(straysBy * normal(c.Seed, "pad/"+name)) }
	real := plumbing.Nominal()
	real.Suction, real.Return, real.Media, real.Head = off("suction"), off("return"), off("media"), 1+(off("head")-1)/2
	if s.truth, err = plumbing.New(s.doc, real, usualWater, units.PSI(settings.LimitRisePsi)); err != nil {
		return nil, fmt.Errorf("the pad of %s: %w", c.ID, err)
	}
	line, err := s.cleanLine()
	if err != nil {
		return nil, err
	}
	pack := judge.Pack{
		Pool:      c.ID,
		Gallons:   s.doc.PoolGallons,
		Zone:      time.UTC.String(),
		Pad:       s.doc,
		CleanLine: line,
		Settings:  settings,
		Ways:      procedure.DefaultWays(),
		Next:      s.at(0).AddDate(0, 0, 7),
	}
	pack.History.State = upkeep.State{Load: c.Forecast, VarLoad: forecastSD * forecastSD}
	pack.History.At = s.at(0)
	if s.stop, err = pack.ReadyIn(time.UTC); err != nil {
		return nil, fmt.Errorf("the record of %s: %w", c.ID, err)
	}
	s.loads = s.stop.Model.LoadUnit() / s.truth.LoadUnit()
	if s.setup, err = s.stop.Setup(0, 0, s.at(0)); err != nil {
		return nil, fmt.Errorf("the amounts of %s: %w", c.ID, err)
	}
	if s.telling, err = diagnosis.Tell(s.stop.Model); err != nil {
		return nil, err
	}
	return s, nil
}

// at is a moment of the case: it begins at nine in the morning of a day of its month.
func (s *Scene) at(minutes float64) time.Time {
	return time.Date(2001, time.Month(s.Month), 12, 9, 0, 0, 0, time.UTC).
		Add(time.Duration(minutes * float64(time.Minute)))
}

// usual is the fastest speed of the pump's day, where the gauges tell most.
func (s *Scene) usual() float64 {
	most := 0.0
	for _, slot := range s.doc.Programme {
		most = math.Max(most, slot.RPM)
	}
	if most == 0 || s.doc.Pump.Kind == pad.SingleSpeed {
		return s.doc.Pump.TopRPM
	}
	return s.doc.Pump.Nearest(most)
}

// cleanLine is what was read at the real pad when its filter was clean and nothing wrong.
func (s *Scene) cleanLine() ([]casefile.Reading, error) {
	top := s.doc.Pump.TopRPM
	speeds := []float64{top}
	switch s.doc.Pump.Kind {
	case pad.TwoSpeed:
		speeds = append(speeds, s.doc.Pump.LeastRPM)
	case pad.VariableSpeed, pad.FlowHolding:
		speeds = append(speeds, s.doc.Pump.Nearest(0.8*top), s.doc.Pump.Nearest(0.62*top))
	}
	var out []casefile.Reading
	solver := s.truth.Solver()
	for _, rpm := range speeds {
		st, err := solver.Solve(pad.Operation{Speed: units.Speed(rpm)}, plumbing.Effects{})
		if err != nil {
			return nil, fmt.Errorf("the clean line of %s: %w", s.ID, err)
		}
		r := casefile.Reading{RPM: rpm, Setting: string(pad.SetFilter)}
		for _, m := range s.doc.MetersRead() {
			v := s.noisy(m, st.Value(m), fmt.Sprintf("clean/%.0f", rpm))
			take(&r, m, v)
		}
		out = append(out, r)
	}
	return out, nil
}

// noisy is what a careful hand reads off a meter that stands at v.
func (s *Scene) noisy(m pad.Meter, v float64, name string) float64 {
	return v + readsWithin*s.doc.Meters.Noise(m, v)*normal(s.Seed, "meter/"+name+"/"+string(m))
}

// steps are what a scale can be read to, in the trade's units.
var steps = map[pad.Meter]float64{pad.MeterTank: 0.5, pad.MeterVacuum: 0.5, pad.MeterFlow: 1, pad.MeterPower: 5}

// read is a meter's figure as it is written down.
func read(m pad.Meter, si float64) float64 {
	v := judge.InTrade(m, si)
	return math.Max(0, steps[m]*math.Round(v/steps[m]))
}

// take writes a meter's figure into a reading.
func take(r *casefile.Reading, m pad.Meter, si float64) {
	v := read(m, si)
	switch m {
	case pad.MeterTank:
		r.TankPsi = &v
	case pad.MeterVacuum:
		r.VacuumInHg = &v
	case pad.MeterFlow:
		r.FlowGPM = &v
	case pad.MeterPower:
		r.PowerW = &v
	}
}

// sides are what the tank gauge and the pump's flow read with a fault and without it.
func (s *Scene) sides(h *hidden) (with, without [2]float64, err error) {
	of := func(eff plumbing.Effects) ([2]float64, error) {
		eff.Load += s.Case.Load * s.loads
		st, err := s.truth.Solver().Solve(pad.Operation{Speed: units.Speed(s.usual())}, eff)
		if err != nil {
			return [2]float64{}, fmt.Errorf("what a fault does: %w", err)
		}
		return [2]float64{read(pad.MeterTank, float64(st.Tank)), read(pad.MeterFlow, float64(st.Flow))}, nil
	}
	if with, err = of(h.effects()); err != nil {
		return with, without, err
	}
	without, err = of(plumbing.Effects{})
	return with, without, err
}
