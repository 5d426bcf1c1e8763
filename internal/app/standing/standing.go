package standing

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

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
// visits to come.
type Standing struct {
	*Kept
	Id       string // of the pool
	Filter   upkeep.Filter
	Settings upkeep.Settings
	Planned  []lap.Visit
	Dates    []string // of planned
	Due      []upkeep.Due
	At       []int   // visit of each piece of due work, −1 for none
	DaysLeft float64 // until even odds of passing the limit; −1 for not in sight
}

// standingBatch is how many pools are read in one go: enough to spare queries, few
// enough for their visits to fit in one.
const standingBatch = 64

// plannedAhead is how many visits due work is laid on.
const plannedAhead = 8

// forPool is the company with a pool's own choices on when to clean.
func forPool(c company.Company, p *store.Pool) (company.Company, error) {
	if len(p.Cleaning) > len("{}") {
		if err := json.Unmarshal(p.Cleaning, &c.Settings); err != nil {
			return c, fmt.Errorf("the cleaning choices of %s: %w", p.Name(), err)
		}
	}
	return c, nil
}

// keptKey is what a kept row stands by.
type keptKey struct {
	record int64
	basis  string
}

// keptEntry is a row as it was last read.
type keptEntry struct {
	key  keptKey
	kept *Kept
}

// kept gives what some pools' records amount to, as far as their rows stand by today's record
// and choices, and the pools whose rows do not.
func (s *Keeper) kept(
	ctx context.Context,
	c company.Company,
	pools []store.Pool,
) (map[uuid.UUID]*Kept, []store.Pool, error) {
	company, err := s.basisOf(c)
	if err != nil {
		return nil, nil, err
	}
	keys := make(map[uuid.UUID]keptKey, len(pools))
	out := make(map[uuid.UUID]*Kept, len(pools))
	var ask []uuid.UUID
	for i := range pools {
		p := &pools[i]
		basis := company
		if len(p.Cleaning) > len("{}") {
			here, err := forPool(c, p)
			if err != nil {
				return nil, nil, err
			}
			if basis, err = s.basisOf(here); err != nil {
				return nil, nil, err
			}
		}
		key := keptKey{p.RecordRev, basis}
		keys[p.ID] = key
		if e, ok := s.rows.Get(p.ID); ok && e.key == key {
			out[p.ID] = e.kept
			continue
		}
		ask = append(ask, p.ID)
	}
	if len(ask) > 0 {
		rows, err := s.Store.StandingsOf(ctx, ask)
		if err != nil {
			return nil, nil, fmt.Errorf("reading how pools stand: %w", err)
		}
		for id, row := range rows {
			if key := keys[id]; key == (keptKey{row.RecordRev, row.Basis}) {
				k, err := s.parse(&row)
				if err != nil {
					return nil, nil, err
				}
				out[id] = k
				s.rows.Add(id, keptEntry{key, k})
			}
		}
	}
	var behind []store.Pool
	for i := range pools {
		if out[pools[i].ID] == nil {
			behind = append(behind, pools[i])
		}
	}
	return out, behind, nil
}

// Standings gives each pool's standing: from its row, or worked out and written down where
// that is not today's record's.
func (s *Keeper) Standings(
	ctx context.Context,
	c company.Company,
	pools []store.Pool,
) (map[uuid.UUID]*Standing, error) {
	now := s.Now()
	rows, behind, err := s.kept(ctx, c, pools)
	if err != nil {
		return nil, err
	}
	for part := range slices.Chunk(behind, standingBatch) {
		fresh, err := s.Keep(ctx, c, part)
		if err != nil {
			return nil, err
		}
		maps.Copy(rows, fresh)
	}
	moves := map[uuid.UUID][]store.VisitMove{}
	if len(pools) > 0 {
		ids := make([]uuid.UUID, len(pools))
		for i := range pools {
			ids[i] = pools[i].ID
		}
		if moves, err = s.MovesOf(ctx, c, ids...); err != nil {
			return nil, err
		}
	}
	out := make(map[uuid.UUID]*Standing, len(pools))
	for i := range pools {
		p := &pools[i]
		here, err := forPool(c, p)
		if err != nil {
			return nil, err
		}
		out[p.ID] = s.stand(here, p, rows[p.ID], moves[p.ID], now)
	}
	return out, nil
}

// stand is how a pool stands at a moment.
func (s *Keeper) stand(c company.Company, p *store.Pool, k *Kept, moves []store.VisitMove, now time.Time) *Standing {
	st := &Standing{Kept: k, Id: p.ID.String(), Settings: c.Settings, Planned: Planned(c, p, moves, k.Seen, now)}
	st.Dates = make([]string, len(st.Planned))
	for i, v := range st.Planned {
		st.Dates[i] = v.At.Format(time.DateOnly)
	}
	l := s.Ledger(c, k, st.Planned, now)
	st.Filter = l.Filter
	st.DaysLeft = st.Filter.DaysLeft()
	st.Due = l.List()
	st.At = upkeep.AtVisit(
		st.Due,
		Times(st.Planned),
		func(d *upkeep.Due, at time.Time) bool { return Free(c, d, at) },
	)
	return st
}

// Planned are a pool's visits to come after the one that was seen last; technicians are named by their ids.
func Planned(
	c company.Company,
	p *store.Pool,
	moves []store.VisitMove,
	seen *time.Time,
	now time.Time,
) []lap.Visit {
	w := lap.Weekly{Weekday: time.Weekday(p.Weekday), Technician: company.IDOr(p.TechnicianID)}
	if seen != nil {
		w.Seen = *seen
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
