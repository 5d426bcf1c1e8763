package standing

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/inspection"
	"fairlap/core/judge"
	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Site is a pool as it is found: all that is known of it, and at a stop what was planned.
type Site struct {
	*judge.Stop
	Company company.Company
	Planned store.Stop
	Day     store.Lap
	Record  *store.PoolRecord
	Cached  *Pad
	Parts   []store.Equipment
	Before  []store.Visit // earlier visits, oldest first, this stop's own left out
	// Inspected is the last closed inspection; its zero is none.
	Inspected store.Inspection
}

// pack puts what is known of a pool together.
func (at *Site) pack(h upkeep.History, now time.Time) error {
	found, err := FindingsOf(&at.Inspected)
	if err != nil {
		return err
	}
	p := judge.Pack{
		Pool:      at.Record.Pool.Name(),
		Gallons:   units.Volume(at.Record.Pool.VolumeM3).Gallons(),
		Zone:      at.Company.Zone.String(),
		Pad:       at.Cached.Model.Doc,
		CleanLine: at.Cached.Clean,
		Settings:  at.Company.Settings,
		Ways:      at.Company.Ways,
		History:   h,
		Worn:      at.worn(now),
		Installed: inspection.Speaks(found),
		Open:      []fault.ID{},
		Book:      stop.Book{},
	}
	if n := len(at.Before); n > 0 {
		if id, _ := OpenSuspect(at.Before[n-1].Confirmed, at.Cached.Model.Doc.Filter.Kind); id != "" {
			p.Open = append(p.Open, id)
		}
	}
	if n := len(at.Before); n > 0 {
		if left := LeftOf(&at.Before[n-1]); left != nil {
			p.Left = &left.State
		}
	}
	at.Stop, err = p.On(at.Cached.Calibrated)
	return err
}

