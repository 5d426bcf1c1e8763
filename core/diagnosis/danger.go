package diagnosis

import (
	"fmt"
	"math"

	"fairlap/core/fault"
	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Danger is a state to make safe before any thinking.
type Danger struct {
	Code string `json:"code"`
	Says string `json:"says"`
	Stop bool   `json:"stop"`
}

// vesselCeiling is the vessel's hard limit (handbook, common practice; the label rules).
var vesselCeiling = units.PSI(50)

// conditionSays are the named conditions of a pad whose handles, as recorded,
// leave the water no path.
var conditionSays = map[hydraulics.Condition]Danger{
	hydraulics.DeadHead:  {"dead-head", "Stop: with the handles as recorded the pump has no way out (dead head). Never start it so; pump off, then read every return handle.", true},
	hydraulics.DrySource: {"dry", "Stop: with the handles as recorded the pump has no open suction and would run dry. Pump off, then read every suction handle.", true},
	hydraulics.NoPath:    {"no-path", "Stop: with the handles as recorded the water has no path in or out. Pump off, then read every handle.", true},
}

// standsStill are the suspects under which a running pump moves nothing: what they
// call for.
var standsStill = map[hydraulics.Condition]Danger{
	hydraulics.DeadHead:  {"never-run", "Stop: all points to a pump that runs against a shut way out (dead head). Pump off now; minutes of this melt fittings or burst parts. Then read the filter valve and every return handle.", true},
	hydraulics.DrySource: {"no-suction", "Stop: all points to a pump that runs with every suction shut. Pump off now; minutes of this boil the pot and melt fittings. Then read every suction handle.", true},
}

func (s *survey) dangers(p *posterior) []Danger {
	var out []Danger
	s.answered(func(sg *fault.SignFact, yes bool) {
		if yes && sg.Danger != "" {
			out = append(out, Danger{string(sg.ID), sg.Danger, !sg.Closes})
		}
	})
	out = append(out, s.hidden()...)
	out = append(out, s.entrapment()...)
	if d, ok := conditionSays[s.condition]; ok {
		out = append(out, d)
	} else {
		out = append(out, s.stands(p)...)
	}
	worst := units.Pressure(0)
	for _, r := range s.readings {
		if r.Tank != nil && *r.Tank > worst {
			worst = *r.Tank
		}
	}
	label := units.PSI(s.c.Model.Doc.Filter.LabelPsi)
	switch {
	case label > 0 && worst > label:
		out = append(out, Danger{"tank-over-label", fmt.Sprintf("Stop: the tank is at %.0f psi, over its label of %.0f. Pump off, stand clear of band and lid, open the bleed slowly.", worst.PSI(), label.PSI()), true})
	case worst >= vesselCeiling:
		out = append(out, Danger{"tank-over-vessel", "Stop: the tank is at 50 psi or more. Pump off, stand clear of band and lid, open the bleed slowly. The tank's label rules.", true})
	case worst >= pad.ServiceCeiling:
		out = append(out, Danger{"tank-over-service", "The tank is over 30 psi, the usual ceiling in service. Slow or stop the pump before anything else; the tank's label rules.", false})
	}
	return out
}

// hidden: water that hides the main drain closes the pool; the pump may run to clear
// it.
func (s *survey) hidden() []Danger {
	if s.c.Signs[fault.DrainHidden] {
		return nil // said by the sign itself
	}
	for _, id := range [...]fault.Sign{fault.WaterGreen, fault.WaterDull} {
		sg, _ := fault.LookUpSign(id)
		if s.c.Signs[id] && s.drains() > 0 {
			return []Danger{{"drain-hidden", fmt.Sprintf("Pool closed while the main drain's cover can't be seen clearly (%s): such water hides a swimmer too.", lowerFirst(sg.Name)), false}}
		}
	}
	return nil
}

func (s *survey) drains() int {
	n := 0
	for _, l := range s.c.Model.Doc.Suction {
		if l.Kind == pad.Drain {
			n++
		}
	}
	return n
}

// entrapment: a handle found wrong and no pull at a skimmer may leave the drain alone
// to take the whole pull.
func (s *survey) entrapment() []Danger {
	if !s.c.Signs[fault.HandleWrong] || !s.c.Signs[fault.NoPull] || s.drains() == 0 {
		return nil
	}
	says := "Stop: a handle is wrong and a skimmer has no pull, so the main drain may be taking the whole pull. Nobody in the water; pump off before the handle is set."
	if q := s.flowThroughDrain(); q > 0 {
		says = fmt.Sprintf("Stop: a handle is wrong and a skimmer has no pull, so the main drain may be taking the whole pull, about %.0f gpm here. Nobody in the water; pump off before the handle is set.", q.GPM())
		for _, l := range s.c.Model.Doc.Suction {
			if l.Kind == pad.Drain && l.RatingGPM > 0 {
				says += fmt.Sprintf(" Its cover is rated for %.0f gpm.", l.RatingGPM)
			}
		}
	}
	return []Danger{{"one-suction", says, true}}
}

// flowThroughDrain is what the pump pulls with every skimmer shut.
func (s *survey) flowThroughDrain() units.Flow {
	handles := pad.Handles{}
	for _, l := range s.c.Model.Doc.Suction {
		if l.Kind == pad.Skimmer {
			handles[l.ID] = 0
		}
	}
	op := s.ops[0]
	if op.Handles != nil || op.Speed == 0 {
		return 0
	}
	op.Handles = handles
	st, err := s.solver.Solve(op, pad.Effects{})
	if err != nil {
		return 0
	}
	return st.Flow
}

// stands looks whether the gauges point at a running pump that moves nothing.
func (s *survey) stands(p *posterior) []Danger {
	if !s.running() {
		return nil
	}
	at := map[hydraulics.Condition]float64{}
	found := map[pad.Effects]hydraulics.Condition{}
	for i := range p.hyps {
		w := &p.hyps[i]
		if w.post < 0.01 {
			continue
		}
		c, ok := found[w.effects]
		if !ok {
			if st, err := s.solver.Solve(s.ops[0], w.effects); err == nil {
				c = st.Condition
			}
			found[w.effects] = c
		}
		at[c] += w.post
	}
	var out []Danger
	for _, c := range [...]hydraulics.Condition{hydraulics.DeadHead, hydraulics.DrySource} {
		if at[c] > sureDanger {
			out = append(out, standsStill[c])
		}
	}
	if len(out) == 0 {
		out = s.atShutOff()
	}
	return out
}

// atShutOff looks whether a gauge stands at the pump's shut-off pressure: whatever
// the reason, hardly anything moves.
func (s *survey) atShutOff() []Danger {
	for i, r := range s.readings {
		if r.Speed == 0 || r.Tank == nil {
			continue
		}
		st, err := s.solver.Solve(s.ops[i], pad.Effects{ReturnAllShut: true})
		if err != nil || st.Condition != hydraulics.DeadHead || math.Abs(float64(*r.Tank-st.Tank)) > shutOffNear*psi {
			continue
		}
		// At a slow speed a sound pad's gauge stands near there too: it says nothing.
		if float64(st.Tank-s.expected[i].Limit) < shutOffApart*psi {
			continue
		}
		if r.Flow != nil && float64(*r.Flow) > shutOffFlow*float64(s.expected[i].Clean.Flow) {
			continue
		}
		return []Danger{{"at-shut-off", fmt.Sprintf("Stop: at %.0f rpm the gauge stands at this pump's shut-off pressure (%.0f psi), so hardly any water moves. Pump off now; then read the filter valve and every return handle before it runs again.", float64(r.Speed), st.Tank.PSI()), true}}
	}
	return nil
}
