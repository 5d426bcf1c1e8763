package diagnosis

import (
	"math"

	"fairlap/core/danger"
	"fairlap/core/fault"
	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

func (s *survey) dangers(p *posterior) []danger.Danger {
	var out []danger.Danger
	if s.heaterHot() {
		out = append(out, danger.Heed(danger.HeaterHot, "diagnosis.heater-off-keep-water-moving"))
	}
	s.answered(func(sg *fault.SignFact, yes bool) {
		if yes && sg.Danger != "" {
			out = append(out, danger.Danger{Code: string(sg.ID), Text: sg.Danger, Stop: !sg.Closes})
		}
	})
	out = append(out, s.hidden()...)
	out = append(out, s.entrapment()...)
	if d, ok := danger.ByHandles[s.condition]; ok {
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
	if d, over := danger.OverCeiling(worst, units.PSI(s.c.Model.Doc.Filter.LabelPsi)); over {
		out = append(out, d)
	}
	return out
}

func (s *survey) heaterHot() bool {
	if s.c.Model.Doc.Heater == nil || s.c.Heater == HeaterCooled {
		return false
	}
	return s.c.Heater == HeaterHot || s.c.Signs[fault.HeaterCrackles]
}

// hidden: water that hides the main drain closes the pool; the pump may run to clear
// it.
func (s *survey) hidden() []danger.Danger {
	if s.c.Signs[fault.DrainHidden] {
		return nil // said by the sign itself
	}
	for _, id := range [...]fault.Sign{fault.WaterGreen, fault.WaterDull} {
		sg, _ := fault.LookUpSign(id)
		if s.c.Signs[id] && s.c.Model.Doc.HasDrain() {
			return []danger.Danger{
				danger.Heed("drain-hidden", words.Of("diagnosis.pool-closed-while-the-main", "sg", words.Msg(sg.Name))),
			}
		}
	}
	return nil
}

// entrapment: a handle found wrong and no pull at a skimmer may leave the drain alone
// to take the whole pull.
func (s *survey) entrapment() []danger.Danger {
	var out []danger.Danger
	if s.c.Signs[fault.SkimmerFull] || s.c.Signs[fault.NoPull] {
		if d, ok := danger.OneCover(&s.c.Model.Doc, s.flowThroughDrain()); ok {
			out = append(out, d)
		}
	}
	if !s.c.Signs[fault.HandleWrong] || !s.c.Signs[fault.NoPull] || !s.c.Model.Doc.HasDrain() ||
		len(out) > 0 && out[0].Stop {
		return out
	}
	text := words.Message("diagnosis.stop-a-handle-is-wrong-2")
	if q := s.flowThroughDrain(); q > 0 {
		text = words.Of("diagnosis.stop-a-handle-is-wrong", "q", words.QD("gpm", q.GPM(), 0))
		for _, l := range s.c.Model.Doc.Suction {
			if l.Kind == pad.Drain && l.RatingGPM > 0 {
				text = words.Join(
					words.Stop,
					text,
					words.Of("diagnosis.its-cover-is-rated-for", "ratingGPM", words.QD("gpm", l.RatingGPM, 0)),
				)
			}
		}
	}
	return append([]danger.Danger{danger.Halt("one-suction", text)}, out...)
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
	st, err := s.solver.Solve(op, plumbing.Effects{})
	if err != nil {
		return 0
	}
	return st.Flow
}

// stands looks whether the gauges point at a running pump that moves nothing.
func (s *survey) stands(p *posterior) []danger.Danger {
	if !s.running() {
		return nil
	}
	at := map[hydraulics.Condition]float64{}
	found := map[plumbing.Effects]hydraulics.Condition{}
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
	var out []danger.Danger
	for _, c := range [...]hydraulics.Condition{hydraulics.DeadHead, hydraulics.DrySource} {
		if at[c] > sureDanger {
			out = append(out, danger.BySuspect[c])
		}
	}
	if len(out) == 0 {
		out = s.atShutOff()
	}
	return out
}

// atShutOff looks whether a gauge stands at the pump's shut-off pressure: whatever
// the reason, hardly anything moves.
func (s *survey) atShutOff() []danger.Danger {
	for i, r := range s.readings {
		if r.Speed == 0 || r.Tank == nil {
			continue
		}
		st, err := s.solver.Solve(s.ops[i], plumbing.Effects{ReturnAllShut: true})
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
		return []danger.Danger{danger.Halt("at-shut-off", words.Of("diagnosis.stop-at-the-gauge-stands",
			"speed", words.QD("rpm", float64(r.Speed), 0), "tank", words.QD("psi", st.Tank.PSI(), 0)))}
	}
	return nil
}
