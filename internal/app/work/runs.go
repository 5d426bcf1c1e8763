package work

import (
	"context"
	"encoding/json"
	"errors"
	"fairlap/internal/app/company"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/amounts"
	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// ErrMovedOn is that an event of a run came too late: somebody did the step already,
// or the run is over. The run as it stands comes with it.
var ErrMovedOn = errors.New("the run has moved on meanwhile")

// ProcedureBrief is a procedure to choose from.
type ProcedureBrief struct {
	ID         procedure.ID     `json:"id"`
	Name       words.Message    `json:"name"`
	Aim        words.Message    `json:"aim"`
	Minutes    float64          `json:"minutes"`
	Item       string           `json:"item" doc:"due work that it does; empty: none"`
	Mends      []fault.ID       `json:"mends" nullable:"false" doc:"faults that it mends, or narrows down"`
	Checks     []fault.Sign     `json:"checks" nullable:"false" doc:"signs that it answers"`
	Discharges bool             `json:"discharges"`
	Lifts      bool             `json:"lifts" doc:"lifts a bed of sand: the water's temperature counts"`
	Takes      []procedure.Take `json:"takes" nullable:"false"`
	Cautions   []words.Message  `json:"cautions" nullable:"false"`
	Short      int              `json:"short" doc:"steps of its short form; 0: it has none"`
	Steps      int              `json:"steps" doc:"of its full form"`
}

// PoolWork is what work may be done at a pool, and what was.
type PoolWork struct {
	Procedures []ProcedureBrief `json:"procedures" nullable:"false"`
	Runs       []RunBrief       `json:"runs" nullable:"false" doc:"newest first"`
	Hold       *upkeep.Hold     `json:"hold,omitempty" doc:"forbids work that throws water away"`
}

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
	Outcome   *amounts.Outcome `json:"outcome,omitempty" doc:"whether a cleaning worked"`
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
}

// Way is what a hand does to stand at a step.
type Way struct {
	Step string          `json:"step"`
	Text []words.Message `json:"says" nullable:"false"`
}

// NewRun starts a run.
type NewRun struct {
	ID        uuid.UUID    `json:"id" format:"uuid" doc:"made by whoever starts it, so that a repeated start is one run"`
	Procedure procedure.ID `json:"procedure" minLength:"1" maxLength:"40"`
	StopID    *uuid.UUID   `json:"stopId,omitempty" format:"uuid"`
	Speed     float64      `json:"speed,omitempty" minimum:"0" maximum:"4000" doc:"rpm read at the bench"`
	WaterF    float64      `json:"waterF,omitempty" doc:"temperature of the pool's water, °F; left out: 80"`
	Reason    string       `json:"reason,omitempty" maxLength:"300" doc:"for going on in spite of a hold"`
	Short     bool         `json:"short,omitempty" doc:"the short form of a routine, where it has one"`
}

// RunEvent is one thing that happened in a run.
type RunEvent struct {
	ID      uuid.UUID           `json:"id" format:"uuid"`
	Act     procedure.Act       `json:"act" enum:"go,timer,note,back,leave,resume,end"`
	Turn    int                 `json:"turn" minimum:"0" doc:"how many moving events came before it"`
	Step    string              `json:"step,omitempty" maxLength:"40"`
	Option  string              `json:"option,omitempty" maxLength:"40"`
	Reading *judge.TypedReading `json:"reading,omitempty"`
	Note    string              `json:"note,omitempty" maxLength:"1000"`
	At      time.Time           `json:"at" doc:"by the server's clock, as far as the device knows it"`
}

// dischargeHold is what forbids throwing water away now, unless somebody overrode it
// today.
func dischargeHold(at *standing.Site, marks []store.DueMark, now time.Time) *upkeep.Hold {
	l := upkeep.Ledger{
		Now:         now.In(at.Company.Zone),
		Kind:        at.Cached.Model.Doc.Filter.Kind,
		Settings:    at.Company.Settings,
		History:     &at.History,
		NoDischarge: at.Company.Settings.NoDischargeOn,
		Marks:       standing.Marks(at.Company, marks),
	}
	return l.Held()
}

