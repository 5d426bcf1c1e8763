package standing

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"time"

	fast "github.com/go-json-experiment/json"
	"github.com/google/uuid"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/plumbing"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/company"
	"fairlap/internal/clock"
	"fairlap/internal/store"
)

// Kept is what a pool's record amounts to, whatever the day: a row, moved on when the record
// grows. What depends on the day (the load by now, what is due) is worked out from it.
type Kept struct {
	Filter     upkeep.Filter // as its last visit left it
	Worn       []upkeep.Wear
	Gear       upkeep.Gear
	KGalPerDay float64
	Shortfalls []plumbing.Shortfall
	CleanLine  *time.Time // the last one
	Since      time.Time  // on record
	Parts      []upkeep.Part
	Marks      []upkeep.Mark // oldest first
	Inspected  []upkeep.Inspected
	Visits     int
	Seen       *time.Time    // the last visit's end
	Confirmed  string        // by the last visit
	Left       words.Message // unlike daily use, by the last visit; empty: nothing
}

// keptFormat stands for how Kept is worked out and written: another number, and rows of
// before are worked out anew.
const keptFormat = 3

// basisOf stands for all that goes into Kept beside a pool's own record.
func (s *Keeper) basisOf(c company.Company) (string, error) {
	text, err := json.Marshal(c.Settings)
	if err != nil {
		return "", fmt.Errorf("writing the choices: %w", err)
	}
	sum := sha256.Sum256(
		fmt.Appendf(text, "%d %s %s %t", keptFormat, diagnosis.EngineVersion, c.Zone, s.World.Sky != nil),
	)
	return hex.EncodeToString(sum[:12]), nil
}

// Open is the suspect that the last visit left open; empty for none.
func (k *Kept) Open() fault.ID {
	id, _ := OpenSuspect(k.Confirmed, k.Gear.Kind)
	return id
}

// Danger is the first work that keeps the pump off; empty for none.
func (k *Kept) Danger() words.Message {
	l := upkeep.Ledger{Marks: k.Marks, Inspected: k.Inspected}
	if closed := l.Closed(); len(closed) > 0 {
		return closed[0].Name
	}
	return ""
}

// read is everything that Kept is worked out of, of some pools.
type read struct {
	records   map[uuid.UUID]*store.PoolRecord
	visits    map[uuid.UUID][]store.Visit
	parts     map[uuid.UUID][]store.Equipment
	marks     map[uuid.UUID][]store.DueMark
	doses     map[uuid.UUID]time.Time
	inspected map[uuid.UUID]store.Inspection
}

func (s *Keeper) read(ctx context.Context, ids []uuid.UUID) (*read, error) {
	var r read
	var err error
	if r.records, err = s.Store.PoolRecords(ctx, ids); err != nil {
		return nil, fmt.Errorf("reading pads: %w", err)
	}
	if r.visits, err = s.Store.HistoriesOf(ctx, ids); err != nil {
		return nil, fmt.Errorf("reading visits: %w", err)
	}
	if r.parts, err = s.Store.EquipmentOf(ctx, ids...); err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	if r.marks, err = s.Store.DueMarksOf(ctx, ids); err != nil {
		return nil, fmt.Errorf("reading what was decided: %w", err)
	}
	if r.doses, err = s.Store.LastDoses(ctx, ids); err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	if r.inspected, err = s.Store.LastInspections(ctx, ids); err != nil {
		return nil, fmt.Errorf("reading the inspections: %w", err)
	}
	return &r, nil
}

// Keep works out what pools' records amount to and writes it down; c is the company, and
// each pool's own choices are taken in here.
func (s *Keeper) Keep(ctx context.Context, c company.Company, pools []store.Pool) (map[uuid.UUID]*Kept, error) {
	ids := make([]uuid.UUID, len(pools))
	for i := range pools {
		ids[i] = pools[i].ID
	}
	r, err := s.read(ctx, ids)
	if err != nil {
		return nil, err
	}
	out := make(map[uuid.UUID]*Kept, len(pools))
	rows := make([]store.Standing, 0, len(pools))
	var errs []error
	now := s.Now()
	for i := range pools {
		p := &pools[i]
		here, err := forPool(c, p)
		if err != nil {
			return nil, err
		}
		k, err := s.work(here, r, p.ID)
		if err != nil { // a pad that can't be solved holds none of the others up
			errs = append(errs, err)
			continue
		}
		row, err := s.row(here, p, k, now)
		if err != nil {
			return nil, err
		}
		out[p.ID], rows = k, append(rows, row)
	}
	return out, errors.Join(append(errs, s.Store.KeepStandings(ctx, rows))...)
}

