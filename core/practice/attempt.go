package practice

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Mode is how much help there is.
type Mode string

// The modes.
const (
	Alone  Mode = "alone"
	Odds   Mode = "odds"   // alone, and the odds are said before each check
	Hints  Mode = "hints"  // the next best check is named, and why
	Beside Mode = "beside" // the suspects are shown as at the bench
)

// Modes lists them.
var Modes = []Mode{Alone, Odds, Hints, Beside}

// Helped tells whether the safe way to stand a pad ready is given.
func (m Mode) Helped() bool { return m == Hints || m == Beside }

// Act is what somebody does in a case.
type Act string

// The acts.
const (
	ActDo      Act = "do"      // one thing with a hand
	ActReady   Act = "ready"   // stand the pad ready for something, the safe way
	ActRestore Act = "restore" // back to daily use, the safe way
	ActSpeed   Act = "speed"
	ActWait    Act = "wait"
	ActRead    Act = "read"
	ActLook    Act = "look"
	ActRun     Act = "run"   // a guided run, from daily use to daily use
	ActMend    Act = "mend"  // with one's own hands
	ActRefer   Act = "refer" // left to somebody else, the customer told
	ActOdds    Act = "odds"
	ActLeave   Act = "leave"
)

// Event is one thing done. Which fields count follows from the act.
type Event struct {
	Act     Act                  `json:"act" enum:"do,ready,restore,speed,wait,read,look,run,mend,refer,odds,leave"`
	Do      *procedure.Action    `json:"do,omitempty"`
	Need    Need                 `json:"need,omitempty" enum:",running,off,locked,relieved,pot,hand,tank"`
	RPM     float64              `json:"rpm,omitempty" minimum:"0" maximum:"4000"`
	Minutes float64              `json:"minutes,omitempty" minimum:"0" maximum:"240"`
	Sign    fault.Sign           `json:"sign,omitempty" maxLength:"40"`
	Run     procedure.ID         `json:"run,omitempty" maxLength:"40"`
	Fault   fault.ID             `json:"fault,omitempty" maxLength:"40"`
	Odds    map[fault.ID]float64 `json:"odds,omitempty" doc:"chance of each fault that is named; they add up to 1 at most"`
}

// Errors of acts that can't be taken; nothing changes then.
var (
	ErrOver    = errors.New("the case is over")
	ErrUnknown = errors.New("there is no such act here")
	ErrOdds    = errors.New("the odds are said first")
)

// Longest a case may be, in acts.
const mostActs = 400

// What others cost who are sent for, and how long it takes to hand over (ours).
const (
	referMinutes = 8
	tradeDollars = 180
	wildDollars  = 120 // a visit of somebody for what was ours to do
)

// Harm is a rule that was broken.
type Harm struct {
	Turn int           `json:"turn"`
	Did  words.Message `json:"did"`
	Why  words.Message `json:"why" doc:"what the guided work would have said"`
	Says words.Message `json:"says" doc:"what came of it"`
	Ends bool          `json:"ends" doc:"the case: somebody is hurt"`
}

// Step is one act as it went.
type Step struct {
	Act     Act             `json:"act"`
	Did     words.Message   `json:"did"`
	Told    []words.Message `json:"told" nullable:"false" doc:"what came of it"`
	Minutes float64         `json:"minutes" doc:"gone when it is over"`
	Check   bool            `json:"check" doc:"something was read or looked for"`
}

// reading is a set of meters as written down, and when.
type reading struct {
	judge.TypedReading
	minutes float64
	judged  bool // the engine knows this way of running
}

// looked is an answer, and when.
type looked struct {
	yes     bool
	minutes float64
}

// Saying is the odds at one time, with what was true.
type Saying struct {
	Turn int                  `json:"turn"`
	Odds map[fault.ID]float64 `json:"odds"`
	// True are the faults that were there.
	True []fault.ID `json:"true" nullable:"false"`
}

// Attempt is a case as far as somebody has worked it: the fold of events over a scene.
type Attempt struct {
	*Scene
	Mode    Mode
	Turn    int
	State   procedure.State
	RPM     float64
	Load    float64
	Present []int // of Scene.causes, still there
	Minutes float64
	Gallons float64
	Dollars float64
	Steps   []Step
	Harms   []Harm
	Wrong   []fault.ID // put right where they were not there
	Handed  []fault.ID // left to others, rightly
	Sayings []Saying
	Over    bool
	Hurt    bool
	Held    bool // odds are owed before the next check

	readings []reading
	seen     map[fault.Sign]looked
	works    stop.Book
	taken    map[string]int // readings in one way of running
}

// Begin is an attempt before its first act.
func (s *Scene) Begin(m Mode) *Attempt {
	a := &Attempt{
		Scene: s,
		Mode:  m,
		State: s.rig.Daily(),
		RPM:   s.usual(),
		Load:  s.Case.Load,
		Held:  m == Odds,
		seen:  map[fault.Sign]looked{},
		taken: map[string]int{},
	}
	for i := range s.causes {
		a.Present = append(a.Present, i)
	}
	for _, id := range slices.Sorted(maps.Keys(s.Told)) {
		a.seen[id] = looked{yes: s.Told[id]}
	}
	return a
}

// Fold takes events in order. The error is the first act's that can't be taken.
func (s *Scene) Fold(m Mode, events []Event) (*Attempt, error) {
	a := s.Begin(m)
	if len(events) > mostActs {
		return a, ErrUnknown
	}
	for i, e := range events {
		if err := a.Take(e); err != nil {
			return a, fmt.Errorf("act %d: %w", i, err)
		}
	}
	return a, nil
}