// AtStop reads what a stop's use cases start from, for whoever may see the lap. A stop
// that is logged already is judged as it was found.
func (s *Keeper) AtStop(ctx context.Context, a access.Actor, id uuid.UUID, now time.Time) (*Site, error) {
	c, err := s.Company(ctx)
	if err != nil {
		return nil, err
	}
	planned, l, err := s.Store.StopByID(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("finding the stop: %w", err)
	}
	if !a.MaySee(&l.TechnicianID) {
		return nil, access.ErrForbidden
	}
	records, err := s.Store.PoolRecords(ctx, []uuid.UUID{planned.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the pool: %w", err)
	}
	r := records[planned.PoolID]
	if c, err = forPool(c, &r.Pool); err != nil {
		return nil, err
	}
	cm, err := s.Model(r, c.Settings)
	if err != nil {
		return nil, err
	}
	visits, err := s.Store.Remembered(ctx, []uuid.UUID{planned.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the visits: %w", err)
	}
	others := visits[planned.PoolID][:0:0]
	for _, v := range visits[planned.PoolID] { // a stop already logged is judged as it was found
		if v.StopID == nil || *v.StopID != planned.ID {
			others = append(others, v)
		}
	}
	doses, err := s.Store.LastDoses(ctx, []uuid.UUID{planned.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	parts, err := s.Store.EquipmentOf(ctx, planned.PoolID)
	if err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	priors, err := s.Priors(ctx)
	if err != nil {
		return nil, err
	}
	inspected, err := s.Store.LastInspections(ctx, []uuid.UUID{planned.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the last inspection: %w", err)
	}
	runs, err := s.bookOf(ctx, planned)
	if err != nil {
		return nil, err
	}
	at := &Site{
		Company:   c,
		Planned:   planned,
		Day:       l,
		Record:    r,
		Cached:    cm,
		Parts:     parts[planned.PoolID],
		Before:    others,
		Inspected: inspected[planned.PoolID],
	}
	if err := at.pack(s.HistoryOf(c, others, doses[planned.PoolID], cm, now), now); err != nil {
		return nil, err
	}
	at.Priors, at.Next, at.Book = priors, lap.NextVisit(planned.PlannedAt), runs
	return at, nil
}

// worn is, by what they wear into, how much of their expected life parts have
// behind them.
func (at *Site) worn(now time.Time) map[fault.ID]float64 {
	out := map[fault.ID]float64{}
	for _, e := range at.Parts {
		years := Expected(at.Company, &e)
		if e.InstalledOn == nil || years <= 0 {
			continue
		}
		share := now.Sub(*e.InstalledOn).Hours() / 24 / 365.25 / years
		for _, id := range fault.WearsInto[e.Kind] {
			out[id] = max(out[id], share)
		}
	}
	return out
}

// KindOf is what kind of filter a pool has.
func (s *Keeper) KindOf(ctx context.Context, pool uuid.UUID) (pad.FilterKind, error) {
	c, err := s.Company(ctx)
	if err != nil {
		return "", err
	}
	pools, err := s.Store.WorkloadOf(ctx, []uuid.UUID{pool})
	if err != nil {
		return "", fmt.Errorf("reading the pool: %w", err)
	}
	kept, behind, err := s.kept(ctx, c, pools)
	if err != nil {
		return "", err
	}
	if k := kept[pool]; k != nil && len(behind) == 0 {
		return k.Gear.Kind, nil
	}
	cm, _, _, err := s.PadOf(ctx, pool) // archived, or behind
	if err != nil {
		return "", err
	}
	return cm.Model.Doc.Filter.Kind, nil
}

// PadOf gives a pool's calibrated pad, its record, and the company with the pool's own
// choices.
func (s *Keeper) PadOf(ctx context.Context, pool uuid.UUID) (*Pad, *store.PoolRecord, company.Company, error) {
	c, err := s.Company(ctx)
	if err != nil {
		return nil, nil, c, err
	}
	records, err := s.Store.PoolRecords(ctx, []uuid.UUID{pool})
	if err != nil {
		return nil, nil, c, fmt.Errorf("reading the pool: %w", err)
	}
	if c, err = forPool(c, &records[pool].Pool); err != nil {
		return nil, nil, c, err
	}
	cm, err := s.Model(records[pool], c.Settings)
	return cm, records[pool], c, err
}

// AtPool is what a pool's pages start from: its pad, its visits, its history up
// to a time.
func (s *Keeper) AtPool(ctx context.Context, a access.Actor, id uuid.UUID, now time.Time) (*Site, error) {
	if _, err := s.SeePool(ctx, a, id); err != nil {
		return nil, err
	}
	return s.ReadPool(ctx, id, now)
}

// ReadPool is AtPool for whoever may see the pool.
func (s *Keeper) ReadPool(ctx context.Context, id uuid.UUID, now time.Time) (*Site, error) {
	cm, rec, c, err := s.PadOf(ctx, id)
	if err != nil {
		return nil, err
	}
	visits, err := s.Store.Remembered(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading the visits: %w", err)
	}
	doses, err := s.Store.LastDoses(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	parts, err := s.Store.EquipmentOf(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	inspected, err := s.Store.LastInspections(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading the last inspection: %w", err)
	}
	at := &Site{Company: c, Record: rec, Cached: cm, Parts: parts[id], Before: visits[id], Inspected: inspected[id]}
	h := s.HistoryOf(c, visits[id], doses[id], cm, now)
	if h.Watts, err = WattsOf(visits[id], cm); err != nil {
		return nil, err
	}
	return at, at.pack(h, now)
}

// Seen is when the pool was last seen; nil for never.
func (at *Site) Seen() *time.Time {
	if n := len(at.Before); n > 0 {
		return &at.Before[n-1].ClosedAt
	}
	return nil
}

// Amounts is what the pool's record amounts to, with the decisions about its due work.
func (at *Site) Amounts(marks []store.DueMark) (*Kept, error) {
	return keptOf(at.Company, at.Record, at.Cached, &at.History, at.Before, at.Parts, marks, at.Inspected)
}