// Work lists what may be done at a pool and what was; of one stop where it is given.
func (s *Service) Work(ctx context.Context, a access.Actor, pool uuid.UUID, stop *uuid.UUID) (PoolWork, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, pool, now)
	if err != nil {
		return PoolWork{}, err
	}
	setup, err := at.Setup(0, 0)
	if err != nil {
		return PoolWork{}, err
	}
	marks, err := s.keeper.Store.DueMarksOf(ctx, []uuid.UUID{pool})
	if err != nil {
		return PoolWork{}, fmt.Errorf("reading what was decided: %w", err)
	}
	out := PoolWork{Procedures: []ProcedureBrief{}, Runs: []RunBrief{}, Hold: dischargeHold(at, marks[pool], now)}
	for _, p := range procedure.For(setup) {
		c, err := p.Write(setup)
		if err != nil {
			return out, fmt.Errorf("writing %s out: %w", p.ID, err)
		}
		brief := ProcedureBrief{
			ID:         p.ID,
			Name:       p.Name,
			Aim:        c.Aim,
			Minutes:    p.Minutes,
			Item:       p.Item,
			Mends:      append(append([]fault.ID{}, p.Mends...), p.Narrows...),
			Checks:     append([]fault.Sign{}, p.Checks...),
			Discharges: p.Discharges,
			Lifts:      p.Lifts(&setup.Rig),
			Takes:      c.Takes,
			Cautions:   c.Cautions,
			Short:      0,
			Steps:      len(c.Steps),
		}
		if p.Short != nil {
			short := *setup
			short.Short = true
			few, err := p.Write(&short)
			if err != nil {
				return out, fmt.Errorf("writing %s out in short: %w", p.ID, err)
			}
			brief.Short = len(few.Steps)
		}
		out.Procedures = append(out.Procedures, brief)
	}
	runs, err := s.keeper.Store.RunsOf(ctx, pool, stop, standing.RunsListed)
	if err != nil {
		return out, fmt.Errorf("reading the runs: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return out, fmt.Errorf("reading the people: %w", err)
	}
	for _, r := range runs {
		folded, err := standing.Fold(r)
		if err != nil {
			return out, err
		}
		brief, err := brief(at, r, folded, names)
		if err != nil {
			return out, err
		}
		out.Runs = append(out.Runs, brief)
	}
	return out, nil
}

func brief(at *standing.Site, r store.Run, f *procedure.Run, names map[uuid.UUID]string) (RunBrief, error) {
	out := RunBrief{
		ID:        r.ID.String(),
		Procedure: f.Script.Procedure,
		Name:      f.Script.Name,
		StopID:    company.IDOr(r.StopID),
		By:        names[r.StartedBy],
		StartedAt: r.StartedAt,
		Of:        len(f.Script.Steps),
		Left:      f.Left,
		Ended:     f.Ended,
		Why:       f.Why,
		Result:    f.Result(),
	}
	if out.Step = slices.IndexFunc(f.Script.Steps, func(s procedure.ScriptStep) bool { return s.ID == f.At }); out.Step < 0 {
		out.Step = out.Of
	}
	after := out.Result.After
	if out.Result.Work != "cleaned" || after == nil || after.TankPsi == nil {
		return out, nil
	}
	m := at.Cached.Model
	load, err := judge.AfterCleaning(m, diagnosis.Reading{Reading: after.Meters(), Setting: pad.SetFilter})
	if err != nil {
		return out, err
	}
	expected, err := amounts.Expect(m, units.Speed(after.RPM))
	if err != nil {
		return out, judge.Unsolved(err)
	}
	judged := amounts.Judge(f.Script.Procedure, load, expected, m.Doc.Filter.Kind)
	out.Outcome = &judged
	return out, nil
}

