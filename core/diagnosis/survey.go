package diagnosis

import (
	"fmt"
	"math"

	"fairlap/core/fault"
	"fairlap/core/foretell"
	"fairlap/core/hydraulics"
	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// survey is what stands fixed at a stop before any suspect is thought of: the pad,
// how it was run for each reading, what it would say sound, and which errors its
// readings share.
type survey struct {
	c         *Case
	kind      pad.FilterKind
	readings  []Reading
	ops       []pad.Operation // of each reading, or the programme's one when none
	items     []item          // the meters that were read
	solver    *plumbing.Solver
	expected  []Expected // one a reading
	wattSlope []float64  // of each reading, one deviation of the watts for a unit of flow off the clean line's
	doubts    []plumbing.Doubt
	sound     []loads.Figures      // of each reading, where the doubts were taken
	shared    [][]float64          // covariances of the parts of the items' calibration errors
	condition hydraulics.Condition // of the clean pad as described
	topFlow   float64
	leastFlow float64 // of the neediest device; 0 without one
	teller    *foretell.Teller
	likes     map[likeKey]*kept
	fresh     bool // no work of the stop came before
}

// item is one meter that was read.
type item struct {
	reading, meter int
	value          float64 // SI
	part, parts    int     // of its calibration error, in survey.shared
}

// Indices in pad.AllMeters.
const tankMeter, flowMeter, powerMeter = 0, 2, 3

func surveyed(c *Case) (*survey, error) {
	s := &survey{
		c:      c,
		kind:   c.Model.Doc.Filter.Kind,
		solver: c.Model.Solver(),
	}
	s.readings = held(&c.Model.Doc.Pump, c.Readings)
	for i, r := range s.readings {
		op, err := operation(c.Model, r)
		if err != nil {
			return nil, err
		}
		s.ops = append(s.ops, op)
		for k, m := range pad.AllMeters {
			if x, ok := r.Value(m); ok {
				s.items = append(s.items, item{reading: i, meter: k, value: x})
			}
		}
	}
	if len(s.ops) == 0 {
		s.ops = []pad.Operation{{Speed: c.Model.LongestSpeed()}}
	}
	s.teller = &foretell.Teller{Solver: s.solver, Ops: s.ops, Media: c.Model.CleanMediaLoad()}
	top, err := s.solver.Solve(pad.Operation{Speed: c.Model.TopSpeed()}, plumbing.Effects{})
	if err != nil {
		return nil, fmt.Errorf("solving the clean pad: %w", err)
	}
	// A pad without a path still needs a scale for its flows.
	s.topFlow = math.Max(float64(top.Flow), float64(units.GPM(1)))
	s.condition = top.Condition
	for _, d := range []*pad.Device{c.Model.Doc.Heater, c.Model.Doc.Cell} {
		if d != nil {
			s.leastFlow = math.Max(s.leastFlow, float64(units.GPM(d.LeastGPM)))
		}
	}
	for _, op := range s.ops {
		clean, err := s.solver.Solve(op, plumbing.Effects{})
		if err != nil {
			return nil, fmt.Errorf("solving the clean line at %v rpm: %w", op.Speed, err)
		}
		limit, err := s.solver.Solve(op, plumbing.Effects{Load: 1})
		if err != nil {
			return nil, fmt.Errorf("solving the limit at %v rpm: %w", op.Speed, err)
		}
		doubt, err := c.Model.Doubt(op, math.Min(1, math.Max(0, c.Load.Mean)))
		if err != nil {
			return nil, fmt.Errorf("the calibration's doubt at %v rpm: %w", op.Speed, err)
		}
		s.doubts = append(s.doubts, doubt)
		s.sound = append(s.sound, foretell.Figures(doubt.Base))
		slope := 0.0
		if fell := float64(clean.Flow - limit.Flow); fell > 0 {
			slope = wattShape * float64(clean.Power-limit.Power) / fell
			slope = math.Max(slope, wattLeast*float64(clean.Power)/float64(clean.Flow))
		}
		s.wattSlope = append(s.wattSlope, slope)
		if len(s.readings) > 0 {
			s.expected = append(s.expected,
				Expected{clean, doubt.Spread(), min(limit.Tank, plumbing.Ceiling(&c.Model.Doc))})
		}
	}
	s.share()
	return s, nil
}

// atLimit counts the readings of the tank gauge at or over their own limit, at the speed and in the way that
// each was taken. It is what the needle says, which no odds are made of: what to do about it is upkeep's.
func (s *survey) atLimit() int {
	n := 0
	for i, r := range s.readings {
		way := s.ops[i].Setting
		if r.Speed > 0 && r.Tank != nil && (way == "" || way == pad.SetFilter) && *r.Tank >= s.expected[i].Limit {
			n++
		}
	}
	return n
}

// gaugeAlone tells that the tank gauge of a running pump is all that was read.
func (s *survey) gaugeAlone() bool {
	for i := range s.items {
		it := &s.items[i]
		around := s.ops[it.reading].Setting == pad.SetRecirculate
		if it.meter != tankMeter || s.readings[it.reading].Speed == 0 || around {
			return false
		}
	}
	return len(s.items) > 0
}

// unread tells that nothing of the stop speaks of the load: it is what was expected, as the lap and the lists have it,
// without the tail for what no forecast sees, which a reading is weighed against.
func (s *survey) unread() bool {
	return s.fresh && !s.running() && !s.asked() && !s.c.stormed() && !s.c.Called
}

// Expect is what a reading should have been on the clean line.
func Expect(m *plumbing.Model, r Reading) (Expected, error) {
	s, err := surveyed(&Case{Model: m, Readings: []Reading{r}, Load: Belief{Mean: 0.5, SD: 0.5}})
	if err != nil {
		return Expected{}, err
	}
	return s.expected[0], nil
}

// operation is how the pad was run for a reading.
func operation(m *plumbing.Model, r Reading) (pad.Operation, error) {
	if r.Setting != SpaMode {
		return pad.Operation{Speed: r.Speed, Setting: r.Setting}, nil
	}
	handles, ok := m.Doc.SpaMode()
	if !ok {
		return pad.Operation{}, &pad.FieldError{Path: "setting", Text: "diagnosis.this-pad-has-no-valves"}
	}
	return pad.Operation{Speed: r.Speed, Setting: pad.SetFilter, Handles: handles}, nil
}

// held gives a flow-holding pump's readings the flow that it holds, where nobody
// read one: below its top speed the pump has found it.
func held(p *pad.Pump, readings []Reading) []Reading {
	out := append([]Reading(nil), readings...)
	for i := range out {
		if r := &out[i]; r.Flow == nil && r.Setting != pad.SetBackwash && p.HoldsAt(float64(r.Speed)) {
			q := units.GPM(p.HoldGPM)
			r.Flow = &q
		}
	}
	return out
}

func (s *survey) running() bool {
	for _, r := range s.readings {
		if r.Speed > 0 {
			return true
		}
	}
	return false
}

// answered walks the answered signs in the catalogue's order, so that every sum is
// made in one order.
func (s *survey) answered(visit func(sg *fault.SignFact, yes bool)) {
	for i := range fault.Signs {
		if yes, ok := s.c.Signs[fault.Signs[i].ID]; ok {
			visit(&fault.Signs[i], yes)
		}
	}
}
