package procedure

import (
	"fmt"

	"fairlap/core/fault"
	"fairlap/core/words"
)

// Script is a procedure written out for one pad, as a run keeps it: later changes of
// the library leave it alone.
type Script struct {
	Procedure  ID              `json:"procedure"`
	Name       words.Message   `json:"name"`
	Aim        words.Message   `json:"aim"`
	Minutes    float64         `json:"minutes"`
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
}

// Option is one way on from a step.
type Option struct {
	ID    string        `json:"id"`
	Text  words.Message `json:"says" doc:"empty: done"`
	Do    []Action      `json:"do" nullable:"false"`
	To    string        `json:"to" doc:"step; empty: the run ends"`
	Ends  words.Message `json:"ends" doc:"why the run ends here without its aim; empty: it does not"`
	Glass string        `json:"glass" enum:",dirty,clear"`
	Sign  fault.Sign    `json:"sign,omitempty"`
	Yes   bool          `json:"yes,omitempty"`
	Part  string        `json:"part,omitempty" doc:"found bad: it is owed"`
}

// Done is the option of a step without answers.
const Done = "done"

// link resolves where each option leads and follows them all from the start; ends tells
// of a state unlike daily use whether the procedure may end in it.
func (c *Script) link(ends func(*Rig, State) bool) error {
	at := make(map[string]int, len(c.Steps))
	for i, s := range c.Steps {
		if _, twice := at[s.ID]; twice {
			return fmt.Errorf("%s: two steps are called %s", c.Procedure, s.ID)
		}
		at[s.ID] = i
	}
	for i := range c.Steps {
		for j := range c.Steps[i].Options {
			o := &c.Steps[i].Options[j]
			if o.To == "" && o.Ends == "" && i+1 < len(c.Steps) {
				o.To = c.Steps[i+1].ID
			}
			if _, ok := at[o.To]; !ok && o.To != "" {
				return fmt.Errorf("%s, step %s: no step %s here", c.Procedure, c.Steps[i].ID, o.To)
			}
		}
	}
	if len(c.Steps) == 0 {
		return fmt.Errorf("%s has no steps here", c.Procedure)
	}
	seen := map[string]bool{c.Steps[0].ID: true}
	c.Steps[0].State = c.Start
	next := []string{c.Steps[0].ID}
	for len(next) > 0 {
		s := &c.Steps[at[next[0]]]
		next = next[1:]
		way := c.Rig.Leave(s.State)
		for _, a := range way {
			s.Leave = append(s.Leave, c.Rig.Instruction(a))
		}
		var err error
		if s.Left, err = c.Rig.Do(s.State, way...); err != nil {
			return fmt.Errorf("%s: no safe way out of step %s: %w", c.Procedure, s.ID, err)
		}
		for _, o := range s.Options {
			after, err := c.Rig.Do(s.State, o.Do...)
			if err != nil {
				return fmt.Errorf("%s, step %s, %s: %w", c.Procedure, s.ID, o.ID, err)
			}
			if o.To == "" {
				allowed := ends != nil && ends(&c.Rig, after)
				if text := c.Rig.Unlike(after); text != "" && o.Ends == "" && !allowed {
					return fmt.Errorf("%s ends unlike daily use: %s", c.Procedure, words.Plain.Say(text))
				}
				if !c.Rig.Safe(after) && !allowed {
					return fmt.Errorf("%s, step %s, %s: it ends where nobody may go away", c.Procedure, s.ID, o.ID)
				}
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