// StartRun starts a run, once.
func (s *Service) StartRun(ctx context.Context, a access.Actor, pool uuid.UUID, n NewRun) (RunView, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, pool, now)
	if err != nil {
		return RunView{}, err
	}
	if n.StopID != nil {
		stop, lap, err := s.keeper.Store.StopByID(ctx, *n.StopID)
		if err != nil {
			return RunView{}, fmt.Errorf("finding the stop: %w", err)
		}
		if stop.PoolID != pool || !a.MaySee(&lap.TechnicianID) {
			return RunView{}, access.ErrForbidden
		}
	}
	setup, err := at.Setup(n.Speed, n.WaterF)
	if err != nil {
		return RunView{}, err
	}
	p := procedure.Find(n.Procedure)
	switch {
	case n.WaterF != 0 && !(n.WaterF >= 33 && n.WaterF <= 110):
		return RunView{}, figure.Wrong("waterF", "app.a-water-temperature-between-33")
	case n.ID == uuid.Nil:
		return RunView{}, figure.Wrong("id", "app.the-run-needs-an-id")
	case p == nil || p.On != nil && !p.On(setup):
		return RunView{}, figure.Wrong("procedure", "app.this-pad-has-no-such")
	}
	if known, err := s.keeper.Store.RunByID(ctx, n.ID); err == nil && known.PoolID == pool &&
		known.Procedure == string(n.Procedure) {
		return s.viewRun(ctx, at, known)
	}
	if open, err := s.openRun(ctx, pool, n); err != nil {
		return RunView{}, err
	} else if open != nil {
		if open.Procedure != string(n.Procedure) {
			return RunView{}, figure.Wrong("procedure", words.Of("app.is-still-open-at-this", "procedure", words.Msg(procedure.Find(procedure.ID(open.Procedure)).Name)))
		}
		return s.viewRun(ctx, at, *open)
	}
	setup.Short = n.Short
	script, err := p.Write(setup)
	if err != nil {
		return RunView{}, fmt.Errorf("writing %s out: %w", p.ID, err)
	}
	text, err := json.Marshal(script)
	if err != nil {
		return RunView{}, fmt.Errorf("writing the run down: %w", err)
	}
	var kept store.Run
	err = s.inTx(ctx, func(s *Service) (err error) {
		if p.Discharges {
			if err := s.passHold(ctx, a, at, pool, n, now); err != nil {
				return err
			}
		}
		kept, err = s.keeper.Store.StartRun(
			ctx,
			store.Run{
				ID:        n.ID,
				PoolID:    pool,
				StopID:    n.StopID,
				Procedure: string(p.ID),
				Script:    text,
				StartedBy: a.ID,
				StartedAt: now,
			},
		)
		return err
	})
	if err != nil {
		return RunView{}, err
	}
	return s.viewRun(ctx, at, kept)
}

// openRun is a run that is not over yet: any at the stop, or the same procedure where
// no stop is given. Nil for none.
func (s *Service) openRun(ctx context.Context, pool uuid.UUID, n NewRun) (*store.Run, error) {
	runs, err := s.keeper.Store.RunsOf(ctx, pool, n.StopID, standing.RunsListed)
	if err != nil {
		return nil, fmt.Errorf("reading the runs: %w", err)
	}
	for i, r := range runs {
		if n.StopID == nil && (r.StopID != nil || r.Procedure != string(n.Procedure)) {
			continue
		}
		f, err := standing.Fold(r)
		if err != nil {
			return nil, err
		}
		if f.Ended == nil && procedure.Find(procedure.ID(r.Procedure)) != nil {
			return &runs[i], nil
		}
	}
	return nil, nil
}

// passHold refuses work that throws water away while a hold forbids it, unless a
// reason is given: that is kept as an override.
func (s *Service) passHold(
	ctx context.Context,
	a access.Actor,
	at *standing.Site,
	pool uuid.UUID,
	n NewRun,
	now time.Time,
) error {
	marks, err := s.keeper.Store.DueMarksOf(ctx, []uuid.UUID{pool})
	if err != nil {
		return fmt.Errorf("reading what was decided: %w", err)
	}
	hold := dischargeHold(at, marks[pool], now)
	if hold == nil {
		return nil
	}
	reason := strings.TrimSpace(n.Reason)
	if reason == "" {
		return figure.Wrong(
			"reason",
			words.Of(
				"app.held-until-to-go-on",
				"format",
				words.Name(hold.Until.In(at.Company.Zone).Format("Mon 15:04")),
				"why",
				words.Msg(hold.Why),
			),
		)
	}
	mark := store.DueMark{
		ID:     uuid.NewSHA1(n.ID, []byte("override")),
		PoolID: pool,
		Item:   string(upkeep.CleanFilter),
		Act:    string(upkeep.MarkOverride),
		Reason: reason,
		MadeBy: a.ID,
		MadeAt: now,
	}
	if err := s.keeper.Store.AddDueMark(ctx, mark); err != nil {
		return fmt.Errorf("keeping the override: %w", err)
	}
	return nil
}

// RunByID shows a run.
func (s *Service) RunByID(ctx context.Context, a access.Actor, id uuid.UUID) (RunView, error) {
	r, err := s.keeper.Store.RunByID(ctx, id)
	if err != nil {
		return RunView{}, fmt.Errorf("finding the run: %w", err)
	}
	at, err := s.keeper.AtPool(ctx, a, r.PoolID, s.keeper.Now())
	if err != nil {
		return RunView{}, err
	}
	return s.viewRun(ctx, at, r)
}

