package procedure

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

// ID names a procedure.
type ID string

// Procedure is one of the trade's procedures, as data. Its texts may hold figures
// in braces, like {wasteGpm}; a sentence whose figure is not known is left out.
type Procedure struct {
	ID      ID
	Name    string
	Aim     string
	Minutes float64 // a usual hand's
	On      func(*Setup) bool
	From    func(*Rig) State // the state it finds; nil is daily use
	Care    []Care           // shown in full before it starts
	Takes   []Take
	Steps   []Step
	// Item is the due work that it does, Work what the visit's record calls it.
	Item, Work string
	// Discharges tells that water leaves the pool: holds and no-discharge days count.
	Discharges bool
	// Mends are the faults that it puts right where they are the cause, Narrows those
	// that it narrows down where the hand is already.
	Mends, Narrows []fault.ID
	// Checks are the signs that it answers.
	Checks []fault.Sign
}

// Take is something it takes; its amount may be a figure.
type Take struct {
	Name   string `json:"name"`
	Amount string `json:"amount"`
}

// Phase is what a reading in a run is.
type Phase string

// The readings of runs.
const (
	Before Phase = "before"
	After  Phase = "after" // settled, at the speed of the one before
	Walk   Phase = "walk"  // one of several speeds of a clean line
	Bare   Phase = "bare"  // grids without DE
	InSpa  Phase = "spa"
)

// Count is what a timer counts.
type Count string

// The counts that a record keeps.
const (
	CountBackwash Count = "backwash"
	CountRinse    Count = "rinse"
	CountPrime    Count = "prime" // the pot full on one line: what wear is judged by
	CountBleed    Count = "bleed" // air out of the tank
	CountDrain    Count = "drain"
	CountWait     Count = "wait"
	CountWaste    Count = "waste"
)

// Timer is a step that takes its time, seconds.
type Timer struct {
	Count Count   `json:"count" enum:"backwash,rinse,prime,bleed,drain,wait,waste"`
	Low   float64 `json:"low" doc:"usual from"`
	High  float64 `json:"high" doc:"usual to"`
	Most  float64 `json:"most" doc:"stop here; 0 has no end"`
}

// Step is one step of a procedure.
type Step struct {
	ID    string
	Says  string
	Hint  string
	Why   string
	Care  []Care
	Do    []Action // what the hand does; done when it is confirmed
	Read  Phase
	Timer *Timer
	When  func(*Setup) bool
	// Answers part the ways; a step without any is confirmed.
	Answers []Answer
}

// Answer is one answer to a step's question.
type Answer struct {
	ID    string
	Says  string
	Do    []Action
	To    string // step to go to; "" is the next
	Ends  bool   // the run ends here, for Says' reason
	Sign  fault.Sign
	Yes   bool
	Glass string // picture of the sight glass: dirty or clear
}

// Ways are a company's choices where the trade's schools differ.
type Ways struct {
	Rinse string `json:"rinse" enum:"timed,clear" doc:"rinse 10–15 s, or until the glass is clear"`
	Prime string `json:"prime" enum:"skimmer,drain,shut" doc:"nearest skimmer first, main drain first, or start on shut lines and open the drain at once"`
	Seal  string `json:"seal" enum:"greased,dry" doc:"lid O-ring greased, or clean and dry"`
}

// DefaultWays are the handbook's.
func DefaultWays() Ways { return Ways{Rinse: "timed", Prime: "skimmer", Seal: "greased"} }

// Setup is what a procedure is written out for.
type Setup struct {
	Rig     Rig
	Ways    Ways
	Figures Figures
}

// Figures are computed values by name, written for reading.
type Figures map[string]string

var figure = regexp.MustCompile(`\{([a-zA-Z0-9]+)\}`)

// fill puts figures into a text, leaving out every sentence that lacks one.
func (f Figures) fill(text string) string {
	var out []string
	for _, s := range sentences(text) {
		whole := true
		s = figure.ReplaceAllStringFunc(s, func(m string) string {
			v, ok := f[m[1:len(m)-1]]
			whole = whole && ok
			return v
		})
		if whole {
			out = append(out, s)
		}
	}
	return strings.Join(out, " ")
}

