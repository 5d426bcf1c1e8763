package route

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/lap"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// CallOut is where somebody was sent out of turn.
type CallOut struct {
	StopID string `json:"stopId"`
	Fresh  bool   `json:"fresh" doc:"it was put on the lap now; false: the pool was on it already"`
}

// CallOut puts a pool on today's lap of whoever goes there, whenever somebody calls, so
// that its bench can be opened. A day without a lap gets one.
func (s *Service) CallOut(ctx context.Context, a access.Actor, pool uuid.UUID) (CallOut, error) {
	p, err := s.keeper.SeePool(ctx, a, pool)
	if err != nil {
		return CallOut{}, err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return CallOut{}, err
	}
	if p.ArchivedAt != nil {
		return CallOut{}, figure.Wrong("pool", "app.this-pool-is-archived-take")
	}
	const tries = 3
	for range tries {
		out, err := s.callOut(ctx, c, a, &p)
		if !errors.Is(err, store.ErrVersion) { // another change of the lap came between
			return out, err
		}
	}
	return CallOut{}, store.ErrVersion
}

func (s *Service) callOut(ctx context.Context, c company.Company, a access.Actor, p *store.Pool) (CallOut, error) {
	now := s.keeper.Now()
	day := c.Today(now)
	l, err := s.lapOn(ctx, c, a.ID, day, now)
	if errors.Is(err, store.ErrNotFound) {
		l, err = s.keeper.Store.CreateLap(
			ctx,
			store.Lap{
				ID:           lap.ID(a.ID, day),
				TechnicianID: a.ID,
				Day:          day,
				StartsAt:     now,
				LimitMinutes: callDay,
				Version:      1,
			},
		)
	}
	if err != nil {
		return CallOut{}, fmt.Errorf("finding today's lap: %w", err)
	}
	for _, st := range l.Stops {
		if st.PoolID != p.ID {
			continue
		}
		logged, err := s.keeper.Store.VisitOfStops(ctx, []uuid.UUID{st.ID})
		if err != nil {
			return CallOut{}, fmt.Errorf("looking whether it was logged: %w", err)
		}
		if _, done := logged[st.ID]; done {
			return CallOut{}, figure.Wrong("pool", "app.today-s-visit-here-is")
		}
		return CallOut{StopID: st.ID.String()}, nil
	}
	at := now
	if n := len(l.Stops); n > 0 {
		last := l.Stops[n-1]
		if end := last.PlannedAt.Add(time.Duration(last.Minutes) * time.Minute); end.After(at) {
			at = end
		}
	}
	l.Stops = append(
		l.Stops,
		store.Stop{
			ID:        lap.StopID(l.ID, p.ID),
			LapID:     l.ID,
			PoolID:    p.ID,
			Position:  len(l.Stops) + 1,
			Minutes:   max(p.BaseMinutes, callMinutes),
			PlannedAt: at,
		},
	)
	kept, err := s.keeper.Store.ReviseLap(ctx, l, now)
	if err != nil {
		return CallOut{}, err
	}
	for _, st := range kept.Stops {
		if st.PoolID == p.ID {
			return CallOut{StopID: st.ID.String(), Fresh: true}, nil
		}
	}
	return CallOut{}, errors.New("the pool is not on the lap that it was put on")
}

// callMinutes is the least that a call takes, callDay the limit of a day that begins
// with one (ours).
const callMinutes, callDay = 30, 450
