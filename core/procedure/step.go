package procedure

import (
	"maps"
	"math"
	"slices"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// ID names a procedure.
type ID string

// Procedure is one of the trade's procedures, as data. Its texts may hold figures
// in braces, like {wasteGpm}; a sentence whose figure is not known is left out.
type Procedure struct {
	ID      ID
	Name    words.Message
	Aim     words.Message
	Minutes float64 // a usual hand's
	On      func(*Setup) bool
	From    func(*Rig) State // the state it finds; nil is daily use
	// AtOnce tells that it stops a pump in trouble before anything is asked: no water moves
	// that could cool a heater.
	AtOnce bool
	// Ends tells whether it may end in a state that is not as in daily use.
	Ends  func(*Rig, State) bool
	Care  []Care // shown in full before it starts
	Takes []Take
	Steps []Step
	// Short is the form of a routine that a weekly visit bears: the same interlocks and
	// looks in fewer confirmations; nil has none.
	Short []Step
	// Renews is the kind of part and the model that come in new with it; empty for none.
	Renews [2]string
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
	Name   words.Message `json:"name"`
	Amount words.Message `json:"amount"`
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
	Least float64 `json:"least,omitempty" doc:"going on sooner takes a reason, which is kept, and the time is no measurement then; 0: none"`
	GPM   float64 `json:"gpm,omitempty" doc:"what leaves the pool while it counts; 0: nothing, or not known"`
}

// Level is a step that lowers the pool: its timer counts inches of this pad's flow.
type Level struct {
	Inches float64 // until it should be looked at
	Most   float64 // inches that are too many
	Drain  bool    // through the main drain's line alone
}

// Step is one step of a procedure.
type Step struct {
	ID    string
	Text  words.Message
	Hint  words.Message
	Why   words.Message
	Care  []Care
	Do    []Action // what the hand does; done when it is confirmed
	Read  Phase
	Speed string // name of the figure that is the speed to read at
	// Recalls shows what was timed by this count so far: an answer stands on it.
	Recalls Count
	Timer   *Timer
	Level   *Level
	When    func(*Setup) bool
	// Each writes the step out once for each of these, as {each} in its texts and each
	// in its actions.
	Each func(*Setup) []Place
	// Answers part the ways; a step without any is confirmed.
	Answers []Answer
}

// Place is one of several that a step is written out for.
type Place struct {
	Arg  string
	Name words.Message
}

// Answer is one answer to a step's question.
type Answer struct {
	ID    string
	Text  words.Message
	Do    []Action
	To    string // step to go to; "" is the next
	Ends  bool   // the run ends here, for Says' reason
	Sign  fault.Sign
	Yes   bool
	Glass string // picture of the sight glass: dirty or clear
	Part  string // that was found bad: it is owed
	// Settles tells of an answer that ends the step's wait before its time: what was waited for has come.
	Settles bool
}

// Ways are a company's choices where the trade's schools differ.
type Ways struct {
	Rinse  string `json:"rinse" enum:"timed,clear" doc:"rinse 10–15 s, or until the glass is clear"`
	Prime  string `json:"prime" enum:"skimmer,drain,shut" doc:"nearest skimmer first, main drain first, or start on shut lines and open the drain at once"`
	Seal   string `json:"seal" enum:"greased,dry" doc:"lid O-ring greased, or clean and dry"`
	Winter string `json:"winter,omitempty" enum:"blown,antifreeze" doc:"lines blown and plugged, or pool antifreeze in them too"`
}

// DefaultWays are the handbook's.
func DefaultWays() Ways {
	return Ways{Rinse: "timed", Prime: "skimmer", Seal: "greased", Winter: "blown"}
}

// Setup is what a procedure is written out for.
type Setup struct {
	Rig     Rig
	Ways    Ways
	Figures Figures
	// Start is the state that the pad was left in at this stop; nil is daily use.
	Start *State
	// Short asks for the short form, where there is one.
	Short bool
	// Returns and Freeze name the return lines, and the parts that can freeze.
	Returns []string
	Freeze  []words.Message
	// Waste is what leaves the pool while a count runs, gpm.
	Waste map[Count]float64
	// InchSeconds is how long the waste path takes for an inch of the pool, and
	// DrainInchSeconds through the main drain's line alone; 0 not known, or no way.
	InchSeconds, DrainInchSeconds float64
}

// Figures are computed values by name.
type Figures words.Args

// fill gives a text the figures that it asks for; a sentence that lacks one is left out
// when it is said.
func (f Figures) fill(text words.Message) words.Message {
	if text == "" {
		return ""
	}
	return words.With(text, words.Args(f))
}

// guards are the verbs whose confirmation is an interlock.
var guards = map[Verb]bool{
	Stop:      true,
	LockOff:   true,
	Relieve:   true,
	Unlock:    true,
	HandOut:   true,
	PeopleOut: true,
	Cool:      true,
}

func (s *Step) kind() Kind {
	switch {
	case s.Read != "":
		return KindReading
	case s.Timer != nil || s.Level != nil:
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
	out := &Script{
		Procedure:  p.ID,
		Name:       p.Name,
		Aim:        setup.Figures.fill(p.Aim),
		Minutes:    p.Minutes,
		Rig:        setup.Rig,
		Start:      setup.Rig.Daily(),
		Item:       p.Item,
		Work:       p.Work,
		Discharges: p.Discharges,
		Takes:      []Take{},
		Steps:      []ScriptStep{},
	}
	if p.From != nil {
		out.Start = p.From(&setup.Rig)
	}
	out.Cautions = setup.Rig.care(p.Care)
	for _, m := range p.Takes {
		if amount := setup.Figures.fill(m.Amount); m.Amount == "" || words.Plain.Say(amount) != "" {
			out.Takes = append(out.Takes, Take{m.Name, amount})
		}
	}
	steps := p.Steps
	if setup.Short && p.Short != nil {
		steps = p.Short
	}
	for i := range steps {
		if s := &steps[i]; s.When == nil || s.When(setup) {
			out.Steps = append(out.Steps, s.expand(setup)...)
		}
	}
	if p.From == nil && !p.AtOnce && setup.Rig.Heater {
		out.askHeat(setup)
	}
	out.confirmEndings(setup)
	if err := out.resolve(); err != nil {
		return out, err
	}
	if err := out.endOnProgram(setup); err != nil {
		return out, err
	}
	if s := setup.Start; s != nil && *s != setup.Rig.Daily() && p.From == nil {
		if err := out.beginIn(*s, setup); err != nil {
			return out, err
		}
	}
	return out, out.link(p.Ends)
}

// expand writes a step out, once or for each of its places.
func (s *Step) expand(setup *Setup) []ScriptStep {
	if s.Each == nil {
		return []ScriptStep{s.write(setup)}
	}
	var out []ScriptStep
	for _, p := range s.Each(setup) {
		at := *setup
		at.Figures = maps.Clone(setup.Figures)
		at.Figures["each"] = words.Msg(p.Name)
		w := s.write(&at)
		w.ID = s.ID + "-" + p.Arg
		for i := range w.Options {
			o := &w.Options[i]
			if o.To == s.ID {
				o.To = w.ID
			}
			o.Do = slices.Clone(o.Do)
			for j := range o.Do {
				if o.Do[j].Arg == each {
					o.Do[j].Arg = p.Arg
				}
			}
		}
		out = append(out, w)
	}
	return out
}

// each is an action's argument that the place of its step stands for.
const each = "each"

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
	maps.Copy(out.Figures, s.Figures)
	if i, ok := s.Rig.line(firstLine); ok {
		out.Figures["firstLine"] = words.Name(s.Rig.Suction[i])
	}
	if i, ok := s.Rig.line(drainLine); ok {
		out.Figures["drainLine"] = words.Name(s.Rig.Suction[i])
	}
	if s.Rig.Below {
		out.Figures["belowMust"] = words.Msg("procedure.a-must-here-this-pad")
	}
	return &out
}

// care are cautions in words, without those of a handle where there is none.
func (r *Rig) care(ids []Care) []words.Message {
	out := []words.Message{}
	for _, c := range ids {
		if c != DeadHead || r.Valve != pad.NoValve {
			out = append(out, r.caution(c))
		}
	}
	return out
}

// caution is one in words: what has a plug is unplugged, and has no breaker, band or gauge.
func (r *Rig) caution(c Care) words.Message {
	if text, ok := smallCautions[c]; ok && r.Small {
		return text
	}
	return cautions[c]
}

func (s *Step) write(setup *Setup) ScriptStep {
	f := setup.Figures
	w := ScriptStep{
		ID:      s.ID,
		Kind:    s.kind(),
		Text:    f.fill(s.Text),
		Hint:    f.fill(s.Hint),
		Why:     f.fill(s.Why),
		Read:    s.Read,
		Recalls: s.Recalls,
		Timer:   s.timer(setup),
		Care:    setup.Rig.care(s.Care),
		Leave:   []words.Message{},
	}
	w.RPM = f[s.Speed].Value()
	if len(s.Answers) == 0 {
		w.Options = []Option{{ID: Done, Do: s.Do}}
	}
	for _, a := range s.Answers {
		o := Option{
			ID:    a.ID,
			Text:  f.fill(a.Text),
			Do:    append(append([]Action{}, s.Do...), a.Do...),
			To:    a.To,
			Glass: a.Glass,
			Sign:  a.Sign,
			Yes:   a.Yes,
			Part:  a.Part,

			Settles: a.Settles,
		}
		if a.Ends {
			o.Ends, o.ending = o.Text, len(a.Do)
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

// timer is a step's timer with this pad's own water in it: an inch takes what it takes.
func (s *Step) timer(setup *Setup) *Timer {
	if s.Level != nil {
		inch := setup.InchSeconds
		if s.Level.Drain {
			inch = setup.DrainInchSeconds
		}
		if inch <= 0 {
			return nil
		}
		return &Timer{
			Count: CountWaste,
			Low:   math.Round(inch),
			High:  math.Round(inch * s.Level.Inches),
			Most:  math.Round(inch * s.Level.Most),
			GPM:   setup.wasteOf(s.Level),
		}
	}
	if s.Timer == nil {
		return nil
	}
	t := *s.Timer
	t.GPM = setup.Waste[t.Count]
	return &t
}

func (s *Setup) wasteOf(l *Level) float64 {
	if l.Drain {
		return s.Waste[CountWaste] * s.InchSeconds / s.DrainInchSeconds
	}
	return s.Waste[CountWaste]
}

// Find gives a procedure of the library, nil for none.
func Find(id ID) *Procedure {
	for i := range Library {
		if Library[i].ID == id {
			return &Library[i]
		}
	}
	return nil
}

// Called are the procedures whose name holds some letters, in any language.
func Called(letters string) []string {
	letters = strings.ToLower(letters)
	var out []string
	for i := range Library {
		p := &Library[i]
		for _, lang := range words.Languages {
			texts, err := words.Texts(lang)
			if err == nil && strings.Contains(strings.ToLower(texts[string(p.Name)]), letters) {
				out = append(out, string(p.ID))
				break
			}
		}
	}
	return out
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
