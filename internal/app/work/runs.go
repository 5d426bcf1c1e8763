package work

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
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
	Soak       float64          `json:"soak" doc:"minutes at least that something soaks by itself meanwhile"`
	Item       string           `json:"item" doc:"due work that it does; empty: none"`
	Mends      []fault.ID       `json:"mends" nullable:"false" doc:"faults that it fixes, its own first"`
	Narrows    []fault.ID       `json:"narrows" nullable:"false" doc:"faults that it tells more of"`
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
	Procedures []ProcedureBrief  `json:"procedures" nullable:"false"`
	Runs       []guided.RunBrief `json:"runs" nullable:"false" doc:"newest first"`
	Hold       *upkeep.Hold      `json:"hold,omitempty" doc:"forbids work that throws water away"`
}

// NewRun starts a run.
type NewRun struct {
	ID        uuid.UUID       `json:"id" format:"uuid" doc:"made by whoever starts it, so that a repeated start is one run"`
	Procedure procedure.ID    `json:"procedure" minLength:"1" maxLength:"40"`
	StopID    *uuid.UUID      `json:"stopId,omitempty" format:"uuid"`
	Speed     float64         `json:"speed,omitempty" minimum:"0" maximum:"4000" doc:"rpm read at the bench"`
	WaterF    float64         `json:"waterF,omitempty" doc:"temperature of the pool's water, °F; left out: usual of the month"`
	Reason    string          `json:"reason,omitempty" maxLength:"300" doc:"for going on in spite of a hold"`
	Short     bool            `json:"short,omitempty" doc:"the short form of a routine, where it has one"`
	Findings  *judge.Findings `json:"findings,omitempty" doc:"what was found at the stop so far: a run begins as the pad was left"`
	Begun     bool            `json:"begun,omitempty" doc:"it was begun on a device without a line, and stands as it happened"`
}

// RunEvent is one thing that happened in a run, once.
type RunEvent struct {
	ID uuid.UUID `json:"id" format:"uuid"`
	guided.Typed
}

// dischargeHold is what forbids throwing water away now, unless somebody overrode it
// today.
func dischargeHold(at *standing.Site, marks []store.DueMark, now time.Time) *upkeep.Hold {
	l := upkeep.Ledger{
		Now:         now.In(at.Company.Zone),
		Gear:        upkeep.GearOf(&at.Cached.Model.Doc),
		Settings:    at.Company.Settings,
		Filter:      at.History.Filter,
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
	if at.Model.Doc.Presumed {
		return PoolWork{Procedures: []ProcedureBrief{}, Runs: []guided.RunBrief{}}, nil
	}
	setup, err := at.Setup(0, 0, now)
	if err != nil {
		return PoolWork{}, err
	}
	hold, err := s.holdOf(ctx, at, pool, now)
	if err != nil {
		return PoolWork{}, err
	}
	out := PoolWork{Procedures: []ProcedureBrief{}, Runs: []guided.RunBrief{}, Hold: hold}
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
			Soak:       c.Soak,
			Item:       p.Item,
			Mends:      append([]fault.ID{}, p.Mends...),
			Narrows:    append([]fault.ID{}, p.Narrows...),
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
		run, err := standing.Guided(r, names)
		if err != nil {
			return out, err
		}
		folded, err := run.Fold()
		if err != nil {
			return out, err
		}
		out.Runs = append(out.Runs, guided.Brief(run, folded))
	}
	return out, nil
}

