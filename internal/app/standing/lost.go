package standing

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// StopFor is the stop that something was made at. One that is not on record, since the database was restored from
// before its day was laid out, is put on its day's lap again: the lap of whoever's stop has this id, or else of
// whoever made it. The pool is the stop's, the moment when somebody was there; without a pool an unknown stop stays
// store.ErrNotFound.
func (s *Keeper) StopFor(
	ctx context.Context,
	a access.Actor,
	id, pool uuid.UUID,
	when time.Time,
) (store.Stop, store.Lap, error) {
	st, l, err := s.Store.StopByID(ctx, id)
	ago := s.Now().Sub(when)
	if pool == uuid.Nil || ago > refilled || ago < -refilled || !errors.Is(err, store.ErrNotFound) {
		return st, l, err
	}
	p, err := s.SeePool(ctx, a, pool)
	if err != nil {
		return st, l, err
	}
	c, err := s.Company(ctx)
	if err != nil {
		return st, l, err
	}
	day := c.Today(when)
	who, err := s.whose(ctx, a, id, pool, day)
	if err != nil {
		return st, l, err
	}
	const tries = 3
	for range tries {
		l, err = s.Store.CreateLap(ctx, store.Lap{
			ID: lap.ID(who, day), TechnicianID: who, Day: day, StartsAt: when, LimitMinutes: lapMinutes, Version: 1,
		})
		if err != nil {
			return st, l, err
		}
		for _, st := range l.Stops {
			if st.PoolID == pool {
				return st, l, nil
			}
		}
		l.Stops = append(l.Stops, store.Stop{
			ID:        lap.StopID(l.ID, pool),
			LapID:     l.ID,
			PoolID:    pool,
			Position:  len(l.Stops) + 1,
			Minutes:   p.BaseMinutes,
			PlannedAt: when,
		})
		l, err = s.Store.ReviseLap(ctx, l, s.Now())
		if err != nil && !errors.Is(err, store.ErrVersion) {
			return st, l, err
		}
	}
	return st, l, fmt.Errorf("putting a lost stop on its day again: %w", store.ErrVersion)
}

// refilled is how long back a restored database is filled again: as long as devices keep what they sent, and a day.
const refilled = 8 * 24 * time.Hour

// lapMinutes is the limit of a day that is laid out by what came in of it (as that of a day that begins with a call).
const lapMinutes = 450

// whose is the person whose lap of a day a lost stop was on.
func (s *Keeper) whose(ctx context.Context, a access.Actor, id, pool uuid.UUID, day time.Time) (uuid.UUID, error) {
	all, err := s.Store.Everybody(ctx)
	if err != nil {
		return uuid.Nil, fmt.Errorf("reading the people: %w", err)
	}
	drives := false
	for _, u := range all {
		switch {
		case lap.StopID(lap.ID(u.ID, day), pool) != id:
			drives = drives || u.ID == a.ID && access.Role(u.Role).Drives()
		case !a.MaySee(&u.ID):
			return uuid.Nil, access.ErrForbidden
		default:
			return u.ID, nil
		}
	}
	if !drives {
		return uuid.Nil, fmt.Errorf("finding the stop: %w", store.ErrNotFound)
	}
	return a.ID, nil
}
