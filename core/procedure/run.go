package procedure

import (
	"errors"
	"fmt"
	"slices"
	"time"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/words"
)

// Act is what an event of a run says.
type Act string

// The acts. Those that move the run carry its turn.
const (
	ActGo     Act = "go"     // an option of a step was taken
	ActTimer  Act = "timer"  // a step's timer was started
	ActNote   Act = "note"   // something was written down
	ActBack   Act = "back"   // to the step before
	ActLeave  Act = "leave"  // left half-way, safely
	ActResume Act = "resume" // gone on with
	ActEnd    Act = "end"    // given up for good
)

// Moves tells whether an act moves the run on.
func (a Act) Moves() bool { return a != ActTimer && a != ActNote }

// Event is one thing that happened in a run. Events are never changed or removed.
type Event struct {
	At      time.Time         `json:"at"`
	By      string            `json:"by"`
	Act     Act               `json:"act"`
	Turn    int               `json:"turn" doc:"of a moving act: how many came before it"`
	Step    string            `json:"step,omitempty"`
	Option  string            `json:"option,omitempty"`
	Reading *casefile.Reading `json:"reading,omitempty"`
	Note    string            `json:"note,omitempty"`
}

// Errors of events that can't be taken.
var (
	// ErrTurn is that somebody else has moved the run on meanwhile.
	ErrTurn = errors.New("the run has moved on meanwhile")
	// ErrOver is that the run has ended.
	ErrOver = errors.New("the run is over")
	// ErrAway is that the run was left and must be taken up first.
	ErrAway = errors.New("the run was left: take it up first")
	// ErrNoWay is that no safe way leads there.
	ErrNoWay = errors.New("no way leads there")
	// ErrUnsafe is that a pad can't be left as it stands: leave the run first.
	ErrUnsafe = errors.New("the pad can't be left as it stands")
	// ErrNoReading is that a step asks for a reading.
	ErrNoReading = errors.New("this step asks for a reading")
	// ErrEarly is that a wait is not over, and nobody said why it should end: see Early.
	ErrEarly = errors.New("this wait is not over")
	// ErrUnknown is a step, option or act that the run does not have.
	ErrUnknown = errors.New("there is no such step or answer here")
)

// Early is an ErrEarly with its figures, seconds.
type Early struct {
	Count       Count
	Least, Runs float64
}

func (e *Early) Error() string { return words.Plain.Say(e.Message()) }

// Message is the wait in a sentence.
func (e *Early) Message() words.Message {
	if e.Count == CountPrime || e.Count == CountDrain {
		return words.Of("procedure.s-is-too-quick-to", "runs", words.Q("s", e.Runs))
	}
	return words.Of("procedure.this-wait-takes-and-have", "least", span(e.Least), "runs", span(e.Runs))
}

func (e *Early) Unwrap() error { return ErrEarly }

func span(seconds float64) words.Arg {
	if seconds < 120 {
		return words.Q("s", seconds)
	}
	return words.Q("min", seconds/60)
}

// Entry is one step as it was done.
type Entry struct {
	Step    string            `json:"step"`
	Text    words.Message     `json:"says"`
	Answer  words.Message     `json:"answer"`
	At      time.Time         `json:"at"`
	By      string            `json:"by"`
	Seconds float64           `json:"seconds" doc:"that its timer ran; 0: none"`
	Early   string            `json:"early,omitempty" doc:"why a wait that binds was ended before its time"`
	Reading *casefile.Reading `json:"reading,omitempty"`
}

// Run is where a run stands: the fold of its events over its script.
type Run struct {
	Script *Script
	Turn   int
	At     string // the step that is next; "" when over
	State  State
	Done   []Entry
	Notes  []string
	// Timers are when the timers of steps were started, the last time.
	Timers map[string]time.Time
	Left   *time.Time
	Ended  *time.Time
	// Why is why it ended without its aim; "" when it reached it.
	Why words.Message

	came   []string          // steps before At, for going back
	counts map[Count]float64 // seconds altogether
	whole  map[Count]float64 // seconds of the last that came to its answer
	waste  float64           // gallons that left the pool
	facts  Result
	readAt map[string]int // where a step's reading is among those of its kind
}

