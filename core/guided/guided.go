// Package guided is a guided run as whoever works sees it: how it begins at a pool, and how it
// stands after what was done.
package guided

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json/jsontext"

	"fairlap/core/casefile"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// RunBrief is one run in a list.
type RunBrief struct {
	ID        string           `json:"id"`
	Procedure procedure.ID     `json:"procedure"`
	Name      words.Message    `json:"name"`
	StopID    string           `json:"stopId"`
	By        string           `json:"by"`
	StartedAt time.Time        `json:"startedAt"`
	Step      int              `json:"step" doc:"steps done"`
	Of        int              `json:"of"`
	Left      *time.Time       `json:"left"`
	Ended     *time.Time       `json:"ended"`
	Why       words.Message    `json:"why" doc:"why it ended without its aim; empty: it reached it, or goes on"`
	Result    procedure.Result `json:"result"`
}

// RunView is a run as it stands.
type RunView struct {
	RunBrief
	PoolID string               `json:"poolId"`
	Street string               `json:"street"`
	Pad    judge.PadFacts       `json:"pad"`
	Now    time.Time            `json:"now" doc:"the server's clock, for whoever shows timers"`
	Turn   int                  `json:"turn"`
	At     string               `json:"at" doc:"the step that is next; empty when over"`
	State  procedure.State      `json:"state"`
	Done   []procedure.Entry    `json:"done" nullable:"false"`
	Notes  []string             `json:"notes" nullable:"false"`
	Timers map[string]time.Time `json:"timers" doc:"when the timers of steps were started"`
	Back   *Way                 `json:"back,omitempty" doc:"to the step before; absent when no way leads there"`
	Resume *Way                 `json:"resume,omitempty" doc:"where and how a run that was left goes on"`
	Script procedure.Script     `json:"script"`
	// Verdict is the answer after the run where it belongs to no stop: at a stop the bench has it,
	// with all else that was found there.
	Verdict *judge.Verdict    `json:"verdict,omitempty"`
	Events  []procedure.Event `json:"events" nullable:"false" doc:"all that happened, in order: a device without a line follows the run from them"`
}

// MarshalJSONTo tells a run to a reader: words.Rounded.
func (v RunView) MarshalJSONTo(e *jsontext.Encoder) error {
	type plain RunView
	return words.Rounded(e, plain(v))
}

// Way is what a hand does to stand at a step.
type Way struct {
	Step string          `json:"step"`
	Text []words.Message `json:"says" nullable:"false"`
}

// Ask is what a run is written out for.
type Ask struct {
	Procedure procedure.ID `json:"procedure"`
	Speed     float64      `json:"speed" doc:"rpm read at the bench; 0: none"`
	WaterF    float64      `json:"waterF" doc:"temperature of the pool's water, °F; 0: usual of the month"`
	Reason    string       `json:"reason" doc:"for going on in spite of a hold"`
	Short     bool         `json:"short"`
	// Findings are what was found at the stop so far: how the pad is follows from them too.
	Findings *judge.Findings `json:"findings,omitempty"`
}

// coldest and warmest bound what a pool's water is believed to be, °F.
const (
	coldest = 33
	warmest = 110
)

// Begin writes a run out at a pool as the stop left it, at a moment, in spite of a hold only for
// a reason. What can't be begun is figure.FieldErrors.
func Begin(at *judge.Stop, a Ask, hold *upkeep.Hold, now time.Time) (*procedure.Script, error) {
	setup, err := at.Setup(a.Speed, a.WaterF, now)
	if err != nil {
		return nil, err
	}
	p := procedure.Find(a.Procedure)
	switch {
	case a.WaterF != 0 && !(a.WaterF >= coldest && a.WaterF <= warmest):
		return nil, figure.Wrong("waterF", "app.a-water-temperature-between-33")
	case p == nil || p.On != nil && !p.On(setup):
		return nil, figure.Wrong("procedure", "app.this-pad-has-no-such")
	case p.Discharges && hold != nil && a.Reason == "":
		return nil, figure.Wrong("reason", words.Of("app.held-until-to-go-on",
			"format", words.Moment(at.Local(hold.Until)), "why", words.Msg(hold.Why)))
	}
	setup.Short = a.Short
	if err := found(at, a.Findings, setup, now); err != nil {
		return nil, err
	}
	script, err := p.Write(setup)
	var no *procedure.Refusal
	if errors.As(err, &no) && setup.Start != nil {
		return nil, figure.Wrong("procedure", no.Text)
	}
	if err != nil {
		return nil, fmt.Errorf("writing %s out: %w", p.ID, err)
	}
	if err := words.Round(script); err != nil {
		return nil, fmt.Errorf("writing %s down: %w", p.ID, err)
	}
	return script, nil
}

// found tells a procedure how the stop left the pad, and what the pump's program has at this
// hour.
func found(at *judge.Stop, f *judge.Findings, setup *procedure.Setup, now time.Time) error {
	if f == nil {
		f = &judge.Findings{}
	}
	st, err := at.State(*f)
	if err != nil {
		return err
	}
	if st.Going != nil { // it is asked for by itself: two at once move one handle
		st.Pad = setup.Rig.Daily()
	}
	setup.Start = &st.Pad
	switch slot, ok := at.Slot(now); {
	case ok && slot > 0:
		setup.Figures["slotSpeed"] = words.Q("rpm", float64(slot))
	case ok:
		setup.Figures["slotOff"] = words.Msg("procedure.off-at-this-hour")
	}
	return nil
}

// Run is one that was begun, with what happened in it.
type Run struct {
	ID        string            `json:"id"`
	PoolID    string            `json:"poolId"`
	StopID    string            `json:"stopId"`
	By        string            `json:"by"`
	StartedAt time.Time         `json:"startedAt"`
	Script    *procedure.Script `json:"script"`
	Events    []procedure.Event `json:"events"`
}