// Take does one act.
func (a *Attempt) Take(e Event) error {
	if a.Over {
		return ErrOver
	}
	if a.Held && (e.Act == ActRead || e.Act == ActLook || e.Act == ActRun || e.Act == ActMend || e.Act == ActRefer) {
		return ErrOdds
	}
	does, ok := acts[e.Act]
	if !ok {
		return ErrUnknown
	}
	st := Step{Act: e.Act, Told: []words.Message{}}
	if err := does(a, e, &st); err != nil {
		return err
	}
	a.Turn++
	st.Minutes = a.Minutes
	a.Steps = append(a.Steps, st)
	if st.Check || e.Act == ActMend || e.Act == ActRun {
		a.Held = a.Mode == Odds
	}
	return nil
}

var acts = map[Act]func(*Attempt, Event, *Step) error{
	ActDo:      (*Attempt).takeDo,
	ActReady:   (*Attempt).takeReady,
	ActRestore: (*Attempt).takeRestore,
	ActSpeed:   (*Attempt).takeSpeed,
	ActWait:    (*Attempt).takeWait,
	ActRead:    (*Attempt).takeRead,
	ActLook:    (*Attempt).takeLook,
	ActRun:     (*Attempt).takeRun,
	ActMend:    (*Attempt).takeMend,
	ActRefer:   (*Attempt).takeRefer,
	ActOdds:    (*Attempt).takeOdds,
	ActLeave:   (*Attempt).takeLeave,
}

// pass lets time go by: on the way to waste it takes water along.
func (a *Attempt) pass(minutes float64) {
	a.Minutes += minutes
	if !a.State.Running || a.turning() == 0 {
		return
	}
	switch a.State.Setting {
	case pad.SetBackwash, pad.SetRinse, pad.SetWaste:
		st, err := a.water()
		if err != nil {
			return
		}
		a.Gallons += st.Flow.GPM() * minutes
		if a.State.Setting == pad.SetBackwash && a.doc.Filter.Kind != pad.Cartridge {
			// A backwash carries most of the dirt out in its first two minutes (common practice).
			a.Load = cleanLoad + math.Max(0, a.Load-cleanLoad)*math.Exp(-minutes/0.7)
		}
	}
}

// turning is the speed that the pump turns at.
func (a *Attempt) turning() float64 {
	if !a.State.Running || a.effects().Stopped {
		return 0
	}
	return a.RPM
}

// effects are what is there, with the load.
func (a *Attempt) effects() plumbing.Effects {
	var sum plumbing.Effects
	for _, i := range a.Present {
		if both, ok := sum.Plus(a.causes[i].effects()); ok {
			sum = both
		}
	}
	sum.Load += a.Load * a.loads
	return sum
}

// operation is how the pad is being run.
func (a *Attempt) operation() pad.Operation {
	op := pad.Operation{Speed: units.Speed(a.RPM), Setting: a.State.Setting, Handles: pad.Handles{}}
	for i, l := range a.doc.Suction {
		open := a.State.Suction.Has(i)
		switch {
		case open == a.rig.Usual.Has(i): // as in daily use
		case open:
			op.Handles[l.ID] = 1
		default:
			op.Handles[l.ID] = 0
		}
	}
	if !a.State.Returns {
		for _, l := range a.doc.Returns {
			op.Handles[l.ID] = 0
		}
	}
	for side, body := range map[pad.Side]pad.Body{pad.SuctionSide: a.State.SuctionTo,
		pad.ReturnSide: a.State.ReturnTo} {
		if to, ok := a.doc.Dividers()[side][body]; ok && body == pad.SpaBody {
			op.Handles[to.Valve] = to.Angle
		}
	}
	return op
}

// water is the real pad's state as it runs now; a pump that holds its flow has found its
// speed.
func (a *Attempt) water() (plumbing.State, error) {
	st, _, err := a.found()
	return st, err
}

func (a *Attempt) found() (plumbing.State, units.Speed, error) {
	op, eff, solver := a.operation(), a.effects(), a.truth.Solver()
	if a.doc.Pump.Kind == pad.FlowHolding && op.Setting == pad.SetFilter && !eff.Stopped {
		return solver.Hold(op, eff)
	}
	st, err := solver.Solve(op, eff)
	return st, op.Speed, err
}

// there are the causes that are still there.
func (a *Attempt) there() []*hidden {
	out := make([]*hidden, 0, len(a.Present))
	for _, i := range a.Present {
		out = append(out, &a.causes[i])
	}
	return out
}

// remains are the faults still there; a filter that was cleaned is no longer loaded.
func (a *Attempt) remains() []fault.ID {
	out := []fault.ID{}
	for _, h := range a.there() {
		if h.Fault.ID != fault.FilterLoaded || a.Load >= dirty {
			out = append(out, h.Fault.ID)
		}
	}
	return out
}

// dirty is the load from which a cleaning was no waste.
const dirty = 0.5

// mends puts right what is there of some faults, and tells whether any was.
func (a *Attempt) mends(ids ...fault.ID) bool {
	was := len(a.Present)
	a.Present = slices.DeleteFunc(a.Present, func(i int) bool { return slices.Contains(ids, a.causes[i].Fault.ID) })
	return len(a.Present) < was
}

// hurts records a broken rule and what came of it.
func (a *Attempt) hurts(did, why words.Message, h harm, st *Step) {
	a.Harms = append(a.Harms, Harm{Turn: a.Turn, Did: did, Why: why, Says: h.says, Ends: h.ends})
	st.Told = append(st.Told, h.says)
	a.Minutes += h.minutes
	a.Dollars += h.dollars
	a.Gallons += h.gallons
	if h.then != "" {
		a.State = a.rig.Anyhow(a.State, procedure.Action{Verb: h.then})
	}
	if h.ends {
		a.Over, a.Hurt = true, true
	}
}
