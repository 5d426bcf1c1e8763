package evaluation

import (
	"fmt"
	"math"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/learning"
)

// sure is the chance at which a technician stops looking and tries the suspect.
const sure = 0.8

// mostSteps ends a search that goes nowhere.
const mostSteps = 30

// trying is what it costs to find out that a suspect is (or is not) the cause:
// its own telling look where there is one, else its fix.
func trying(f fault.Fault) float64 {
	least := f.Minutes
	for id, p := range f.Signs {
		if sg, ok := fault.LookUpSign(id); ok && p >= 0.85 && sg.Base <= 0.06 {
			least = math.Min(least, sg.Minutes)
		}
	}
	return least
}

// FollowChecks follows the proposed checks from the first meters, nothing looked
// at, until the true cause has been tried; it gives the minutes spent, the fix of
// the true cause itself left out.
func FollowChecks(s *Stop, meters Meters) (float64, error) {
	c := s.asCase(Seen{meters, 1, map[fault.Sign]bool{}})
	for id, yes := range s.signs {
		if sg, _ := fault.LookUpSign(id); sg.Context {
			c.Signs[id] = yes
		}
	}
	tried := map[fault.ID]bool{}
	spent := 0.0
	for range mostSteps {
		r, err := diagnosis.Diagnose(c)
		if err != nil {
			return 0, fmt.Errorf("%s at %s: %w", s.Truth, s.Pad.Name, err)
		}
		lead := leading(r, tried)
		if lead == nil {
			break
		}
		if next := nextStep(s, r, &c); lead.P < sure*untried(r, tried) && next != nil {
			spent += next.Sign.Minutes
			if next.Reading == nil {
				c.Signs[next.Sign.ID] = s.signs[next.Sign.ID]
				continue
			}
			again := s.read[plain(next.Reading.Operation)]
			c.Readings = append(
				c.Readings,
				diagnosis.Reading{Reading: visible(again, meters), Setting: next.Reading.Operation.Setting},
			)
			continue
		}
		if lead.Fault.ID == s.Truth {
			return spent, nil
		}
		spent += trying(lead.Fault)
		tried[lead.Fault.ID] = true
	}
	// Given up: what is left is tried in the order of the rule.
	order, err := FixedRule(s, Seen{Meters: meters})
	if err != nil {
		return 0, err
	}
	return spent + untilFound(s, order, tried), nil
}

func leading(r *diagnosis.Result, tried map[fault.ID]bool) *diagnosis.Suspect {
	for i := range r.Suspects {
		if s := &r.Suspects[i]; !tried[s.Fault.ID] && s.P > 0 {
			return s
		}
	}
	return nil
}

// untried is the chance that is left to what has not been tried.
func untried(r *diagnosis.Result, tried map[fault.ID]bool) float64 {
	p := 0.0
	for _, s := range r.Suspects {
		if !tried[s.Fault.ID] {
			p += s.P
		}
	}
	return p
}

// nextStep is the first proposed check that can be answered at this stop.
func nextStep(s *Stop, r *diagnosis.Result, c *diagnosis.Case) *diagnosis.Check {
	for i := range r.Next {
		n := &r.Next[i]
		if n.Reading == nil {
			return n
		}
		if _, ok := s.read[plain(n.Reading.Operation)]; ok && len(c.Readings) < 4 {
			return n
		}
	}
	return nil
}

// FollowOrder tries what a rival names, in its order.
func FollowOrder(s *Stop, rival Judge) (float64, error) {
	order, err := rival(s, Seen{Meters: GaugeAndSpeed, Speeds: 1})
	if err != nil {
		return 0, err
	}
	return untilFound(s, order, nil), nil
}

func untilFound(s *Stop, order []learning.Said, tried map[fault.ID]bool) float64 {
	spent := 0.0
	for _, o := range order {
		if o.Fault == s.Truth {
			break
		}
		if !tried[o.Fault] {
			f, _ := fault.LookUp(o.Fault, s.Pad.Model.Doc.Filter.Kind)
			spent += trying(f)
		}
	}
	return spent
}
