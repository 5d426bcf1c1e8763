// Package day is the day on a technician's phone: all that a device needs to work the stops
// of a day without a line.
package day

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/guided"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/core/zone"
	"fairlap/internal/app/access"
	"fairlap/internal/app/inspect"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/app/work"
	"fairlap/internal/store"
)

// Service is the room.
type Service struct{ keeper *standing.Keeper }

// New makes the room.
func New(k *standing.Keeper) *Service { return &Service{k} }

// Pack is a day: the lap as it stands, and of each of its stops what its page asks for.
type Pack struct {
	Lap   route.LapView `json:"lap"`
	Stops []Stop        `json:"stops" nullable:"false"`
	Zone  []byte        `json:"zone" doc:"the company's time zone as a zone file, for a device without a database of them"`
	Lang  words.Lang    `json:"lang"`
	Units units.System  `json:"units"`
}

// Stop is one of the day: what its pages ask for, unless the device has it.
type Stop struct {
	ID   string   `json:"id"`
	Mark string   `json:"mark" doc:"of what is brought: a device that says it has it is not sent it again"`
	Has  *Brought `json:"has,omitempty" doc:"absent: the device has it"`
}

// Brought is what a stop's pages ask for, and what its findings are judged with.
type Brought struct {
	Bench       visit.Bench              `json:"bench"`
	Work        work.PoolWork            `json:"work"`
	Runs        []guided.RunView         `json:"runs" nullable:"false" doc:"of this stop that are not over"`
	Pool        record.PoolRecordView    `json:"pool"`
	About       record.PoolAbout         `json:"about"`
	Before      record.LogPage           `json:"before" doc:"what was found and done before, as the stop shows it"`
	Due         route.DueView            `json:"due"`
	Inspections []inspect.InspectionLine `json:"inspections" nullable:"false"`
	Inspection  *inspect.InspectionView  `json:"inspection,omitempty" doc:"the one that was left open; absent: none"`
	Blank       inspect.InspectionView   `json:"blank" doc:"what the next inspection is begun with; the device gives its id"`
	Pack        json.RawMessage          `json:"pack" doc:"what the pool is known by, for the core on the device; read by nobody else"`
	Facts       json.RawMessage          `json:"facts" doc:"what its installation is known by, alike"`
}

// Years of the zone that go along: as far back as a record goes, and a while ahead.
const (
	yearsBack  = 12
	yearsAhead = 3
)

// every is how long a day stands as it is where nothing happens: what it says of a moment is of
// the end of that while.
const every = 5 * time.Minute

// rooms are those that a day is asked of.
type rooms struct {
	keeper  *standing.Keeper
	route   *route.Service
	visit   *visit.Service
	work    *work.Service
	record  *record.Service
	inspect *inspect.Service
}

// Pack puts a technician's day of today together; of the stops whose marks the device has only
// these.
func (s *Service) Pack(ctx context.Context, a access.Actor, have []string) (Pack, error) {
	k := s.keeper.AsOf(s.keeper.Now().Truncate(every).Add(every))
	r := rooms{k, route.New(k), visit.New(k), work.New(k), record.New(k), inspect.New(k)}
	lap, err := r.route.Lap(ctx, a, "", "")
	if err != nil {
		return Pack{}, err
	}
	c, err := k.Company(ctx)
	if err != nil {
		return Pack{}, fmt.Errorf("reading the company: %w", err)
	}
	day := c.Today(k.Now()) // the same zone file all day long, so that an unchanged day is seen as one
	p := Pack{
		Lap: lap, Stops: []Stop{}, Lang: a.Printer.Lang, Units: a.Printer.Units,
		Zone: zone.File(c.Zone, day.AddDate(-yearsBack, 0, 0), day.AddDate(yearsAhead, 0, 0)),
	}
	for _, of := range lap.Stops {
		has, err := r.brought(ctx, a, of)
		if err != nil {
			return p, fmt.Errorf("packing %s: %w", of.Street, err)
		}
		said, err := a.Printer.Marshal(has)
		if err != nil {
			return p, fmt.Errorf("writing %s: %w", of.Street, err)
		}
		one := Stop{ID: of.ID, Mark: mark(said, p.Zone), Has: &has}
		if slices.Contains(have, one.Mark) {
			one.Has = nil
		}
		p.Stops = append(p.Stops, one)
	}
	return p, nil
}

// mark tells one text from another.
func mark(texts ...[]byte) string {
	h := sha256.New()
	for _, text := range texts {
		h.Write(text)
	}
	return hex.EncodeToString(h.Sum(nil)[:6])
}

// entries is how many a stop shows of what was done before.
const entries = 8

func (r *rooms) brought(ctx context.Context, a access.Actor, of route.StopView) (Brought, error) {
	stop, err := uuid.Parse(of.ID)
	if err != nil {
		return Brought{}, fmt.Errorf("a stop's id: %w", err)
	}
	now := r.keeper.Now()
	at, err := r.keeper.AtStop(ctx, a, stop, now)
	if err != nil {
		return Brought{}, err
	}
	known, err := json.Marshal(at.Pack) // its messages as they are kept: the device writes them
	if err != nil {
		return Brought{}, fmt.Errorf("writing what is known: %w", err)
	}
	out := Brought{Pack: known, Runs: []guided.RunView{}}
	if out.Bench, err = r.visit.Bench(ctx, a, stop); err != nil {
		return out, err
	}
	pool := at.Record.Pool.ID
	if out.Work, err = r.work.Work(ctx, a, pool, &stop); err != nil {
		return out, err
	}
	for _, line := range out.Work.Runs {
		if line.Ended != nil {
			continue
		}
		run, err := r.work.RunByID(ctx, a, uuid.MustParse(line.ID))
		if err != nil {
			return out, err
		}
		run.Now = time.Time{} // the answer says when it was given: an unchanged day is seen as one
		out.Runs = append(out.Runs, run)
	}
	if out.Pool, err = r.record.PoolView(ctx, a, pool); err != nil {
		return out, err
	}
	if out.About, err = r.record.About(ctx, a, pool); err != nil {
		return out, err
	}
	before := record.LogAsk{From: store.Newest(now), Kinds: []string{"visit", "run", "part"}}
	if out.Before, err = r.record.Log(ctx, a, pool, before); err != nil {
		return out, err
	}
	out.Before.Entries = out.Before.Entries[:min(entries, len(out.Before.Entries))]
	if out.Due, err = r.route.Due(ctx, a, pool); err != nil {
		return out, err
	}
	return out, r.inspections(ctx, a, pool, &out)
}

// inspections adds what an inspection of the stop's pool is read, gone on with or begun from.
func (r *rooms) inspections(ctx context.Context, a access.Actor, pool uuid.UUID, out *Brought) error {
	var err error
	if out.Inspections, err = r.inspect.Inspections(ctx, a, pool); err != nil {
		return err
	}
	for _, line := range out.Inspections {
		if line.ClosedAt != nil {
			continue
		}
		open, err := r.inspect.Inspection(ctx, a, uuid.MustParse(line.ID))
		if err != nil {
			return err
		}
		out.Inspection = &open
		break
	}
	next, err := r.inspect.Ready(ctx, a, pool)
	if err != nil {
		return err
	}
	out.Blank = next.Blank
	if out.Facts, err = json.Marshal(next.Facts); err != nil {
		return fmt.Errorf("writing what the installation is known by: %w", err)
	}
	return nil
}
