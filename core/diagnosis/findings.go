package diagnosis

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Found is a thing seen wrong: it is wrong whatever the gauges say.
type Found struct {
	Sign fault.SignFact
	Mend words.Message
	// Says is what this pad's figures add to it; often empty.
	Text words.Message
}

// findings gives every yes a place: as evidence of a suspect, as something found,
// or as not explained.
func (s *survey) findings(r *Result) {
	s.answered(func(sg *fault.SignFact, yes bool) {
		switch {
		case !yes || sg.Context || sg.Danger != "" || sg.Reassures():
		case sg.Seen():
			r.Found = append(r.Found, Found{*sg, sg.Mend, s.figure(sg.ID)})
		case !s.explained(r, sg):
			r.Unexplained = append(r.Unexplained, *sg)
		}
	})
}

// figure is what the pad's own figures add to a finding.
func (s *survey) figure(id fault.Sign) words.Message {
	if id != fault.NeedleAtRest {
		return ""
	}
	st, err := s.solver.Solve(pad.Operation{}, plumbing.Effects{})
	if err != nil {
		return ""
	}
	return words.Of("diagnosis.at-rest-with-the-bleed", "tank", words.QD("psi", math.Max(0, st.Tank.PSI()), 1))
}

// explained tells that a suspect of some weight, or a chronic finding, brings a sign.
func (s *survey) explained(r *Result, sg *fault.SignFact) bool {
	for i := range r.Suspects {
		x := &r.Suspects[i]
		if x.P < 0.05 {
			break
		}
		if Sound(x.Fault.ID) && len(x.causes) == 1 && !sg.FromState {
			continue
		}
		base := sg.Base
		if sg.FromState {
			base = s.stateSign(cause{fault: &fault.Catalogue[0]}, sg.ID, s.topFlow)
		}
		if s.signGiven(x, sg, x.reads(0)[flowMeter]) >= explainsSign*base {
			return true
		}
	}
	for _, f := range r.Chronic {
		if f.Fault.Signs[sg.ID] >= explainsSign*sg.Base {
			return true
		}
	}
	return false
}

// todaysFlow is what the leading suspect has the pump move at the first reading that
// ran; the reading's own where it was read.
func (s *survey) todaysFlow(r *Result) (units.Flow, units.Speed, bool) {
	for i, rd := range s.readings {
		if rd.Speed == 0 {
			continue
		}
		if rd.Flow != nil {
			return *rd.Flow, rd.Speed, true
		}
		return units.Flow(r.Suspects[0].reads(i)[flowMeter]), rd.Speed, true
	}
	return 0, 0, false
}