// clockOff is how far ahead of the server's clock an event may say it happened.
const clockOff = 2 * time.Minute

// clockAhead is how far a device's clock is ahead that says so of what it did: all of it
// is put back alike, so that what it timed stays as long.
func clockAhead(events []RunEvent, now time.Time) time.Duration {
	ahead := time.Duration(0)
	for _, e := range events {
		if by := e.At.Sub(now); by > clockOff {
			ahead = max(ahead, by)
		}
	}
	return ahead
}

// AppendRun takes events of a run in, in order. One that is known already is left
// out; from one that comes too late on none is taken, and the run as it stands comes
// with ErrMovedOn.
func (s *Service) AppendRun(ctx context.Context, a access.Actor, id uuid.UUID, events []RunEvent) (RunView, error) {
	now := s.keeper.Now()
	r, err := s.keeper.Store.RunByID(ctx, id)
	if err != nil {
		return RunView{}, fmt.Errorf("finding the run: %w", err)
	}
	at, err := s.keeper.AtPool(ctx, a, r.PoolID, now)
	if err != nil {
		return RunView{}, err
	}
	readings, err := parseRunReadings(events, at.Cached.Model)
	if err != nil {
		return RunView{}, err
	}
	ahead := clockAhead(events, now)
	late := false
	var early figure.FieldErrors
	var folded *procedure.Run
	take := func(kept store.Run) ([]store.RunEvent, error) {
		if folded, err = standing.Fold(kept); err != nil {
			return nil, err
		}
		known, last := map[uuid.UUID]bool{}, kept.StartedAt
		for _, e := range kept.Events {
			known[e.ID], last = true, e.At
		}
		var out []store.RunEvent
		for i, e := range events {
			if known[e.ID] {
				continue
			}
			when := e.At.Add(-ahead)
			if when.Before(last) {
				when = last
			}
			taken := procedure.Event{
				At:      when,
				Act:     e.Act,
				Turn:    e.Turn,
				Step:    e.Step,
				Option:  e.Option,
				Reading: readings[i],
				Note:    strings.TrimSpace(e.Note),
			}
			if err, sooner := folded.Take(taken), (*procedure.Early)(nil); errors.As(err, &sooner) {
				early = figure.Wrong(fmt.Sprintf("events[%d].note", i), sooner.Message())
				break
			} else if err != nil {
				late = true
				break
			}
			last, known[e.ID] = when, true
			row := store.RunEvent{
				ID:         e.ID,
				Act:        string(e.Act),
				Turn:       e.Turn,
				Step:       e.Step,
				Option:     e.Option,
				Note:       taken.Note,
				At:         when,
				ReceivedAt: now,
				MadeBy:     a.ID,
				Doses:      e.Act == procedure.ActGo && folded.Script.Doses(e.Step, e.Option),
			}
			if taken.Reading != nil {
				if row.Reading, err = json.Marshal(taken.Reading); err != nil {
					return nil, fmt.Errorf("writing a reading down: %w", err)
				}
			}
			out = append(out, row)
		}
		return out, nil
	}
	err = s.inTx(ctx, func(s *Service) (err error) {
		if r, err = s.keeper.Store.AppendRun(ctx, id, take); err != nil {
			return fmt.Errorf("keeping what was done: %w", err)
		}
		return s.closeDue(ctx, a, at, r, folded)
	})
	if err != nil {
		return RunView{}, err
	}
	if early != nil {
		return RunView{}, early
	}
	view, err := s.viewRun(ctx, at, r)
	if err == nil && late {
		err = ErrMovedOn
	}
	return view, err
}

// parseRunReadings reads what was typed, before anything is kept.
func parseRunReadings(events []RunEvent, m *plumbing.Model) ([]*casefile.Reading, error) {
	out := make([]*casefile.Reading, len(events))
	var bad figure.FieldErrors
	for i, e := range events {
		if e.ID == uuid.Nil {
			bad.Add(fmt.Sprintf("events[%d].id", i), "app.each-event-needs-an-id")
		}
		if e.Reading == nil {
			continue
		}
		path := fmt.Sprintf("events[%d].reading", i)
		r, errs := judge.ParseReading(path, *e.Reading, m)
		if len(errs) == 0 && r.RPM == 0 {
			errs.Add(path+".speed", "app.read-it-with-the-pump")
		}
		if len(errs) == 0 && e.Reading.Empty() {
			errs.Add(path+".tank", "app.type-at-least-the-tank")
		}
		bad = append(bad, errs...)
		out[i] = &r
	}
	if len(bad) > 0 {
		return nil, bad
	}
	return out, nil
}