var sentenceEnd = regexp.MustCompile(`[.?!] `)

func sentences(text string) []string {
	var out []string
	for text != "" {
		at := sentenceEnd.FindStringIndex(text)
		if at == nil {
			return append(out, text)
		}
		out, text = append(out, text[:at[0]+1]), text[at[1]:]
	}
	return out
}

// Script is a procedure written out for one pad, as a run keeps it: later changes of
// the library leave it alone.
type Script struct {
	Procedure  ID           `json:"procedure"`
	Name       string       `json:"name"`
	Aim        string       `json:"aim"`
	Minutes    float64      `json:"minutes"`
	Rig        Rig          `json:"rig"`
	Start      State        `json:"start"`
	Cautions   []string     `json:"cautions" nullable:"false"`
	Takes      []Take       `json:"takes" nullable:"false"`
	Steps      []ScriptStep `json:"steps" nullable:"false"`
	Item       string       `json:"item"`
	Work       string       `json:"work"`
	Discharges bool         `json:"discharges"`
	WasteGPM   float64      `json:"wasteGpm" doc:"what leaves the pool while a timer counts backwash, rinse or waste; 0 unknown"`
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
	ID      string   `json:"id"`
	Kind    Kind     `json:"kind" enum:"action,look,reading,timer,interlock"`
	Says    string   `json:"says"`
	Hint    string   `json:"hint"`
	Why     string   `json:"why"`
	Care    []string `json:"care" nullable:"false"`
	Read    Phase    `json:"read" enum:",before,after,walk,bare,spa"`
	Timer   *Timer   `json:"timer,omitempty"`
	State   State    `json:"state" doc:"of the pad when this step is next"`
	Options []Option `json:"options" nullable:"false"`
	Leave   []string `json:"leave" nullable:"false" doc:"the safe way out from here"`
	Left    State    `json:"left" doc:"the state that the way out leads to"`
}

// Option is one way on from a step.
type Option struct {
	ID    string     `json:"id"`
	Says  string     `json:"says" doc:"empty: done"`
	Do    []Action   `json:"do" nullable:"false"`
	To    string     `json:"to" doc:"step; empty: the run ends"`
	Ends  string     `json:"ends" doc:"why the run ends here without its aim; empty: it does not"`
	Glass string     `json:"glass" enum:",dirty,clear"`
	Sign  fault.Sign `json:"sign,omitempty"`
	Yes   bool       `json:"yes,omitempty"`
}

// Done is the option of a step without answers.
const Done = "done"

// guards are the verbs whose confirmation is an interlock.
var guards = map[Verb]bool{Stop: true, LockOff: true, Relieve: true, Unlock: true, HandOut: true, PeopleOut: true, Cool: true}

func (s *Step) kind() Kind {
	switch {
	case s.Read != "":
		return KindReading
	case s.Timer != nil:
		return KindTimer
	case len(s.Answers) > 0:
		return KindLook
	}
	for _, a := range s.Do {
		if guards[a.Verb] {
			return KindInterlock
		}
	}
	return KindAction
}

// Write writes a procedure out for a pad. It fails when a step could break a rule,
// when a step is entered in two different states, or when its end is not the daily
// state: then the library is wrong.
func (p *Procedure) Write(setup *Setup) (*Script, error) {
	setup = setup.named()
	out := &Script{Procedure: p.ID, Name: p.Name, Aim: setup.Figures.fill(p.Aim), Minutes: p.Minutes, Rig: setup.Rig, Start: setup.Rig.Daily(), Item: p.Item, Work: p.Work, Discharges: p.Discharges, Takes: []Take{}, Steps: []ScriptStep{}}
	if p.From != nil {
		out.Start = p.From(&setup.Rig)
	}
	out.Cautions = setup.Rig.care(p.Care)
	for _, m := range p.Takes {
		if amount := setup.Figures.fill(m.Amount); amount != "" || m.Amount == "" {
			out.Takes = append(out.Takes, Take{m.Name, amount})
		}
	}
	for i := range p.Steps {
		if s := &p.Steps[i]; s.When == nil || s.When(setup) {
			out.Steps = append(out.Steps, s.write(setup))
		}
	}
	if p.From == nil && setup.Rig.Heater {
		out.askHeat(setup)
	}
	return out, out.link()
}