// work works out what one pool's record amounts to.
func (s *Keeper) work(c company.Company, r *read, pool uuid.UUID) (*Kept, error) {
	record := r.records[pool]
	m, err := s.Model(record, c.Settings)
	if err != nil {
		return nil, err
	}
	visits := r.visits[pool]
	h, err := s.settle(c, visits, r.doses[pool], m)
	if err != nil {
		return nil, err
	}
	return keptOf(c, record, m, &h, visits, r.parts[pool], r.marks[pool], r.inspected[pool])
}

// keptOf puts together what a pool's record amounts to.
func keptOf(
	c company.Company,
	r *store.PoolRecord,
	m *Pad,
	h *upkeep.History,
	visits []store.Visit,
	parts []store.Equipment,
	marks []store.DueMark,
	inspected store.Inspection,
) (*Kept, error) {
	found, err := InspectedOf(inspected)
	if err != nil {
		return nil, err
	}
	k := &Kept{
		Filter:     h.Filter,
		Gear:       upkeep.GearOf(&m.Model.Doc),
		KGalPerDay: m.KGalPerDay,
		Shortfalls: m.Shortfalls,
		Since:      r.Pool.OnRecordSince,
		Marks:      Marks(c, marks),
		Inspected:  found,
		Visits:     len(visits),
	}
	k.Worn = h.Worn(k.Gear.Kind)
	if r.CleanLine != nil {
		k.CleanLine = &r.CleanLine.TakenAt
	}
	for _, e := range parts {
		p := upkeep.Part{Kind: e.Kind, Model: e.Model}
		if e.InstalledOn != nil {
			p.Installed = *e.InstalledOn
		}
		if e.ExpectedYears != nil {
			p.Years = *e.ExpectedYears
		}
		k.Parts = append(k.Parts, p)
	}
	if n := len(visits); n > 0 {
		k.Seen, k.Confirmed = &visits[n-1].ClosedAt, visits[n-1].Confirmed
		if left := LeftOf(&visits[n-1]); left != nil {
			k.Left = left.Says()
		}
	}
	k.inZone(c.Zone)
	return k, nil
}

// inZone tells all moments by the company's own clock, wherever the server stands: days are
// told by it.
func (k *Kept) inZone(zone *time.Location) {
	in := func(t *time.Time) *time.Time {
		if t == nil {
			return nil
		}
		there := t.In(zone)
		return &there
	}
	if !k.Filter.At.IsZero() { // which would not be nought in every zone
		k.Filter.At = k.Filter.At.In(zone)
	}
	k.Filter.LastCleaned, k.Filter.Chemicals = in(k.Filter.LastCleaned), in(k.Filter.Chemicals)
	k.CleanLine, k.Seen = in(k.CleanLine), in(k.Seen)
	for i := range k.Marks {
		k.Marks[i].At = k.Marks[i].At.In(zone)
	}
	for i := range k.Inspected {
		k.Inspected[i].At = k.Inspected[i].At.In(zone)
	}
}

// row is Kept as it is written.
func (s *Keeper) row(c company.Company, p *store.Pool, k *Kept, now time.Time) (store.Standing, error) {
	basis, err := s.basisOf(c)
	if err != nil {
		return store.Standing{}, err
	}
	text, err := json.Marshal(k)
	if err != nil {
		return store.Standing{}, fmt.Errorf("writing how %s stands: %w", p.Name(), err)
	}
	return store.Standing{
		PoolID:    p.ID,
		RecordRev: p.RecordRev,
		Basis:     basis,
		Kept:      text,
		Sorts:     s.sort(c, p, k, now),
	}, nil
}

// sort is what lists are sorted by.
func (s *Keeper) sort(c company.Company, p *store.Pool, k *Kept, now time.Time) store.PoolSort {
	out := store.PoolSort{
		PoolID: p.ID, RecordRev: p.RecordRev,
		SeenAt: k.Seen, OpenSuspect: string(k.Open()), Danger: string(k.Danger()), WorkedAt: now,
	}
	if f := k.on(s, c, now); f.HadForecast {
		load := f.State.Expected()
		out.Load = &load
		out.OverAt = f.OverAt(now)
	}
	return out
}

// on is the filter at a moment.
func (k *Kept) on(s *Keeper, c company.Company, now time.Time) upkeep.Filter {
	return k.Filter.On(s.exposure(c, k.KGalPerDay, k.Filter.Scale), now)
}

// parse reads Kept as it was written.
func (s *Keeper) parse(row *store.Standing) (*Kept, error) {
	k := new(Kept)
	if err := fast.Unmarshal(row.Kept, k); err != nil { // a week reads hundreds
		return nil, fmt.Errorf("reading how pool %s stands: %w", row.PoolID, err)
	}
	return k, nil
}

