package app

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
	"fairlap/internal/store"
)

// standing is what follows from one pool's record about now: dirt, due work, the
// visits to come. It is kept until its record grows, the choices change, or the
// hour is over.
type standing struct {
	key   standingKey
	until time.Time
	id    string // of the pool

	cached      *cachedModel
	history     upkeep.History
	settings    upkeep.Settings
	planned     []lap.Visit
	dates       []string // of planned
	due         []upkeep.Due
	at          []int // visit of each piece of due, −1 for none
	visits      int
	last        *store.Visit
	noCleanLine bool
	daysLeft    float64 // until even odds of passing the limit; −1 for not in sight
}

// standingKey is what a standing depends on beside the time.
type standingKey struct {
	record        int64
	pool, company int
}

type standingCache struct {
	mu sync.Mutex
	m  map[uuid.UUID]*standing
}

// standingBatch is how many pools are read in one go: enough to spare queries, few
// enough for their visits to fit in one.
const standingBatch = 64

// plannedAhead is how many visits due work is laid on.
const plannedAhead = 8

// remembered is how far back a pool's record is followed, years.
const remembered = 2

// forPool is the company with a pool's own choices on when to clean.
func (c company) forPool(p *store.Pool) (company, error) {
	if len(p.Cleaning) > 0 {
		if err := json.Unmarshal(p.Cleaning, &c.settings); err != nil {
			return c, fmt.Errorf("the cleaning choices of %s: %w", p.Name(), err)
		}
	}
	return c, nil
}

// standings gives each pool's standing, reading what has changed in batches, on all
// processors.
func (s *Service) standings(ctx context.Context, c company, pools []store.Pool) (map[uuid.UUID]*standing, error) {
	now := s.now()
	out := make(map[uuid.UUID]*standing, len(pools))
	var stale []store.Pool
	s.cache.mu.Lock()
	for _, p := range pools {
		if st := s.cache.m[p.ID]; st != nil && st.key == keyOf(c, &p) && now.Before(st.until) {
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
		s.cache.m = map[uuid.UUID]*standing{}
	}
	for _, p := range stale {
		s.cache.m[p.ID] = out[p.ID]
	}
	return out, nil
}

// hourEnds is the end of the company's own hour: its days end on one too.
func (c company) hourEnds(now time.Time) time.Time {
	n := now.In(c.zone)
	return n.Add(time.Hour - time.Duration(n.Minute())*time.Minute - time.Duration(n.Second())*time.Second - time.Duration(n.Nanosecond()))
}

func keyOf(c company, p *store.Pool) standingKey {
	return standingKey{p.RecordRev, p.Version, c.version}
}

// stand works a batch of pools out.
func (s *Service) stand(ctx context.Context, c company, pools []store.Pool, now time.Time) (map[uuid.UUID]*standing, error) {
	ids := make([]uuid.UUID, len(pools))
	for i, p := range pools {
		ids[i] = p.ID
	}
	records, err := s.store.PoolRecords(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading pads: %w", err)
	}
	visits, err := s.store.HistoriesOf(ctx, ids, now.AddDate(-remembered, 0, 0))
	if err != nil {
		return nil, fmt.Errorf("reading visits: %w", err)
	}
	parts, err := s.store.EquipmentOf(ctx, ids...)
	if err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	marks, err := s.store.DueMarksOf(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading what was decided: %w", err)
	}
	doses, err := s.store.LastDoses(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	moves, err := s.movesOf(ctx, c, ids...)
	if err != nil {
		return nil, err
	}
	inspected, err := s.store.LastInspections(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the inspections: %w", err)
	}
	out := make(map[uuid.UUID]*standing, len(pools))
	for _, p := range pools {
		r, here := records[p.ID], c
		if here, err = c.forPool(&p); err != nil {
			return nil, err
		}
		cm, err := s.model(r, here.settings)
		if err != nil {
			return nil, err
		}
		vs := visits[p.ID]
		st := &standing{id: p.ID.String(), key: keyOf(c, &p), until: c.hourEnds(now), cached: cm, settings: here.settings,
			visits: len(vs), noCleanLine: r.CleanLine == nil, planned: here.planned(&p, moves[p.ID], vs, now)}
		st.dates = make([]string, len(st.planned))
		for i, v := range st.planned {
			st.dates[i] = v.At.Format(time.DateOnly)
		}
		if len(vs) > 0 {
			st.last = &vs[len(vs)-1]
		}
		st.history = s.historyOf(here, vs, doses[p.ID], cm, now)
		if st.history.Watts, err = wattsOf(vs, cm); err != nil {
			return nil, err
		}
		st.daysLeft = -1
		if h := &st.history; h.HadForecast {
			st.daysLeft = h.State.Ahead(h.State.LoadBelief(), h.PerDay, 0).Cross50
		}
		found, err := inspectedOf(inspected[p.ID])
		if err != nil {
			return nil, err
		}
		l := here.ledger(r, cm, &st.history, parts[p.ID], marks[p.ID], found, st.planned, now)
		st.due = l.List()
		st.at = upkeep.AtVisit(st.due, times(st.planned), func(d *upkeep.Due, at time.Time) bool { return here.free(d, at) })
		for _, d := range st.due { // a hold or a pause ends within the hour
			if d.Hold != nil && d.Hold.Until.Before(st.until) {
				st.until = d.Hold.Until
			}
			if d.Snoozed != nil && d.Snoozed.Before(st.until) {
				st.until = *d.Snoozed
			}
		}
		out[p.ID] = st
	}
	return out, nil
}

// planned are a pool's visits to come; technicians are named by their ids.
func (c company) planned(p *store.Pool, moves []store.VisitMove, visits []store.Visit, now time.Time) []lap.Visit {
	w := lap.Weekly{Weekday: time.Weekday(p.Weekday), Technician: idOr(p.TechnicianID)}
	if n := len(visits); n > 0 {
		w.Seen = visits[n-1].ClosedAt
	}
	planned := make([]lap.Move, 0, len(moves))
	for _, m := range moves {
		mv := lap.Move{On: m.PlannedOn, Technician: idOr(m.TechnicianID)}
		if m.MovedTo != nil {
			mv.To = *m.MovedTo
		}
		planned = append(planned, mv)
	}
	return lap.Planned(w, planned, now.In(c.zone), plannedAhead)
}

func idOr(id *uuid.UUID) string {
	if id == nil {
		return ""
	}
	return id.String()
}

func times(visits []lap.Visit) []time.Time {
	out := make([]time.Time, len(visits))
	for i, v := range visits {
		out[i] = v.At
	}
	return out
}

// Warm works every pool out, so that the first to ask in an hour need not wait.
func (s *Service) Warm(ctx context.Context) error {
	c, err := s.company(ctx)
	if err != nil {
		return err
	}
	pools, err := s.store.Workload(ctx, nil, c.today(s.now()))
	if err != nil {
		return fmt.Errorf("listing pools: %w", err)
	}
	_, err = s.standings(ctx, c, pools)
	return err
}
