package procedure

import (
	"reflect"
	"strconv"

	"fairlap/core/words"
)

// asFound is the step that asks whether a pad is as this stop left it.
const asFound = "as-left"

// beginIn has a run begin in the state that the stop left the pad in. That is asked first.
// Then come the steps of the procedure with what is done already left out, and before each
// that needs another state the way there, until the pad is where the procedure has it; or,
// where somebody has put all back meanwhile, the procedure as it is. It is for procedures that begin
// in daily use.
func (c *Script) beginIn(from State, setup *Setup) error {
	if err := c.follow(func(*ScriptStep, *Option, State) error { return nil }); err != nil {
		return err
	}
	head, join, ok := c.head(from, setup)
	if !ok {
		return &Refusal{Text: words.Of("procedure.cannot-begin-as-left", "left", words.Msg(c.Rig.Unlike(from)))}
	}
	first := join
	if len(head) > 0 {
		first = head[0].ID
	}
	ask := (&Step{
		ID:   asFound,
		Text: words.Of("procedure.as-left.says", "left", words.Msg(c.Rig.Unlike(from))),
		Why:  "procedure.as-left.why",
		Answers: []Answer{
			{ID: "no", Text: "procedure.as-left.no.says", Do: []Action{do(FoundUsual)}, To: c.Steps[0].ID},
			{ID: "yes", Text: "procedure.as-left.yes.says", To: first},
		},
	}).write(setup)
	c.Start = from
	c.Steps = append(append([]ScriptStep{ask}, head...), c.Steps...)
	c.drop()
	return nil
}

// head is the way from a state into a procedure's own steps: its steps, and which of the
// procedure's is next then; false when no way leads there.
func (c *Script) head(from State, setup *Setup) (head []ScriptStep, join string, ok bool) {
	at := map[string]*ScriptStep{}
	for i := range c.Steps {
		at[c.Steps[i].ID] = &c.Steps[i]
	}
	leadTo := func(id string) { // from the last step so far
		if n := len(head); n > 0 {
			for i := range head[n-1].Options {
				if o := &head[n-1].Options[i]; o.Ends == "" && o.To == "" {
					o.To = id
				}
			}
		}
	}
	add := func(s ScriptStep) {
		s.ID = "left-" + strconv.Itoa(len(head)+1)
		leadTo(s.ID)
		head = append(head, s)
	}
	now := from
	s := &c.Steps[0]
	for s != nil && now != s.State {
		next, same := s.onlyWay()
		switch {
		case s.Read == Before && (!now.Running || now.Setting != s.State.Setting), s.ID == heatAskedID && !now.Running:
			// Nothing to read, and no water to cool with: neither is asked.
			if s.ID == heatAskedID {
				next = s.Options[len(s.Options)-1].To
			}
			s = at[next]
			continue
		case same && len(s.acts()) == 0 && next != "":
			look := *s
			look.Options = append([]Option{}, s.Options...)
			for i := range look.Options {
				if o := &look.Options[i]; o.Ends == "" {
					o.To = ""
				}
			}
			add(look)
			s = at[next]
			continue
		case same && next != "" && s.handOnly() && c.done(now, s):
			s = at[next]
			continue
		}
		way, found := c.Rig.Back(now, s.State)
		if !found {
			return nil, "", false
		}
		for _, a := range way {
			add(c.Rig.handStep(a).write(setup))
		}
		now = s.State
	}
	if s == nil {
		return nil, "", false
	}
	leadTo(s.ID)
	return head, s.ID, true
}

// onlyWay is the step that all options lead to which do not end the run; false when they
// part, or stay.
func (s *ScriptStep) onlyWay() (to string, same bool) {
	for _, o := range s.Options {
		switch {
		case o.Ends != "" && o.To == "":
		case o.Ends != "": // its end takes work, from the state that it has here
			return "", false
		case to == "" && o.To != s.ID:
			to = o.To
		case o.To != to:
			return "", false
		}
	}
	return to, to != ""
}

// acts are what the options that go on do.
func (s *ScriptStep) acts() []Action {
	var out []Action
	for _, o := range s.Options {
		if o.Ends == "" {
			out = append(out, o.Do...)
		}
	}
	return out
}

// done tells whether what a step does is so in a state already.
func (c *Script) done(now State, s *ScriptStep) bool {
	after, err := c.Rig.Do(s.State, s.Options[0].Do...)
	if err != nil {
		return false
	}
	is, was, will := reflect.ValueOf(now), reflect.ValueOf(s.State), reflect.ValueOf(after)
	for i := range will.NumField() {
		if !will.Field(i).Equal(was.Field(i)) && !will.Field(i).Equal(is.Field(i)) {
			return false
		}
	}
	return true
}

// drop leaves out the steps that nothing leads to.
func (c *Script) drop() {
	at := map[string]int{}
	for i, s := range c.Steps {
		at[s.ID] = i
	}
	seen := map[string]bool{c.Steps[0].ID: true}
	next := []string{c.Steps[0].ID}
	for len(next) > 0 {
		s := c.Steps[at[next[0]]]
		next = next[1:]
		for _, o := range s.Options {
			if o.To != "" && !seen[o.To] {
				seen[o.To] = true
				next = append(next, o.To)
			}
		}
	}
	kept := c.Steps[:0]
	for _, s := range c.Steps {
		if seen[s.ID] {
			kept = append(kept, s)
		}
	}
	c.Steps = kept
}