// closeDue marks the due work that a run has done, once. A cleaning is on record by
// its visit, and a clean line by being kept.
func (s *Service) closeDue(
	ctx context.Context,
	a access.Actor,
	here *standing.Site,
	r store.Run,
	f *procedure.Run,
) error {
	res := f.Result()
	if f.Ended != nil {
		at := *f.Ended
		if now := s.keeper.Now(); at.After(now) {
			at = now // of a device whose clock is ahead
		}
		for _, part := range res.Parts {
			item := upkeep.OwedItem(part)
			if item == "" {
				continue
			}
			mark := store.DueMark{
				ID:     uuid.NewSHA1(r.ID, []byte(item)),
				PoolID: r.PoolID,
				Item:   item,
				Act:    string(upkeep.MarkOwe),
				Reason: string(f.Script.Name),
				MadeBy: a.ID,
				MadeAt: at,
			}
			if err := s.keeper.Store.AddDueMark(ctx, mark); err != nil {
				return fmt.Errorf("putting a part on the list: %w", err)
			}
		}
	}
	if res.Renewed[0] != "" {
		if err := s.renew(ctx, a, r, f, res.Renewed); err != nil {
			return err
		}
	}
	if res.Item == "" || res.Item == string(upkeep.CleanFilter) || res.Item == string(upkeep.TakeCleanLine) ||
		!upkeep.ServiceOn(res.Item, &here.Cached.Model.Doc) {
		return nil
	}
	mark := store.DueMark{
		ID:     uuid.NewSHA1(r.ID, []byte("done")),
		PoolID: r.PoolID,
		Item:   res.Item,
		Act:    string(upkeep.MarkDone),
		Reason: "app.guided-run",
		MadeBy: a.ID,
		MadeAt: *f.Ended,
	}
	if err := s.keeper.Store.AddDueMark(ctx, mark); err != nil {
		return fmt.Errorf("closing the due work: %w", err)
	}
	return nil
}

// renew puts the part that a run brought in on record, once: its life starts that day.
func (s *Service) renew(ctx context.Context, a access.Actor, r store.Run, f *procedure.Run, part [2]string) error {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return err
	}
	ever, err := s.keeper.Store.PartsEver(ctx, r.PoolID)
	if err != nil {
		return fmt.Errorf("reading the parts: %w", err)
	}
	in := equipment.PartChange{
		ID:    uuid.NewSHA1(r.ID, []byte("renewed")),
		Act:   "install",
		Kind:  part[0],
		Model: part[1],
		On:    c.Today(*f.Ended).Format(time.DateOnly),
		Note:  string(f.Script.Name),
	}
	if _, done := ever[uuid.NewSHA1(in.ID, []byte("part"))]; done {
		return nil
	}
	for id, e := range ever {
		if e.Kind == part[0] && e.RemovedOn == nil {
			in.Act, in.Part = "replace", &id
		}
	}
	if err := equipment.New(s.keeper).ChangePart(ctx, a, r.PoolID, in); err != nil {
		return fmt.Errorf("putting the new part on record: %w", err)
	}
	return nil
}

func (s *Service) viewRun(ctx context.Context, at *standing.Site, r store.Run) (RunView, error) {
	f, err := standing.Fold(r)
	if err != nil {
		return RunView{}, err
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return RunView{}, fmt.Errorf("reading the people: %w", err)
	}
	brief, err := brief(at, r, f, names)
	if err != nil {
		return RunView{}, err
	}
	out := RunView{
		RunBrief: brief,
		PoolID:   r.PoolID.String(),
		Street:   at.Record.Pool.Name(),
		Pad:      judge.FactsOf(at.Calibrated),
		Now:      s.keeper.Now(),
		Turn:     f.Turn,
		At:       f.At,
		State:    f.State,
		Done:     f.Done,
		Notes:    f.Notes,
		Timers:   f.Timers,
		Script:   *f.Script,
	}
	for i := range out.Done {
		if id, err := uuid.Parse(out.Done[i].By); err == nil {
			out.Done[i].By = names[id]
		}
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