// StartRun starts a run, once.
func (s *Service) StartRun(ctx context.Context, a access.Actor, pool uuid.UUID, n NewRun) (guided.RunView, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, pool, now)
	if err != nil {
		return guided.RunView{}, err
	}
	if n.StopID != nil {
		stop, lap, err := s.keeper.StopFor(ctx, a, *n.StopID, pool, a.When(now))
		if err != nil {
			return guided.RunView{}, fmt.Errorf("finding the stop: %w", err)
		}
		n.StopID = &stop.ID
		if stop.PoolID != pool || !a.MaySee(&lap.TechnicianID) {
			return guided.RunView{}, access.ErrForbidden
		}
		if err := s.keeper.AsLeft(ctx, at, stop); err != nil {
			return guided.RunView{}, err
		}
	}
	if n.ID == uuid.Nil {
		return guided.RunView{}, figure.Wrong("id", "app.the-run-needs-an-id")
	}
	if known, err := s.keeper.Store.RunByID(ctx, n.ID); err == nil {
		if known.PoolID != pool || known.Procedure != string(n.Procedure) {
			return guided.RunView{}, store.ErrDifferent
		}
		return s.viewRun(ctx, at, known)
	}
	began := a.When(now)
	hold, err := s.holdOf(ctx, at, pool, began)
	if err != nil {
		return guided.RunView{}, err
	}
	reason := strings.TrimSpace(n.Reason)
	if n.Begun && reason == "" {
		reason = "app.begun-without-a-line" // it was done: a hold that nobody there knew of can't stop it
	}
	if n.Findings != nil {
		signed := n.Findings.SignedBy(a.Name)
		n.Findings = &signed
	}
	script, err := guided.Begin(at.Stop, guided.Ask{
		Procedure: n.Procedure, Speed: n.Speed, WaterF: n.WaterF, Reason: reason, Short: n.Short,
		Findings: n.Findings,
	}, hold, began)
	if err != nil {
		return guided.RunView{}, err
	}
	if !n.Begun {
		open, err := s.openRun(ctx, pool, n)
		if err != nil {
			return guided.RunView{}, err
		}
		if open != nil && open.Procedure != string(n.Procedure) {
			name := procedure.Find(procedure.ID(open.Procedure)).Name
			return guided.RunView{}, figure.Wrong(
				"procedure",
				words.Of("app.is-still-open-at-this", "procedure", words.Msg(name)),
			)
		}
		if open != nil {
			return s.viewRun(ctx, at, *open)
		}
	}
	text, err := json.Marshal(script)
	if err != nil {
		return guided.RunView{}, fmt.Errorf("writing the run down: %w", err)
	}
	var kept store.Run
	err = s.inTx(ctx, func(s *Service) (err error) {
		if hold != nil && procedure.Find(n.Procedure).Discharges {
			mark := store.DueMark{
				ID:         uuid.NewSHA1(n.ID, []byte("override")),
				PoolID:     pool,
				Item:       string(upkeep.CleanFilter),
				Act:        string(upkeep.MarkOverride),
				Reason:     reason,
				MadeBy:     a.ID,
				MadeAt:     began,
				ReceivedAt: access.Late(began, now),
			}
			if err := s.keeper.Store.AddDueMark(ctx, mark); err != nil {
				return fmt.Errorf("keeping the override: %w", err)
			}
		}
		kept, err = s.keeper.Store.StartRun(ctx, store.Run{
			ID:         n.ID,
			PoolID:     pool,
			StopID:     n.StopID,
			Procedure:  string(n.Procedure),
			Script:     text,
			StartedBy:  a.ID,
			StartedAt:  began,
			ReceivedAt: access.Late(began, now),
		})
		return err
	})
	if err != nil {
		return guided.RunView{}, err
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

// holdOf is what forbids throwing a pool's water away at a moment; nil for nothing.
func (s *Service) holdOf(ctx context.Context, at *standing.Site, pool uuid.UUID, when time.Time) (*upkeep.Hold, error) {
	marks, err := s.keeper.Store.DueMarksOf(ctx, []uuid.UUID{pool})
	if err != nil {
		return nil, fmt.Errorf("reading what was decided: %w", err)
	}
	return dischargeHold(at, marks[pool], when), nil
}

// RunByID shows a run.
func (s *Service) RunByID(ctx context.Context, a access.Actor, id uuid.UUID) (guided.RunView, error) {
	r, err := s.keeper.Store.RunByID(ctx, id)
	if err != nil {
		return guided.RunView{}, fmt.Errorf("finding the run: %w", err)
	}
	at, err := s.keeper.AtPool(ctx, a, r.PoolID, s.keeper.Now())
	if err != nil {
		return guided.RunView{}, err
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
func (s *Service) AppendRun(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	events []RunEvent,
) (guided.RunView, error) {
	now := s.keeper.Now()
	r, err := s.keeper.Store.RunByID(ctx, id)
	if err != nil {
		return guided.RunView{}, fmt.Errorf("finding the run: %w", err)
	}
	at, err := s.keeper.AtPool(ctx, a, r.PoolID, now)
	if err != nil {
		return guided.RunView{}, err
	}
	readings, err := parseRunReadings(events, at.Cached.Model)
	if err != nil {
		return guided.RunView{}, err
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
			taken := e.Event(when, readings[i], a.ID.String())
			if meter, says := guided.Reversed(at.Cached.Model, folded, &taken); says != "" {
				early = figure.Wrong(fmt.Sprintf("events[%d].reading.%s", i, meter), says)
				break
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
		return guided.RunView{}, err
	}
	if early != nil {
		return guided.RunView{}, early
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
		r, errs := e.Read(fmt.Sprintf("events[%d]", i), m)
		bad = append(bad, errs...)
		out[i] = r
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
	gear := upkeep.GearOf(&here.Cached.Model.Doc)
	if res.Item == "" || res.Item == string(upkeep.CleanFilter) || res.Item == string(upkeep.TakeCleanLine) ||
		!upkeep.ServiceOn(res.Item, &gear) {
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

func (s *Service) viewRun(ctx context.Context, at *standing.Site, r store.Run) (guided.RunView, error) {
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return guided.RunView{}, fmt.Errorf("reading the people: %w", err)
	}
	run, err := standing.Guided(r, names)
	if err != nil {
		return guided.RunView{}, err
	}
	return guided.View(at.Stop, run, s.keeper.Now())
}
