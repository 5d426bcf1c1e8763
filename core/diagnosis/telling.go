package diagnosis

import (
	"fmt"
	"math"

	"fairlap/core/fault"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// Cause is a fault where it sits, as strong as one of its severity steps; below zero
// is too small for any meter.
type Cause struct {
	Fault fault.Fault // at its place
	Step  int
}

// Telling is how often things show at a pad: the chances that answers are weighed by.
type Telling struct {
	survey *survey
}

// Tell prepares a pad's chances. Errors are the solver's.
func Tell(m *plumbing.Model) (*Telling, error) {
	s, err := surveyed(&Case{Model: m, Load: Belief{Mean: 0.5, SD: 0.5}})
	if err != nil {
		return nil, fmt.Errorf("what shows at a pad: %w", err)
	}
	return &Telling{s}, nil
}

// Shows is P(yes) of a sign with some causes there together, at a flow, given whether air
// is at the pump.
func (t *Telling) Shows(sg *fault.SignFact, causes []Cause, air bool, flow units.Flow) float64 {
	own := []cause{{fault: &fault.Catalogue[0]}}
	if len(causes) > 0 {
		own = own[:0]
		for i := range causes {
			own = append(own, cause{&causes[i].Fault, causes[i].Step})
		}
	}
	switch {
	case sg.FromState:
		p := 0.0
		for _, c := range own {
			p = math.Max(p, t.survey.stateSign(c, sg.ID, float64(flow)))
		}
		return p
	case sg.Air && air:
		return sg.GivenAir
	case sg.Air:
		return sg.Base
	}
	return togetherSign(sg, own)
}