// Begin is a run before its first event.
func (c *Script) Begin() *Run {
	return &Run{
		Script: c,
		At:     c.Steps[0].ID,
		State:  c.Start,
		Timers: map[string]time.Time{},
		Done:   []Entry{},
		Notes:  []string{},
		counts: map[Count]float64{},
		whole:  map[Count]float64{},
	}
}

// Fold takes events in order.
func (c *Script) Fold(events []Event) (*Run, error) {
	r := c.Begin()
	for i, e := range events {
		if err := r.Take(e); err != nil {
			return r, fmt.Errorf("event %d, %s: %w", i+1, e.Act, err)
		}
	}
	return r, nil
}

func (c *Script) step(id string) *ScriptStep {
	for i := range c.Steps {
		if c.Steps[i].ID == id {
			return &c.Steps[i]
		}
	}
	return nil
}

// Doses tells whether an option of a step puts chemicals in.
func (c *Script) Doses(step, option string) bool {
	s := c.step(step)
	if s == nil {
		return false
	}
	for _, o := range s.Options {
		if o.ID == option && slices.ContainsFunc(o.Do, func(a Action) bool { return a.Verb == Dose }) {
			return true
		}
	}
	return false
}

// Next is the step that is next; nil when the run is over.
func (r *Run) Next() *ScriptStep { return r.Script.step(r.At) }

// Take takes one event in, or says why it can't be: nothing changes then.
func (r *Run) Take(e Event) error {
	if e.Act.Moves() {
		switch {
		case e.Turn != r.Turn:
			return ErrTurn
		case r.Ended != nil:
			return ErrOver
		case r.Left != nil && e.Act != ActResume && e.Act != ActEnd:
			return ErrAway
		}
	}
	var err error
	switch e.Act {
	case ActGo:
		err = r.goOn(e)
	case ActTimer:
		if s := r.Script.step(e.Step); s == nil || s.Timer == nil {
			return ErrUnknown
		}
		if at, ok := r.Timers[e.Step]; !ok || e.At.After(at) && e.Step != r.At {
			r.Timers[e.Step] = e.At // the same timer started twice runs from its first start
		}
	case ActNote:
		r.Notes = append(r.Notes, e.Note)
	case ActBack:
		at := r.At
		if err = r.goBack(); err == nil {
			r.stopTimer(at, e.At)
		}
	case ActLeave:
		after, bad := r.Script.Rig.Do(r.State, r.Script.Rig.Leave(r.State)...)
		if err = bad; err == nil {
			at := e.At
			r.stopTimer(r.At, at)
			r.State, r.Left = after, &at
		}
	case ActResume:
		if r.Left == nil {
			return ErrUnknown
		}
		at, way, ok := r.Resumes()
		if !ok {
			return ErrNoWay
		}
		after, bad := r.Script.Rig.Do(r.State, way...)
		if err = bad; err == nil {
			if slices.Contains(r.came, at) || at == r.At {
				r.back(at)
			} else {
				r.came, r.At = append(r.came, r.At), at
			}
			r.State, r.Left = after, nil
		}
	case ActEnd:
		if !r.Script.Rig.Safe(r.State) && r.State != r.Script.Start { // as it was begun, it made nothing worse
			return ErrUnsafe
		}
		at := e.At
		r.Ended, r.At, r.Why = &at, "", "procedure.given-up"
	default:
		return ErrUnknown
	}
	if err == nil && e.Act.Moves() {
		r.Turn++
	}
	return err
}

func (r *Run) goOn(e Event) error {
	s := r.Next()
	if s == nil || s.ID != e.Step {
		return ErrUnknown
	}
	var o *Option
	for i := range s.Options {
		if s.Options[i].ID == e.Option {
			o = &s.Options[i]
		}
	}
	if o == nil {
		return ErrUnknown
	}
	if s.Read != "" && e.Reading == nil {
		return ErrNoReading
	}
	early := r.early(s, o, e.At)
	if early != nil && e.Note == "" {
		return early
	}
	after, err := r.Script.Rig.Do(r.State, o.Do...)
	if err != nil {
		return err
	}
	r.State = after
	entry := Entry{Step: s.ID, Text: s.Text, Answer: o.Text, At: e.At, By: e.By, Reading: e.Reading}
	if o.To != s.ID {
		entry.Seconds = r.stopTimer(s.ID, e.At)
		if early != nil {
			entry.Early = e.Note
		} else if s.Timer != nil && o.Ends == "" && entry.Seconds > 0 {
			if s.Timer.Count == CountDrain {
				r.facts.DrainBefore = r.whole[CountDrain]
			}
			r.whole[s.Timer.Count] = entry.Seconds
		}
		r.came = append(r.came, s.ID)
	}
	r.Done = append(r.Done, entry)
	r.learn(s, o, e)
	if r.At = o.To; o.To == "" {
		at := e.At
		r.Ended, r.Why = &at, o.Ends
	}
	return nil
}