// askHeat asks before the first stop whether the heater is hot (state rule 8). What is
// found in trouble stops at once: it has no water to cool with.
func (c *Script) askHeat(setup *Setup) {
	at := slices.IndexFunc(c.Steps, func(s ScriptStep) bool {
		return slices.ContainsFunc(s.Options, func(o Option) bool {
			return slices.ContainsFunc(o.Do, func(a Action) bool { return a.Verb == Stop })
		})
	})
	if at < 0 {
		return
	}
	var ask []ScriptStep
	for _, s := range heatAsked(c.Steps[at].ID) {
		ask = append(ask, s.write(setup))
	}
	c.Steps = slices.Insert(c.Steps, at, ask...)
}

// named adds what the rig itself names.
func (s *Setup) named() *Setup {
	out := *s
	out.Figures = Figures{}
	for k, v := range s.Figures {
		out.Figures[k] = v
	}
	if i, ok := s.Rig.line(firstLine); ok {
		out.Figures["firstLine"] = s.Rig.Suction[i]
	}
	if i, ok := s.Rig.line(drainLine); ok {
		out.Figures["drainLine"] = s.Rig.Suction[i]
	}
	if s.Rig.Below {
		out.Figures["belowMust"] = "A must here: this pad lies below the water."
	}
	return &out
}

// care are cautions in words, without those of a handle where there is none.
func (r *Rig) care(ids []Care) []string {
	out := []string{}
	for _, c := range ids {
		if c != DeadHead || r.Valve != pad.NoValve {
			out = append(out, cautions[c])
		}
	}
	return out
}

func (s *Step) write(setup *Setup) ScriptStep {
	f := setup.Figures
	w := ScriptStep{ID: s.ID, Kind: s.kind(), Says: f.fill(s.Says), Hint: f.fill(s.Hint), Why: f.fill(s.Why), Read: s.Read, Timer: s.Timer, Care: setup.Rig.care(s.Care), Leave: []string{}}
	if len(s.Answers) == 0 {
		w.Options = []Option{{ID: Done, Do: s.Do}}
	}
	for _, a := range s.Answers {
		o := Option{ID: a.ID, Says: f.fill(a.Says), Do: append(append([]Action{}, s.Do...), a.Do...), To: a.To, Glass: a.Glass, Sign: a.Sign, Yes: a.Yes}
		if a.Ends {
			o.Ends = o.Says
		}
		w.Options = append(w.Options, o)
	}
	for i := range w.Options {
		if w.Options[i].Do == nil {
			w.Options[i].Do = []Action{}
		}
	}
	return w
}

// link resolves where each option leads and follows them all from the start.
func (c *Script) link() error {
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
			s.Leave = append(s.Leave, c.Rig.Says(a))
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
				if says := c.Rig.Unlike(after); says != "" && o.Ends == "" && !endsLocked[c.Procedure] {
					return fmt.Errorf("%s ends unlike daily use: %s", c.Procedure, says)
				}
				if !c.Rig.Safe(after) {
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
				return fmt.Errorf("%s, step %s, %s: %s is entered in another state than before", c.Procedure, s.ID, o.ID, o.To)
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

// endsLocked are the procedures that leave a pad locked off on purpose.
var endsLocked = map[ID]bool{SeasonClose: true}

// Find gives a procedure of the library, nil for none.
func Find(id ID) *Procedure {
	for i := range Library {
		if Library[i].ID == id {
			return &Library[i]
		}
	}
	return nil
}

// For lists the procedures that suit a pad.
func For(setup *Setup) []*Procedure {
	var out []*Procedure
	for i := range Library {
		if p := &Library[i]; p.On == nil || p.On(setup) {
			out = append(out, p)
		}
	}
	return out
}
