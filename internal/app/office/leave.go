package office

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/route"
	"fairlap/internal/store"
)

// Leave ends a technician's work for the company; their pools go to another, or to
// nobody until the desk says who.
func (s *Service) Leave(ctx context.Context, a access.Actor, who uuid.UUID, to *uuid.UUID) (int, error) {
	if a.Role == access.Technician {
		return 0, access.ErrForbidden
	}
	u, err := s.keeper.Store.UserByID(ctx, who)
	if err != nil {
		return 0, fmt.Errorf("finding who leaves: %w", err)
	}
	if access.Role(u.Role) != access.Technician {
		return 0, figure.Wrong("id", "app.only-technicians-leave-here")
	}
	if to != nil {
		v, err := s.keeper.Store.UserByID(ctx, *to)
		if errors.Is(err, store.ErrNotFound) ||
			(err == nil && (access.Role(v.Role) != access.Technician || v.ID == who)) {
			return 0, figure.Wrong("to", "app.give-the-pools-to-another")
		}
		if err != nil {
			return 0, fmt.Errorf("finding who takes over: %w", err)
		}
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return 0, err
	}
	today := c.Today(s.keeper.Now())
	pools, err := s.keeper.Store.Workload(ctx, store.Whose{People: []uuid.UUID{who}}, today)
	if err != nil {
		return 0, fmt.Errorf("listing their pools: %w", err)
	}
	var n int
	err = s.inTx(ctx, func(s *Service) error {
		if err := s.keeper.Audited(ctx, a, "people", nil, words.Of("app.left", "name", words.Name(u.Name)),
			func(st *store.Store) (err error) {
				n, err = st.Leave(ctx, who, to, s.keeper.Now())
				return err
			}); err != nil {
			return err
		}
		for _, p := range pools { // today's stops go with them
			if err := route.New(s.keeper).FollowPlan(ctx, c, p.ID, today); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return 0, err
	}
	return n, nil
}
