package route

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/lap"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// VisitMove puts a planned visit on another day or into other hands.
type VisitMove struct {
	ID         uuid.UUID  `json:"id" format:"uuid" doc:"made by whoever moves it, so that a repeated move is one move"`
	On         string     `json:"on" maxLength:"10" doc:"the day that the pool's weekday gives"`
	To         string     `json:"to" maxLength:"10" doc:"the day to come on; empty takes the visit back to its own"`
	Technician *uuid.UUID `json:"technician,omitempty" format:"uuid" doc:"who goes, for this once"`
}

// MoveVisit moves a planned visit. Today's laps follow.
func (s *Service) MoveVisit(ctx context.Context, a access.Actor, pool uuid.UUID, m VisitMove) error {
	p, err := s.keeper.SeePool(ctx, a, pool)
	if err != nil {
		return err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return err
	}
	now := s.keeper.Now()
	made := a.When(now)
	row := store.VisitMove{ID: m.ID, PoolID: pool, MadeBy: a.ID, MadeAt: made, ReceivedAt: access.Late(made, now)}
	var errs figure.FieldErrors
	today := c.Today(row.MadeAt)
	if row.PlannedOn, err = time.Parse(time.DateOnly, m.On); err != nil ||
		row.PlannedOn.Weekday() != time.Weekday(p.Weekday) || !access.Reasonable(row.PlannedOn) {
		errs.Add("on", "app.no-visit-of-this-pool")
	}
	if m.To != "" {
		to, err := time.Parse(time.DateOnly, m.To)
		switch {
		case err != nil:
			errs.Add("to", "app.type-the-day-like-2026")
		case to.Before(today) || to.After(row.PlannedOn.AddDate(0, 0, lap.MovableDays)) ||
			to.Before(row.PlannedOn.AddDate(0, 0, -lap.MovableDays)):
			errs.Add("to", words.Of("app.move-it-to-a-day", "movableDays", words.N(lap.MovableDays)))
		default:
			row.MovedTo = &to
		}
	}
	if m.Technician != nil {
		u, err := s.keeper.Store.UserByID(ctx, *m.Technician)
		switch {
		case a.Role == access.Technician && *m.Technician != a.ID:
			return access.ErrForbidden
		case errors.Is(err, store.ErrNotFound) || (err == nil && !access.Role(u.Role).Drives()):
			errs.Add("technician", "app.this-technician-is-not-known")
		case err != nil:
			return fmt.Errorf("finding the technician: %w", err)
		case row.MovedTo == nil:
			errs.Add("technician", "app.say-the-day-too")
		default:
			row.TechnicianID = &u.ID
		}
	}
	if len(errs) == 0 && row.MovedTo != nil {
		standings, err := s.keeper.Standings(ctx, c, []store.Pool{p})
		if err != nil {
			return err
		}
		for _, v := range standings[pool].Planned {
			if c.Today(v.At).Equal(*row.MovedTo) && !c.Today(v.On).Equal(row.PlannedOn) {
				errs.Add("to", "app.another-visit-of-this-pool")
			}
		}
		if seen := standings[pool].Seen; seen != nil && row.MovedTo.Equal(today) && c.Today(*seen).Equal(today) {
			errs.Add("to", "app.this-pool-was-seen-today")
		}
	}
	if len(errs) > 0 {
		return errs
	}
	return s.inTx(ctx, func(s *Service) error {
		if err := s.keeper.Store.AddVisitMove(ctx, row); err != nil {
			return fmt.Errorf("keeping the move: %w", err)
		}
		return s.FollowPlan(ctx, c, pool, today)
	})
}

// FollowPlan brings today's laps in line with the plan for one pool: it is taken
// off where nobody is to go any more, and put last where somebody now is.
func (s *Service) FollowPlan(ctx context.Context, c company.Company, pool uuid.UUID, today time.Time) error {
	p, err := s.keeper.Store.PoolByID(ctx, pool)
	if err != nil {
		return fmt.Errorf("finding the pool: %w", err)
	}
	moves, err := s.keeper.MovesOf(ctx, c, pool)
	if err != nil {
		return err
	}
	who := "" // goes there today, whatever the hour and whether they have been
	dawn := time.Date(today.Year(), today.Month(), today.Day(), 0, 0, 0, 0, c.Zone)
	for _, v := range standing.Planned(c, &p, moves[pool], nil, dawn) {
		if c.Today(v.At).Equal(today) {
			who = v.Technician
		}
	}
	laps, err := s.keeper.Store.LapsOf(ctx, today)
	if err != nil {
		return fmt.Errorf("reading today's laps: %w", err)
	}
	for _, l := range laps {
		at := slices.IndexFunc(l.Stops, func(st store.Stop) bool { return st.PoolID == pool })
		mine := l.TechnicianID.String() == who
		switch {
		case at >= 0 && !mine:
			logged, err := s.keeper.Store.VisitOfStops(ctx, []uuid.UUID{l.Stops[at].ID})
			if err != nil {
				return fmt.Errorf("looking for the stop's visit: %w", err)
			}
			if len(logged) > 0 {
				continue
			}
			l.Stops = slices.Delete(l.Stops, at, at+1)
		case at < 0 && mine:
			l.Stops = append(
				l.Stops,
				store.Stop{ID: lap.StopID(l.ID, pool), LapID: l.ID, PoolID: pool, Minutes: p.BaseMinutes},
			)
		default:
			continue
		}
		if err := s.timed(ctx, &l, 0); err != nil {
			return err
		}
		if _, err := s.keeper.Store.ReviseLap(ctx, l, s.keeper.Now()); err != nil {
			return err
		}
	}
	return nil
}

