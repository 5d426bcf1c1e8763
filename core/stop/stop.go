// Package stop is the day book of a stop: everything that happens there is an entry, and one
// pure fold of the entries gives the state of the stop: how the pad is as far as anybody made
// it or said so, what was found before and after each piece of work, and what is left open.
// The bench, guided runs, the plate, the log, the lap and practice read this state and keep
// none of their own.
package stop

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/words"
)

// Kind is what an entry is.
type Kind string

// The kinds of entry.
const (
	Said Kind = "said" // somebody says how the pump is
	Read Kind = "read" // the meters
	Seen Kind = "seen" // a sign, there or not
	Ran  Kind = "ran"  // a guided run, as far as it came
	Done Kind = "done" // work without a run, as the log has it
)

// Pump is how the pump is.
type Pump string

// The ways that a pump is. What nobody said or saw counts as running.
const (
	Running Pump = "running"
	Off     Pump = "off"
	Locked  Pump = "locked" // off, and its power locked
	Unknown Pump = "unknown"
)

// Entry is one thing that happened at a stop. Entries are never changed.
type Entry struct {
	ID   string     `json:"id" doc:"made by whoever notes it"`
	At   time.Time  `json:"at" doc:"its zero, where nobody noted it, is before all else"`
	By   string     `json:"by,omitempty"`
	Kind Kind       `json:"kind" enum:"said,read,seen,ran,done"`
	Pump Pump       `json:"pump,omitempty" enum:"running,off,locked,unknown"`
	Sign fault.Sign `json:"sign,omitempty"`
	Yes  bool       `json:"yes,omitempty"`
	// Reading is in trade units; without a setting it was read as the pad was. Row is its
	// place on the page.
	Reading *casefile.Reading `json:"reading,omitempty"`
	Row     int               `json:"row,omitempty"`
	Run     *Run              `json:"run,omitempty"`
	Work    *casefile.Done    `json:"work,omitempty"`
}

// Run is a guided run as far as it came, at its last event.
type Run struct {
	ID        string           `json:"id"`
	Procedure procedure.ID     `json:"procedure"`
	Name      words.Message    `json:"name"`
	Over      bool             `json:"over"`
	Left      bool             `json:"left" doc:"left half-way"`
	Turn      int              `json:"turn" doc:"moves so far: of two of one run the later is the one with more"`
	State     procedure.State  `json:"state" doc:"of the pad after its last event"`
	Result    procedure.Result `json:"result"`
}

// OfRun is a run as an entry. Of runs that were written out before an end put the pump back
// on its program, nothing is known of that.
func OfRun(id, by string, script *procedure.Script, began time.Time, events []procedure.Event) (Entry, error) {
	f, err := script.Fold(events)
	if err != nil {
		return Entry{}, fmt.Errorf("following run %s: %w", id, err)
	}
	out := Entry{ID: id, At: began, By: by, Kind: Ran, Run: &Run{
		ID:        id,
		Procedure: script.Procedure,
		Name:      script.Name,
		Over:      f.Ended != nil,
		Left:      f.Left != nil,
		Turn:      f.Turn,
		State:     f.State,
		Result:    f.Result(),
	}}
	for _, e := range events {
		if e.Act.Moves() {
			out.At, out.By = e.At, e.By
		}
	}
	if f.Ended != nil {
		out.At = *f.Ended
	}
	if !script.Program() {
		out.Run.State.ByHand = false
	}
	return out, nil
}

// Book is the entries of a stop.
type Book []Entry

// rank orders what happened at one moment: work comes after what was found before it.
var rank = map[Kind]int{Said: 0, Read: 1, Seen: 2, Done: 3, Ran: 4}

// Merge puts entries of several devices into one order, by time and id; each counts once. Of
// one run the entry that came furthest is kept.
func Merge(books ...Book) Book {
	last := map[string]Entry{}
	for _, b := range books {
		for _, e := range b {
			if was, ok := last[e.ID]; !ok || e.after(&was) {
				last[e.ID] = e
			}
		}
	}
	out := make(Book, 0, len(last))
	for _, e := range last {
		out = append(out, e)
	}
	slices.SortFunc(out, func(a, b Entry) int {
		return cmp.Or(a.At.Compare(b.At), cmp.Compare(rank[a.Kind], rank[b.Kind]), cmp.Compare(a.ID, b.ID))
	})
	return out
}

