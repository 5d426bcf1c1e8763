package procedure

import (
	"fmt"
	"math"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/words"
)

// Script is a procedure written out for one pad, as a run keeps it: later changes of
// the library leave it alone.
type Script struct {
	Procedure  ID              `json:"procedure"`
	Name       words.Message   `json:"name"`
	Aim        words.Message   `json:"aim"`
	Minutes    float64         `json:"minutes" doc:"of a usual hand, with its waits but for soaking"`
	Soak       float64         `json:"soak,omitempty" doc:"minutes at least that something soaks or sets by itself meanwhile"`
	Rig        Rig             `json:"rig"`
	Start      State           `json:"start"`
	Cautions   []words.Message `json:"cautions" nullable:"false"`
	Takes      []Take          `json:"takes" nullable:"false"`
	Steps      []ScriptStep    `json:"steps" nullable:"false"`
	Item       string          `json:"item"`
	Work       string          `json:"work"`
	Discharges bool            `json:"discharges"`
	WasteGPM   float64         `json:"wasteGpm,omitempty" doc:"of runs before timers knew their own: what leaves the pool while one counts backwash, rinse or waste"`
}

// Kind is what a step asks for.
type Kind string

// The kinds of step.
const (
	KindAction    Kind = "action"
	KindLook      Kind = "look"
	KindReading   Kind = "reading"
	KindTimer     Kind = "timer"
	KindInterlock Kind = "interlock"
)

// ScriptStep is a step written out, with the state that it is entered in.
type ScriptStep struct {
	ID      string          `json:"id"`
	Kind    Kind            `json:"kind" enum:"action,look,reading,timer,interlock"`
	Text    words.Message   `json:"says"`
	Hint    words.Message   `json:"hint"`
	Why     words.Message   `json:"why"`
	Care    []words.Message `json:"care" nullable:"false"`
	Read    Phase           `json:"read" enum:",before,after,walk,bare,spa"`
	Recalls Count           `json:"recalls,omitempty" doc:"times of this count that the answer stands on"`
	RPM     float64         `json:"rpm,omitempty" doc:"speed to read at; 0: none of its own"`
	Timer   *Timer          `json:"timer,omitempty"`
	State   State           `json:"state" doc:"of the pad when this step is next"`
	Options []Option        `json:"options" nullable:"false"`
	Leave   []words.Message `json:"leave" nullable:"false" doc:"the safe way out from here"`
	Left    State           `json:"left" doc:"the state that the way out leads to"`
	of      string          // the answer that this step confirms the end of
}

// Option is one way on from a step.
type Option struct {
	ID    string        `json:"id"`
	Text  words.Message `json:"says" doc:"empty: done"`
	Do    []Action      `json:"do" nullable:"false"`
	To    string        `json:"to" doc:"step; empty: the run ends"`
	Ends  words.Message `json:"ends" doc:"why the run ends on this way without its aim, here or after the steps that make the pad safe; empty: it does not"`
	Glass string        `json:"glass" enum:",dirty,clear"`
	Sign  fault.Sign    `json:"sign,omitempty"`
	Yes   bool          `json:"yes,omitempty"`
	Part  string        `json:"part,omitempty" doc:"found bad: it is owed"`
	// Settles tells of an answer that ends its step's wait: what was waited for has come.
	Settles bool `json:"settles,omitempty" doc:"it may be given before the wait is over"`
	ending  int  // how many of Do are the work of its end
}

// Done is the option of a step without answers.
const Done = "done"

// resolve finds where each option leads.
func (c *Script) resolve() error {
	if len(c.Steps) == 0 {
		return fmt.Errorf("%s has no steps here", c.Procedure)
	}
	at := make(map[string]bool, len(c.Steps))
	for _, s := range c.Steps {
		if at[s.ID] {
			return fmt.Errorf("%s: two steps are called %s", c.Procedure, s.ID)
		}
		at[s.ID] = true
	}
	for i := range c.Steps {
		for j := range c.Steps[i].Options {
			o := &c.Steps[i].Options[j]
			if o.To == "" && o.Ends == "" {
				o.To = c.after(i)
			}
			if o.To != "" && !at[o.To] {
				return fmt.Errorf("%s, step %s: no step %s here", c.Procedure, c.Steps[i].ID, o.To)
			}
		}
	}
	return nil
}

// after is the step after step i that no answer's end leads to; "" at the last.
func (c *Script) after(i int) string {
	for _, s := range c.Steps[i+1:] {
		if s.of == "" {
			return s.ID
		}
	}
	return ""
}