// Fold follows a run as it was written out when it started.
func (r *Run) Fold() (*procedure.Run, error) {
	f, err := r.Script.Fold(r.Events)
	if err != nil {
		return nil, fmt.Errorf("following run %s: %w", r.ID, err)
	}
	return f, nil
}

// Entry is the run in the day book of its stop.
func (r *Run) Entry() (stop.Entry, error) {
	return stop.OfRun(r.ID, r.By, r.Script, r.StartedAt, r.Events)
}

// Typed is one thing that happened in a run, as a device has it.
type Typed struct {
	Act     procedure.Act       `json:"act" enum:"go,timer,note,back,leave,resume,end"`
	Turn    int                 `json:"turn" minimum:"0" doc:"how many moving events came before it"`
	Step    string              `json:"step,omitempty" maxLength:"40"`
	Option  string              `json:"option,omitempty" maxLength:"40"`
	Reading *judge.TypedReading `json:"reading,omitempty"`
	Note    string              `json:"note,omitempty" maxLength:"1000"`
	At      time.Time           `json:"at" doc:"by the server's clock, as far as the device knows it"`
}

// Read reads what was typed at a meter; its refusals are of fields under path.
func (t *Typed) Read(path string, m *plumbing.Model) (*casefile.Reading, figure.FieldErrors) {
	if t.Reading == nil {
		return nil, nil
	}
	path += ".reading"
	r, errs := judge.ParseReading(path, *t.Reading, m)
	if len(errs) == 0 && r.RPM == 0 {
		errs.Add(path+".speed", "app.read-it-with-the-pump")
	}
	if len(errs) == 0 && t.Reading.Empty() {
		errs.Add(path+".tank", "app.type-at-least-the-tank")
	}
	return &r, errs
}

// Reversed says of a reading of a clean line that can't be beside those read before it, which it is
// and how, at its meter's field; "" where it can. Pressure, flow and power all fall with the speed.
func Reversed(m *plumbing.Model, r *procedure.Run, e *procedure.Event) (field string, says words.Message) {
	s := r.Next()
	if e.Act != procedure.ActGo || e.Reading == nil || s == nil || s.ID != e.Step || s.Read != procedure.Walk {
		return "", ""
	}
	var rows []pad.Reading
	for _, w := range r.Result().Walk {
		rows = append(rows, w.Meters())
	}
	rows = append(rows, e.Reading.Meters())
	x := plumbing.Reversed(&m.Doc, rows)
	if x == nil {
		return "", ""
	}
	return string(x.Meter), judge.ReversedWords(rows, x)
}

// Event is what happened, as the run follows it.
func (t *Typed) Event(when time.Time, reading *casefile.Reading, by string) procedure.Event {
	return procedure.Event{
		At:      when,
		By:      by,
		Act:     t.Act,
		Turn:    t.Turn,
		Step:    t.Step,
		Option:  t.Option,
		Reading: reading,
		Note:    strings.TrimSpace(t.Note),
	}
}

// Brief tells how a run stands.
func Brief(r *Run, f *procedure.Run) RunBrief {
	out := RunBrief{
		ID:        r.ID,
		Procedure: f.Script.Procedure,
		Name:      f.Script.Name,
		StopID:    r.StopID,
		By:        r.By,
		StartedAt: r.StartedAt,
		Of:        len(f.Script.Steps),
		Left:      f.Left,
		Ended:     f.Ended,
		Why:       f.Why,
		Result:    f.Result(),
	}
	if out.Step = slices.IndexFunc(f.Script.Steps,
		func(s procedure.ScriptStep) bool { return s.ID == f.At }); out.Step < 0 {
		out.Step = out.Of
	}
	return out
}

// verdict is the answer after a run that is over and belongs to no stop.
func verdict(at *judge.Stop, r *Run, f *procedure.Run) (*judge.Verdict, error) {
	if f.Ended == nil || r.StopID != "" {
		return nil, nil
	}
	entry, err := r.Entry()
	if err != nil {
		return nil, err
	}
	alone := *at
	alone.Book = stop.Book{entry}
	v, _, err := alone.Judge(judge.Findings{}, *f.Ended, nil)
	if err != nil {
		return nil, err
	}
	return &v, nil
}

// View shows a run as it stands at a moment.
func View(at *judge.Stop, r *Run, now time.Time) (RunView, error) {
	f, err := r.Fold()
	if err != nil {
		return RunView{}, err
	}
	after, err := verdict(at, r, f)
	if err != nil {
		return RunView{}, err
	}
	out := RunView{
		RunBrief: Brief(r, f),
		Verdict:  after,
		PoolID:   r.PoolID,
		Street:   at.Pool,
		Pad:      judge.FactsOf(at.Calibrated),
		Now:      now,
		Turn:     f.Turn,
		At:       f.At,
		State:    f.State,
		Done:     f.Done,
		Notes:    f.Notes,
		Timers:   f.Timers,
		Script:   *f.Script,
		Events:   append([]procedure.Event{}, r.Events...),
	}
	say := func(actions []procedure.Action) []words.Message {
		text := make([]words.Message, len(actions))
		for i, act := range actions {
			text[i] = f.Script.Rig.Instruction(act)
		}
		return text
	}
	switch {
	case f.Ended != nil:
	case f.Left != nil:
		if step, way, ok := f.Resumes(); ok {
			out.Resume = &Way{Step: step, Text: say(way)}
		}
	default:
		if step, way, ok := f.Before(); ok {
			out.Back = &Way{Step: step, Text: say(way)}
		}
	}
	return out, nil
}