// after tells of two entries of one id which is the later.
func (e *Entry) after(was *Entry) bool {
	if e.Run != nil && was.Run != nil && e.Run.Turn != was.Run.Turn {
		return e.Run.Turn > was.Run.Turn // clocks stand still, moves do not
	}
	return e.At.After(was.At)
}

// Stage is what was found up to a piece of work, and that work; of the last there is none yet.
type Stage struct {
	Readings []Taken
	Signs    map[fault.Sign]bool
	Work     *casefile.Done
	At       time.Time // when the work was over
}

// Taken is a reading and the row that it was typed in; −1 for one that a run took.
type Taken struct {
	Row int
	casefile.Reading
}

// State is the state of a stop.
type State struct {
	// Pad is how the pad is; what is not known of it is as in daily use.
	Pad procedure.State
	// Pump is as it was said, seen or made, Unknown before; By whom and At when.
	Pump Pump
	By   string
	At   time.Time
	// Valve tells that somebody set or read the filter valve's place.
	Valve bool
	// Speed is what the pump was last read at, rpm; 0: never, or it stopped since.
	Speed float64
	// Before are the stages that work has closed, Now what was found since.
	Before []Stage
	Now    Stage
	Open   []Open
	// Going is the run that is not over; nil: none.
	Going *Run
}

// Open is one thing that is not as in daily use, and since when.
type Open struct {
	Part procedure.Part `json:"part"`
	Says words.Message  `json:"says"`
	By   string         `json:"by"`
	At   time.Time      `json:"at"`
}

// Left is what a visit leaves unlike daily use, and why.
type Left struct {
	State  procedure.State `json:"state"`
	Open   []Open          `json:"open"`
	Reason string          `json:"reason"`
}

// Says is what is left in one line.
func (l *Left) Says() words.Message {
	all := make([]words.Message, len(l.Open))
	for i, o := range l.Open {
		all[i] = o.Says
	}
	return words.Join(words.Stop, all...)
}

// PartRun is a run that was left half-way.
const PartRun procedure.Part = "run"

// State folds the entries, which need no order, from how the visit before left the pad; nil is
// daily use.
func (b Book) State(rig *procedure.Rig, from *procedure.State) State {
	s := State{Pad: rig.Daily(), Pump: Unknown, Now: newStage()}
	if from != nil {
		s.Pad = *from
		s.Valve = from.Setting != pad.SetFilter
		if from.Power == procedure.Locked {
			s.Pump = Locked
		}
	}
	since := map[procedure.Part]Open{}
	s.note(rig, since, &Entry{})
	for _, e := range Merge(b) {
		s.take(rig, &e)
		s.note(rig, since, &e)
	}
	return s
}

func newStage() Stage { return Stage{Signs: map[fault.Sign]bool{}} }

func (s *State) take(rig *procedure.Rig, e *Entry) {
	switch e.Kind {
	case Said:
		s.said(rig, e)
	case Read:
		s.read(rig, e)
	case Seen:
		s.Now.Signs[e.Sign] = e.Yes
		switch {
		case !e.Yes:
		case e.Sign == fault.HeaterCrackles:
			s.Pad.Heat = rig.Heater
		case s.Pad.Power == procedure.Locked: // it can't hum
		case e.Sign == fault.Silent, e.Sign == fault.Hums: // it does not turn, whoever sees it
			s.pump(Off, e)
			s.Pad.Running = false
		}
	case Ran:
		s.ran(e)
	case Done:
		s.Now.Work, s.Now.At = e.Work, e.At
		s.Before, s.Now = append(s.Before, s.Now), newStage()
	}
}

func (s *State) pump(is Pump, e *Entry) {
	if s.Pump != is {
		s.Pump, s.By, s.At = is, e.By, e.At
	}
	if is != Running {
		s.Speed = 0
	}
}

// said takes somebody's word for the pump: what can't be with it is not so.
func (s *State) said(rig *procedure.Rig, e *Entry) {
	p := &s.Pad
	if e.Pump == Unknown && p.Power == procedure.Locked {
		return // a lock is not undone by not knowing
	}
	s.pump(e.Pump, e)
	switch e.Pump {
	case Running:
		s.runs(rig)
	case Off:
		p.Running, p.Prime = false, procedure.NotPriming
		if p.Power == procedure.Locked {
			p.Power = procedure.Live
		}
	case Locked:
		p.Running, p.Prime, p.Power = false, procedure.NotPriming, procedure.Locked
	case Unknown:
	}
}