// lapOn finds a lap; today's is written from the plan when nobody has yet.
func (s *Service) lapOn(ctx context.Context, c company.Company, who uuid.UUID, day, now time.Time) (store.Lap, error) {
	l, err := s.keeper.Store.LapOn(ctx, who, day)
	if !errors.Is(err, store.ErrNotFound) || !day.Equal(c.Today(now)) {
		return l, err
	}
	pools, err := s.keeper.Store.Workload(ctx, store.Whose{People: []uuid.UUID{who}}, day)
	if err != nil {
		return l, fmt.Errorf("listing pools: %w", err)
	}
	standings, err := s.keeper.Standings(ctx, c, pools)
	if err != nil {
		return l, err
	}
	n := now.In(c.Zone)
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return l, err
	}
	routes := routesOf(pools, standings, names)
	for _, d := range lap.Plan(routes, s.terms(time.Date(n.Year(), n.Month(), n.Day()+1, 0, 0, 0, 0, c.Zone))) {
		if d.Technician != who.String() {
			continue
		}
		l = store.Lap{
			ID:           lap.ID(who, day),
			TechnicianID: who,
			Day:          day,
			StartsAt:     d.Stops[0].Arrive,
			LimitMinutes: lap.DayMinutes,
			Version:      1,
		}
		for i := range d.Stops {
			st := &d.Stops[i]
			l.Stops = append(
				l.Stops,
				store.Stop{
					ID:        lap.StopID(l.ID, uuid.MustParse(st.Pool)),
					LapID:     l.ID,
					PoolID:    uuid.MustParse(st.Pool),
					Position:  i + 1,
					Minutes:   int(st.Minutes() + 0.5),
					PlannedAt: st.Arrive,
				},
			)
		}
		return s.keeper.Store.CreateLap(ctx, l)
	}
	return l, store.ErrNotFound
}

func (s *Service) terms(until time.Time) lap.Terms {
	return lap.Terms{Limit: lap.DayMinutes, Until: until, Roads: s.keeper.World.Roads}
}

// timed numbers a lap's stops and gives those from one on their times, along the
// roads; the first keeps its own.
func (s *Service) timed(ctx context.Context, l *store.Lap, from int) error {
	pools, err := s.poolsAt(ctx, l.Stops)
	if err != nil {
		return err
	}
	terms := s.terms(time.Time{})
	for i := range l.Stops {
		st := &l.Stops[i]
		st.Position = i + 1
		switch {
		case i == 0 && st.PlannedAt.IsZero():
			st.PlannedAt = l.StartsAt
		case i > 0 && (i >= from || st.PlannedAt.IsZero()):
			before := l.Stops[i-1]
			way := terms.Drive(placeOf(pools[before.PoolID]), placeOf(pools[st.PoolID]))
			st.PlannedAt = before.PlannedAt.Add(time.Duration((float64(before.Minutes) + way) * float64(time.Minute)))
		}
	}
	return nil
}

// poolsAt are the pools of stops.
func (s *Service) poolsAt(ctx context.Context, stops []store.Stop) (map[uuid.UUID]*store.Pool, error) {
	ids := make([]uuid.UUID, len(stops))
	for i, st := range stops {
		ids[i] = st.PoolID
	}
	pools, err := s.keeper.Store.PoolsByID(ctx, ids)
	if err != nil {
		return nil, fmt.Errorf("reading the lap's pools: %w", err)
	}
	out := make(map[uuid.UUID]*store.Pool, len(pools))
	for i := range pools {
		out[pools[i].ID] = &pools[i]
	}
	return out, nil
}

func placeOf(p *store.Pool) *lap.Place {
	if p.Lon == nil || p.Lat == nil {
		return nil
	}
	return &lap.Place{Lon: *p.Lon, Lat: *p.Lat}
}