// follow walks every way from the start, tells each step the state that it is entered in,
// and gives what is left of the walk to each: every step and option with the state after it.
func (c *Script) follow(each func(s *ScriptStep, o *Option, after State) error) error {
	at := make(map[string]int, len(c.Steps))
	for i, s := range c.Steps {
		at[s.ID] = i
	}
	seen := map[string]bool{c.Steps[0].ID: true}
	c.Steps[0].State = c.Start
	next := []string{c.Steps[0].ID}
	for len(next) > 0 {
		s := &c.Steps[at[next[0]]]
		next = next[1:]
		for j := range s.Options {
			o := &s.Options[j]
			after, err := c.Rig.Do(s.State, o.Do...)
			if err != nil {
				return fmt.Errorf("%s, step %s, %s: %w", c.Procedure, s.ID, o.ID, err)
			}
			if err := each(s, o, after); err != nil {
				return err
			}
			if o.To == "" {
				continue
			}
			to := &c.Steps[at[o.To]]
			switch {
			case !seen[o.To]:
				seen[o.To], to.State = true, after
				next = append(next, o.To)
			case to.State != after:
				return fmt.Errorf(
					"%s, step %s, %s: %s is entered in another state than before",
					c.Procedure,
					s.ID,
					o.ID,
					o.To,
				)
			}
		}
	}
	for _, s := range c.Steps {
		if !seen[s.ID] {
			return fmt.Errorf("%s: nothing leads to step %s", c.Procedure, s.ID)
		}
	}
	return nil
}

// link follows all options from the start and gives each step its safe way out; ends tells
// of a state unlike daily use whether the procedure may end in it.
func (c *Script) link(ends func(*Rig, State) bool) error {
	err := c.follow(func(s *ScriptStep, o *Option, after State) error {
		if o.To != "" {
			return nil
		}
		// Where a run ends as it began, nothing was made worse: the stop carries it on.
		allowed := ends != nil && ends(&c.Rig, after) || after == c.Start && o.Ends != ""
		if text := c.Rig.Unlike(after); text != "" && o.Ends == "" && !allowed {
			return fmt.Errorf("%s ends unlike daily use: %s", c.Procedure, words.Plain.Say(text))
		}
		if !c.Rig.Safe(after) && !allowed {
			return fmt.Errorf("%s, step %s, %s: it ends where nobody may go away", c.Procedure, s.ID, o.ID)
		}
		return nil
	})
	if err != nil {
		return err
	}
	if err := c.airShut(); err != nil {
		return err
	}
	c.careByState()
	c.Soak = c.waits(soakFrom) / 60
	for i := range c.Steps {
		s := &c.Steps[i]
		way := c.Rig.Leave(s.State)
		for _, a := range way {
			s.Leave = append(s.Leave, c.Rig.Instruction(a))
		}
		if s.Left, err = c.Rig.Do(s.State, way...); err != nil {
			return fmt.Errorf("%s: no safe way out of step %s: %w", c.Procedure, s.ID, err)
		}
	}
	return nil
}

// airShut refuses a small unit that starts with its air valve open: its water comes by itself (state rule 12).
func (c *Script) airShut() error {
	starts := func(a Action) bool { return a.Verb == Start }
	for _, s := range c.Steps {
		for _, o := range s.Options {
			if c.Rig.Small && s.State.Bleed && slices.ContainsFunc(o.Do, starts) {
				return fmt.Errorf("%s, step %s: it starts with its air valve open", c.Procedure, s.ID)
			}
		}
	}
	return nil
}

// careByState keeps a caution to where it is true: a start from a distance with the bleed open is for what was opened.
// Elsewhere the label's pressure is left of it.
func (c *Script) careByState() {
	restart, label := c.Rig.caution(Restart), c.Rig.caution(OverLabel)
	shown := false
	for i := range c.Steps {
		s := &c.Steps[i]
		opened := s.State.Opened || s.State.Bleed
		s.Care = replaced(s.Care, restart, label, !opened)
		shown = shown || slices.Contains(s.Care, restart)
	}
	c.Cautions = replaced(c.Cautions, restart, label, !shown)
}

// soakFrom is a wait, s, beside which a hand goes on with other work.
const soakFrom = 3600

// waits are the seconds of waits of some length and over that no way to the aim can pass by.
func (c *Script) waits(from float64) float64 {
	least := map[string]float64{c.Steps[0].ID: 0}
	end := math.Inf(1)
	for range c.Steps { // as many rounds as the longest way has steps
		for _, s := range c.Steps {
			sofar, ok := least[s.ID]
			if !ok {
				continue
			}
			if s.Timer != nil && s.Timer.Least >= from {
				sofar += s.Timer.Least
			}
			for _, o := range s.Options {
				was, seen := least[o.To]
				switch {
				case o.To == "" && o.Ends == "":
					end = math.Min(end, sofar)
				case o.To != "" && (!seen || sofar < was):
					least[o.To] = sofar
				}
			}
		}
	}
	if math.IsInf(end, 1) { // every way ends before its aim: at the electrician's
		return 0
	}
	return end
}

// replaced puts one caution in another's place, where it should, and says nothing twice.
func replaced(care []words.Message, old, by words.Message, should bool) []words.Message {
	out := make([]words.Message, 0, len(care))
	for _, x := range care {
		if should && x == old {
			x = by
		}
		if !slices.Contains(out, x) {
			out = append(out, x)
		}
	}
	return out
}