// runs is a pad whose pump is seen to run: nothing of it is open, no line is shut that it
// draws from.
func (s *State) runs(rig *procedure.Rig) {
	p := &s.Pad
	if p.Running && p.Power == procedure.Live {
		return
	}
	p.Running, p.Power, p.Pressed, p.PotFull = true, procedure.Live, true, true
	p.Tank, p.Pot, p.Hand, p.Opened = false, false, false, false
	p.Returns = true
	if p.Suction == 0 {
		p.Suction = rig.Usual
	}
}

func (s *State) read(rig *procedure.Rig, e *Entry) {
	r := *e.Reading
	if r.Setting == "" {
		r.Setting = string(s.Setting())
	} else {
		s.set(pad.Setting(r.Setting))
	}
	if r.RPM > 0 {
		s.pump(Running, e)
		s.runs(rig)
		s.Speed = r.RPM
	}
	s.Now.Readings = append(s.Now.Readings, Taken{e.Row, r})
}

// Setting is the way that a reading without one is taken in: as the pad was left.
func (s *State) Setting() pad.Setting {
	switch {
	case s.Pad.Setting == pad.SetRecirculate:
		return pad.SetRecirculate
	case s.Pad.SuctionTo == pad.SpaBody && s.Pad.ReturnTo == pad.SpaBody:
		return diagnosis.SpaMode
	}
	return pad.SetFilter
}

// set is the pad as somebody who reads it says that it is.
func (s *State) set(to pad.Setting) {
	body := pad.PoolBody
	if to == diagnosis.SpaMode {
		body, to = pad.SpaBody, pad.SetFilter
	}
	s.Pad.Setting, s.Pad.SuctionTo, s.Pad.ReturnTo = to, body, body
	s.Valve = true
}

func (s *State) ran(e *Entry) {
	r := e.Run
	s.Pad, s.Valve, s.Speed = r.State, true, 0
	is := Off
	switch {
	case r.State.Running:
		is = Running
	case r.State.Power == procedure.Locked:
		is = Locked
	}
	s.pump(is, e)
	if !r.Over {
		s.Going = r
		return
	}
	if s.Going != nil && s.Going.ID == r.ID {
		s.Going = nil
	}
	res := &r.Result
	st := s.Now
	for id, yes := range res.Signs {
		st.Signs[id] = yes
	}
	if res.Before != nil && len(st.Readings) == 0 {
		st.Readings = append(st.Readings, Taken{-1, *res.Before})
	}
	work := casefile.Done{
		Name: r.Name, Cleaned: res.Work == "cleaned", Seconds: res.WashSeconds, Usual: res.WashUsual,
	}
	for _, id := range res.Mended {
		work.Mends = append(work.Mends, string(id))
	}
	st.Work, st.At = &work, e.At
	s.Before, s.Now = append(s.Before, st), newStage()
	if res.After != nil {
		s.Now.Readings = append(s.Now.Readings, Taken{-1, *res.After})
		if is == Running {
			s.Speed = res.After.RPM
		}
		if !r.State.ByHand {
			s.Speed = 0 // back on its program: at what that has at this hour
		}
	}
}

// note says what is open after an entry, each since the entry that made it so.
func (s *State) note(rig *procedure.Rig, since map[procedure.Part]Open, e *Entry) {
	all := append(rig.Differences(s.Pad), procedure.Hot(s.Pad)...)
	if s.Going != nil {
		text := words.Of("procedure.run-is-going", "run", words.Msg(s.Going.Name))
		if s.Going.Left {
			text = words.Of("procedure.run-was-left", "run", words.Msg(s.Going.Name))
		}
		all = append(all, procedure.Difference{Part: PartRun, Text: text})
	}
	s.Open = s.Open[:0:0]
	is := map[procedure.Part]bool{}
	for _, d := range all {
		is[d.Part] = true
		o, known := since[d.Part]
		if !known {
			o = Open{Part: d.Part, By: e.By, At: e.At}
		}
		o.Says = d.Text
		since[d.Part] = o
		s.Open = append(s.Open, o)
	}
	for part := range since {
		if !is[part] {
			delete(since, part)
		}
	}
}