// early tells whether an option goes on from a wait before its time; nil when it does
// not, or the timer binds nobody. What stops the run, and what stays, is free.
func (r *Run) early(s *ScriptStep, o *Option, at time.Time) *Early {
	if s.Timer == nil || s.Timer.Least <= 0 || o.Ends != "" || o.To == s.ID || o.Settles {
		return nil
	}
	ran := 0.0
	if from, ok := r.Timers[s.ID]; ok {
		ran = at.Sub(from).Seconds()
	}
	if ran >= s.Timer.Least-clockSlack {
		return nil
	}
	return &Early{s.Timer.Count, s.Timer.Least, ran}
}

// clockSlack is how much, s, a screen's clock may be ahead of the event's.
const clockSlack = 1

// stopTimer ends the timer of a step that is gone from, counts what it ran and gives
// it, seconds.
func (r *Run) stopTimer(step string, at time.Time) float64 {
	from, ok := r.Timers[step]
	s := r.Script.step(step)
	if !ok || s.Timer == nil {
		return 0
	}
	delete(r.Timers, step)
	ran := at.Sub(from).Seconds()
	r.counts[s.Timer.Count] += ran
	gpm := s.Timer.GPM
	if gpm == 0 && (s.Timer.Count == CountBackwash || s.Timer.Count == CountRinse || s.Timer.Count == CountWaste) {
		gpm = r.Script.WasteGPM
	}
	r.waste += ran / 60 * gpm
	return ran
}

// goBack goes to the step before by the way that leads there.
func (r *Run) goBack() error {
	to, way, ok := r.Before()
	if !ok {
		return ErrNoWay
	}
	after, err := r.Script.Rig.Do(r.State, way...)
	if err != nil {
		return err
	}
	r.State = after
	r.back(to)
	return nil
}

func (r *Run) back(to string) {
	for i := len(r.came) - 1; i >= 0 && r.At != to; i-- {
		r.At, r.came = r.came[i], r.came[:i]
	}
}

// Before is the step before this one, and what a hand does to stand there again.
func (r *Run) Before() (string, []Action, bool) {
	if len(r.came) == 0 || r.Ended != nil {
		return "", nil, false
	}
	to := r.came[len(r.came)-1]
	way, ok := r.Script.Rig.Back(r.State, r.Script.step(to).State)
	return to, way, ok
}

// Resumes is where a run that was left goes on: the step it was at, the one after it
// when leaving did what it asks for, or the last one before it that a safe way leads
// to.
func (r *Run) Resumes() (string, []Action, bool) {
	here := r.Next()
	if way, ok := r.Script.Rig.Back(r.State, here.State); ok {
		return here.ID, way, true
	}
	// What leaving did is not asked for again; a look, a wait and a reading are.
	for s := here; s != nil; {
		for _, o := range s.Options {
			if to := r.Script.step(o.To); to != nil && to.State == r.State {
				return o.To, []Action{}, true
			}
		}
		if !s.handOnly() {
			break
		}
		s = r.Script.step(s.Options[0].To)
	}
	for i := len(r.came) - 1; i >= 0; i-- {
		if way, ok := r.Script.Rig.Back(r.State, r.Script.step(r.came[i]).State); ok {
			return r.came[i], way, true
		}
	}
	return "", nil, false
}

// handOnly tells of a step that asks for nothing but a hand's work.
func (s *ScriptStep) handOnly() bool {
	return len(s.Options) == 1 && s.Timer == nil && s.Read == ""
}

