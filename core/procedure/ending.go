package procedure

import (
	"slices"
	"strconv"
)

// confirmEndings leads every answer that ends a run, and asks for a hand's work with that,
// through a step for each thing to do: no ending says of a pad what nobody confirmed. What
// is only seen (it ran dry) goes with the work before it.
func (c *Script) confirmEndings(setup *Setup) {
	var out []ScriptStep
	for _, s := range c.Steps {
		var after []ScriptStep
		for i := range s.Options {
			o := &s.Options[i]
			own := len(o.Do) - o.ending
			if o.Ends == "" || o.ending == 0 {
				continue
			}
			todo, ends := o.Do[own:], o.Ends
			o.Do = o.Do[:own:own]
			var last *ScriptStep
			for _, a := range todo {
				if last != nil && onlySeen[a.Verb] {
					last.Options[0].Do = append(last.Options[0].Do, a)
					continue
				}
				w := c.Rig.handStep(a).write(setup)
				w.ID = s.ID + "-" + o.ID + "-" + strconv.Itoa(len(after)+1)
				w.of = o.ID
				if last == nil {
					o.To = w.ID
				} else {
					last.Options[0].To = w.ID
				}
				after = append(after, w)
				last = &after[len(after)-1]
			}
			last.Options[0].Ends = ends
		}
		out = append(append(out, s), after...)
	}
	c.Steps = out
}

// onlySeen are the verbs that say what was seen: no hand does them.
var onlySeen = map[Verb]bool{RunDry: true, FoundDry: true, HeatOn: true}

// handStep is one action as a step of its own, with what the library says of it wherever it
// asks for it.
func (r *Rig) handStep(a Action) *Step {
	s := Step{ID: "hand", Text: r.Instruction(a), Do: []Action{a}}
	switch a.Verb {
	case Stop, LockOff, Unlock:
		if r.Small {
			s.Care = []Care{SmallUnit}
			return &s
		}
	}
	switch a.Verb {
	case Stop:
		s = pumpOff("hand", "procedure.anything-else")
	case LockOff:
		s = lockOff("hand")
	case Unlock:
		s = powerBack("hand")
	case OpenBleed:
		s = openBleed("hand")
	case Start:
		s.Care = []Care{Restart, DryRun}
	case HeatOff:
		s = heatAsked("")[1]
		s.ID = "hand"
	case Cool:
		s = ranDry("")[1]
		s.ID = "hand"
	case Program:
		s = onProgram()
	}
	return &s
}

// onProgram is the last thing that a hand does at a pad that it started or set.
func onProgram() Step {
	return Step{
		ID:   "program",
		Text: "procedure.program.says",
		Hint: "procedure.program.hint",
		Why:  "procedure.program.why",
		Do:   []Action{do(Program)},
	}
}

// endOnProgram puts the pump back on its program wherever a run would end with it held by
// hand.
func (c *Script) endOnProgram(setup *Setup) error {
	held := map[string]bool{}
	err := c.follow(func(s *ScriptStep, o *Option, after State) error {
		if o.To == "" && after.ByHand && after.Power == Live {
			held[s.ID] = true
		}
		return nil
	})
	if err != nil || len(held) == 0 {
		return err
	}
	reached, early := false, []ScriptStep{}
	for i := range c.Steps {
		s := &c.Steps[i]
		if !held[s.ID] {
			continue
		}
		for j := range s.Options {
			o := &s.Options[j]
			switch {
			case o.To != "":
			case o.Ends == "":
				o.To, reached = "program", true
			default: // it ends for another reason: by a step of its own
				step := onProgram()
				w := step.write(setup)
				w.ID, w.of = s.ID+"-"+o.ID+"-program", o.ID
				w.Options[0].Ends = o.Ends
				o.To = w.ID
				early = append(early, w)
			}
		}
	}
	if reached {
		step := onProgram()
		c.Steps = append(c.Steps, step.write(setup))
	}
	c.Steps = append(c.Steps, early...)
	return nil
}

// Program tells whether the end of a run puts the pump back on its program: runs written
// out before that was asked say nothing of it.
func (c *Script) Program() bool {
	return slices.ContainsFunc(c.Steps, func(s ScriptStep) bool {
		return slices.ContainsFunc(s.Options, func(o Option) bool {
			return slices.ContainsFunc(o.Do, func(a Action) bool { return a.Verb == Program })
		})
	})
}