// moveOn keeps up with the pools whose record this unit of work let grow. Of very many it
// leaves the rest: whoever needs one works it out.
func (s *Keeper) moveOn(ctx context.Context) error {
	ids, err := s.Store.Grown(ctx)
	if err != nil || len(ids) == 0 || len(ids) > standingBatch {
		return err
	}
	c, err := s.Company(ctx)
	if err != nil {
		return err
	}
	pools, err := s.Store.WorkloadOf(ctx, ids)
	if err != nil {
		return fmt.Errorf("reading the pools that have changed: %w", err)
	}
	_, err = s.Keep(ctx, c, pools)
	return err
}

// CatchUp works out the pools whose rows are behind their record, if they are few: what lists
// are sorted by is then today's. Many are left to KeepUp.
// A write moves its pools' rows on itself, so that it is enough to look now and then. Lists that
// come while one looks wait for it: a page asks for several at once.
func (s *Keeper) CatchUp(ctx context.Context) error {
	if clock.Since(time.Unix(0, s.caughtUp.Load())) < eachCatchUp {
		return nil
	}
	_, err, _ := s.catching.Do("", func() (any, error) {
		// Whatever came of it: a pad that can't be solved is not tried by every list.
		defer func() { s.caughtUp.Store(clock.Now().UnixNano()) }()
		return s.catchUp(context.WithoutCancel(ctx), standingBatch)
	})
	return err
}

// eachCatchUp is how often lists look for pools that are behind.
const eachCatchUp = 20 * time.Second

// KeepUp works out all pools whose rows are behind their record, or of another engine or other
// choices, and tells how many there were.
func (s *Keeper) KeepUp(ctx context.Context) (int, error) {
	worked := 0
	for {
		n, err := s.catchUp(ctx, math.MaxInt)
		worked += n
		if err != nil || n == 0 {
			return worked, err
		}
	}
}

// Behind is how many pools' rows are behind their record, up to a hundred.
func (s *Keeper) Behind(ctx context.Context) (float64, error) {
	c, err := s.Company(ctx)
	if err != nil {
		return 0, err
	}
	basis, err := s.basisOf(c)
	if err != nil {
		return 0, err
	}
	pools, err := s.Store.Behind(ctx, basis, 100)
	return float64(len(pools)), err
}

// catchUp works out a batch of pools that are behind, unless there are more than some.
func (s *Keeper) catchUp(ctx context.Context, most int) (int, error) {
	c, err := s.Company(ctx)
	if err != nil {
		return 0, err
	}
	basis, err := s.basisOf(c)
	if err != nil {
		return 0, err
	}
	pools, err := s.Store.Behind(ctx, basis, standingBatch+1)
	if err != nil {
		return 0, fmt.Errorf("looking for pools behind their record: %w", err)
	}
	if len(pools) > most || len(pools) == 0 {
		return 0, nil
	}
	pools = pools[:min(len(pools), standingBatch)]
	_, err = s.Keep(ctx, c, pools)
	return len(pools), err
}

// Rebuild works every pool out whose row is missing, behind its record or of another engine
// or other choices, all of them where they are asked for, and moves what lists are sorted by
// on to now. Each part of them is its own unit of work. told, if given, hears how many are
// done. It gives how many were worked out.
func (s *Keeper) Rebuild(ctx context.Context, all bool, told func(done int)) (int, error) {
	c, err := s.Company(ctx)
	if err != nil {
		return 0, err
	}
	done, worked := 0, 0
	err = s.Store.EachPool(ctx, standingBatch, func(pools []store.Pool) error {
		behind := pools
		if !all {
			var fresh map[uuid.UUID]*Kept
			if fresh, behind, err = s.kept(ctx, c, pools); err != nil {
				return err
			}
			if err := s.moveSorts(ctx, c, pools, fresh); err != nil {
				return err
			}
		}
		if len(behind) > 0 {
			if _, err := s.Keep(ctx, c, behind); err != nil {
				return err
			}
		}
		done, worked = done+len(pools), worked+len(behind)
		if told != nil {
			told(done)
		}
		return nil
	})
	return worked, err
}

// moveSorts moves what lists are sorted by on to now.
func (s *Keeper) moveSorts(ctx context.Context, c company.Company, pools []store.Pool, kept map[uuid.UUID]*Kept) error {
	var rows []store.PoolSort
	now := s.Now()
	for i := range pools {
		if k := kept[pools[i].ID]; k != nil {
			here, err := forPool(c, &pools[i])
			if err != nil {
				return err
			}
			rows = append(rows, s.sort(here, &pools[i], k, now))
		}
	}
	if err := s.Store.MoveSorts(ctx, rows); err != nil {
		return fmt.Errorf("moving what lists are sorted by on: %w", err)
	}
	return nil
}
