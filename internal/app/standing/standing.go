package standing

import (
	"context"
	"encoding/json"
	"fmt"
	"runtime"
	"sync"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"fairlap/core/lap"
	"fairlap/core/upkeep"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// MovesOf are pools' moves that may still count, oldest first.
func (s *Keeper) MovesOf(
	ctx context.Context,
	c company.Company,
	pools ...uuid.UUID,
) (map[uuid.UUID][]store.VisitMove, error) {
	moves, err := s.Store.MovesOf(ctx, pools, c.Today(s.Now()).AddDate(0, 0, -lap.MovableDays-7))
	if err != nil {
		return nil, fmt.Errorf("reading what was moved: %w", err)
	}
	return moves, nil
}

// Standing is what follows from one pool's record about now: dirt, due work, the
// visits to come. It is kept until its record grows, the choices change, or the
// hour is over.
type Standing struct {
	Key   standingKey
	Until time.Time
	Id    string // of the pool

	Cached      *Pad
	History     upkeep.History
	Settings    upkeep.Settings
	Planned     []lap.Visit
	Dates       []string // of planned
	Due         []upkeep.Due
	At          []int // visit of each piece of due, −1 for none
	Visits      int
	Last        *store.Visit
	NoCleanLine bool
	DaysLeft    float64 // until even odds of passing the limit; −1 for not in sight
}

// standingKey is what a standing depends on beside the time.
type standingKey struct {
	record        int64
	pool, company int
}

type standingCache struct {
	mu sync.Mutex
	m  map[uuid.UUID]*Standing
}

// standingBatch is how many pools are read in one go: enough to spare queries, few
// enough for their visits to fit in one.
const standingBatch = 64

// plannedAhead is how many visits due work is laid on.
const plannedAhead = 8

// remembered is how far back a pool's record is followed, years.
const remembered = 2

// forPool is the company with a pool's own choices on when to clean.
func forPool(c company.Company, p *store.Pool) (company.Company, error) {
	if len(p.Cleaning) > 0 {
		if err := json.Unmarshal(p.Cleaning, &c.Settings); err != nil {
			return c, fmt.Errorf("the cleaning choices of %s: %w", p.Name(), err)
		}
	}
	return c, nil
}

// Standings gives each pool's standing, reading what has changed in batches, on all
// processors.
func (s *Keeper) Standings(
	ctx context.Context,
	c company.Company,
	pools []store.Pool,
) (map[uuid.UUID]*Standing, error) {
	now := s.Now()
	out := make(map[uuid.UUID]*Standing, len(pools))
	var stale []store.Pool
	s.cache.mu.Lock()
	for _, p := range pools {
		if st := s.cache.m[p.ID]; st != nil && st.Key == keyOf(c, &p) && now.Before(st.Until) {
			out[p.ID] = st
		} else {
			stale = append(stale, p)
		}
	}
	s.cache.mu.Unlock()
	if len(stale) == 0 {
		return out, nil
	}
	var mu sync.Mutex
	work, ctx := errgroup.WithContext(ctx)
	work.SetLimit(runtime.NumCPU())
	for from := 0; from < len(stale); from += standingBatch {
		batch := stale[from:min(from+standingBatch, len(stale))]
		work.Go(func() error {
			fresh, err := s.stand(ctx, c, batch, now)
			mu.Lock()
			defer mu.Unlock()
			for id, st := range fresh {
				out[id] = st
			}
			return err
		})
	}
	if err := work.Wait(); err != nil {
		return nil, err
	}
	s.cache.mu.Lock()
	defer s.cache.mu.Unlock()
	if s.cache.m == nil {
		s.cache.m = map[uuid.UUID]*Standing{}
	}
	for _, p := range stale {
		s.cache.m[p.ID] = out[p.ID]
	}
	return out, nil
}

// hourEnds is the end of the company's own hour: its days end on one too.
func hourEnds(c company.Company, now time.Time) time.Time {
	n := now.In(c.Zone)
	return n.Add(
		time.Hour - time.Duration(
			n.Minute(),
		)*time.Minute - time.Duration(
			n.Second(),
		)*time.Second - time.Duration(
			n.Nanosecond(),
		),
	)
}

func keyOf(c company.Company, p *store.Pool) standingKey {
	return standingKey{record: p.RecordRev, pool: p.Version, company: c.Version}
}

// stand works a batch of pools out.
func (s *Keeper) stand(
	ctx context.Context,
	c company.Company,
	pools []store.Pool,
	now time.Time,
) (map[uuid.UUID]*Standing, error) {
	ids := make([]uuid.UUID, len(pools))
	for i, p := range pools {
		ids[i] = p.ID
	}
	records, err := s.Store.PoolRecords(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading pads: %w", err)
	}
	visits, err := s.Store.HistoriesOf(ctx, ids, now.AddDate(-remembered, 0, 0))
	if err != nil {
		return nil, fmt.Errorf("reading visits: %w", err)
	}
	parts, err := s.Store.EquipmentOf(ctx, ids...)
	if err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	marks, err := s.Store.DueMarksOf(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading what was decided: %w", err)
	}
	doses, err := s.Store.LastDoses(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	moves, err := s.MovesOf(ctx, c, ids...)
	if err != nil {
		return nil, err
	}
	inspected, err := s.Store.LastInspections(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the inspections: %w", err)
	}
	out := make(map[uuid.UUID]*Standing, len(pools))
	for _, p := range pools {
		r := records[p.ID]
		here, err := forPool(c, &p)
		if err != nil {
			return nil, err
		}
		cm, err := s.Model(r, here.Settings)
		if err != nil {
			return nil, err
		}
		vs := visits[p.ID]
		st := &Standing{
			Id:          p.ID.String(),
			Key:         keyOf(c, &p),
			Until:       hourEnds(c, now),
			Cached:      cm,
			Settings:    here.Settings,
			Visits:      len(vs),
			NoCleanLine: r.CleanLine == nil,
			Planned:     Planned(here, &p, moves[p.ID], vs, now),
		}
		st.Dates = make([]string, len(st.Planned))
		for i, v := range st.Planned {
			st.Dates[i] = v.At.Format(time.DateOnly)
		}
		if len(vs) > 0 {
			st.Last = &vs[len(vs)-1]
		}
		st.History = s.HistoryOf(here, vs, doses[p.ID], cm, now)
		if st.History.Watts, err = WattsOf(vs, cm); err != nil {
			return nil, err
		}
		st.DaysLeft = -1
		if h := &st.History; h.HadForecast {
			st.DaysLeft = h.State.Ahead(h.State.LoadBelief(), h.PerDay, 0).Cross50
		}
		found, err := InspectedOf(inspected[p.ID])
		if err != nil {
			return nil, err
		}
		l := Ledger(here, r, cm, &st.History, parts[p.ID], marks[p.ID], found, st.Planned, now)
		st.Due = l.List()
		st.At = upkeep.AtVisit(
			st.Due,
			Times(st.Planned),
			func(d *upkeep.Due, at time.Time) bool { return Free(here, d, at) },
		)
		for _, d := range st.Due { // a hold or a pause ends within the hour
			if d.Hold != nil && d.Hold.Until.Before(st.Until) {
				st.Until = d.Hold.Until
			}
			if d.Snoozed != nil && d.Snoozed.Before(st.Until) {
				st.Until = *d.Snoozed
			}
		}
		out[p.ID] = st
	}
	return out, nil
}

// Planned are a pool's visits to come; technicians are named by their ids.
func Planned(
	c company.Company,
	p *store.Pool,
	moves []store.VisitMove,
	visits []store.Visit,
	now time.Time,
) []lap.Visit {
	w := lap.Weekly{Weekday: time.Weekday(p.Weekday), Technician: company.IDOr(p.TechnicianID)}
	if n := len(visits); n > 0 {
		w.Seen = visits[n-1].ClosedAt
	}
	planned := make([]lap.Move, 0, len(moves))
	for _, m := range moves {
		mv := lap.Move{On: m.PlannedOn, Technician: company.IDOr(m.TechnicianID)}
		if m.MovedTo != nil {
			mv.To = *m.MovedTo
		}
		planned = append(planned, mv)
	}
	return lap.Planned(w, planned, now.In(c.Zone), plannedAhead)
}

// Times are when planned visits begin.
func Times(visits []lap.Visit) []time.Time {
	out := make([]time.Time, len(visits))
	for i, v := range visits {
		out[i] = v.At
	}
	return out
}

// Warm works every pool out, so that the first to ask in an hour need not wait.
func (s *Keeper) Warm(ctx context.Context) error {
	c, err := s.Company(ctx)
	if err != nil {
		return err
	}
	pools, err := s.Store.Workload(ctx, nil, c.Today(s.Now()))
	if err != nil {
		return fmt.Errorf("listing pools: %w", err)
	}
	_, err = s.Standings(ctx, c, pools)
	return err
}