// Result is what a run hands to the record.
type Result struct {
	Work         string              `json:"work" doc:"what the visit calls it; empty when the aim was not reached"`
	Item         string              `json:"item" doc:"due work that it did"`
	Before       *casefile.Reading   `json:"before,omitempty"`
	After        *casefile.Reading   `json:"after,omitempty"`
	Walk         []casefile.Reading  `json:"walk" nullable:"false" doc:"enough of them make a clean line"`
	Bare         []casefile.Reading  `json:"bare" nullable:"false" doc:"grids without their charge"`
	ChemicalsAt  *time.Time          `json:"chemicalsAt"`
	PrimeSeconds float64             `json:"primeSeconds"`
	DrainSeconds float64             `json:"drainSeconds" doc:"of the last test: after a soak"`
	DrainBefore  float64             `json:"drainBefore" doc:"of the test before it; 0: there was none"`
	WasteSeconds float64             `json:"wasteSeconds" doc:"that water ran to waste"`
	WasteGallons float64             `json:"wasteGallons" doc:"about; 0: none, or not known"`
	Signs        map[fault.Sign]bool `json:"signs"`
	// Mended are the faults that it put right, had they been the cause; WashSeconds is
	// how long its wash ran, of WashUsual; 0 where nobody timed one.
	Mended []fault.ID `json:"mended" nullable:"false"`
	// Renewed is the kind of part and the model that came in new; empty for none.
	Renewed [2]string `json:"renewed"`
	// Parts were found bad on the way: they are owed to this pad.
	Parts       []string `json:"parts" nullable:"false"`
	WashSeconds float64  `json:"washSeconds"`
	WashUsual   float64  `json:"washUsual"`
}

// learn keeps what a step says for the record.
func (r *Run) learn(s *ScriptStep, o *Option, e Event) {
	switch s.Read {
	case Before:
		r.facts.Before = e.Reading
	case After:
		r.facts.After = e.Reading
	}
	if s.Read == Bare {
		r.facts.Bare = r.reads(r.facts.Bare, s, e)
	}
	if s.Read == Walk || s.Read == After {
		r.facts.Walk = r.reads(r.facts.Walk, s, e)
	}
	if o.Sign != "" {
		if r.facts.Signs == nil {
			r.facts.Signs = map[fault.Sign]bool{}
		}
		r.facts.Signs[o.Sign] = o.Yes || r.facts.Signs[o.Sign]
	}
	if o.Part != "" && !slices.Contains(r.facts.Parts, o.Part) {
		r.facts.Parts = append(r.facts.Parts, o.Part)
	}
	if r.Script.Doses(s.ID, o.ID) {
		at := e.At
		r.facts.ChemicalsAt = &at
	}
}

// reads keeps a step's reading among others; one that was read before, and gone back from, goes.
func (r *Run) reads(all []casefile.Reading, s *ScriptStep, e Event) []casefile.Reading {
	if r.readAt == nil {
		r.readAt = map[string]int{}
	}
	if at, again := r.readAt[s.ID]; again {
		out := slices.Clone(all)
		out[at] = *e.Reading
		return out
	}
	r.readAt[s.ID] = len(all)
	return append(all, *e.Reading)
}

// Result is what the run has for the record so far.
func (r *Run) Result() Result {
	out := r.facts
	if r.Ended != nil && r.Why == "" {
		out.Work, out.Item = r.Script.Work, r.Script.Item
		if p := Find(r.Script.Procedure); p != nil {
			out.Mended, out.Renewed = append(out.Mended, p.Mends...), p.Renews
		}
	}
	if out.Mended == nil {
		out.Mended = []fault.ID{}
	}
	if out.WashSeconds = r.counts[CountBackwash]; out.WashSeconds > 0 {
		for _, s := range r.Script.Steps {
			if s.Timer != nil && s.Timer.Count == CountBackwash {
				out.WashUsual += s.Timer.Low
			}
		}
	}
	if out.Walk == nil {
		out.Walk = []casefile.Reading{}
	}
	if out.Parts == nil {
		out.Parts = []string{}
	}
	if out.Bare == nil {
		out.Bare = []casefile.Reading{}
	}
	if out.Signs == nil {
		out.Signs = map[fault.Sign]bool{}
	}
	out.PrimeSeconds, out.DrainSeconds = r.whole[CountPrime], r.whole[CountDrain]
	out.WasteSeconds = r.counts[CountBackwash] + r.counts[CountRinse] + r.counts[CountWaste]
	out.WasteGallons = r.waste
	return out
}
