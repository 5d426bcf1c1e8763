package app

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"fairlap/core/words"
	"fairlap/internal/store"
)

// People lists technicians, for whoever may see their laps.
func (s *Service) People(ctx context.Context, a Actor) ([]Person, error) {
	us, err := s.store.Users(ctx)
	out := []Person{}
	for _, role := range []Role{Technician, Owner} { // an owner may drive too
		for _, u := range us {
			if Role(u.Role) == role && a.maySee(&u.ID) {
				out = append(out, Person{u.ID.String(), u.Name, role == Owner})
			}
		}
	}
	return out, err
}

// Person is somebody by name.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Owns bool   `json:"owns,omitempty" doc:"an owner, who may drive too"`
}

// Leave ends a technician's work for the company; their pools go to another, or to
// nobody until the desk says who.
func (s *Service) Leave(ctx context.Context, a Actor, who uuid.UUID, to *uuid.UUID) (int, error) {
	if a.Role == Technician {
		return 0, ErrForbidden
	}
	u, err := s.store.UserByID(ctx, who)
	if err != nil {
		return 0, fmt.Errorf("finding who leaves: %w", err)
	}
	if Role(u.Role) != Technician {
		return 0, FieldErrors{{"id", "app.only-technicians-leave-here"}}
	}
	if to != nil {
		v, err := s.store.UserByID(ctx, *to)
		if errors.Is(err, store.ErrNotFound) || (err == nil && (Role(v.Role) != Technician || v.ID == who)) {
			return 0, FieldErrors{{"to", "app.give-the-pools-to-another"}}
		}
		if err != nil {
			return 0, fmt.Errorf("finding who takes over: %w", err)
		}
	}
	c, err := s.company(ctx)
	if err != nil {
		return 0, err
	}
	today := c.today(s.now())
	pools, err := s.store.Workload(ctx, &who, today)
	if err != nil {
		return 0, fmt.Errorf("listing their pools: %w", err)
	}
	var n int
	err = s.inTx(ctx, func(s *Service) error {
		if err := s.audited(ctx, a, "people", nil, words.Of("app.left", "name", words.Name(u.Name)), func(st *store.Store) (err error) {
			n, err = st.Leave(ctx, who, to, s.now())
			return err
		}); err != nil {
			return err
		}
		for _, p := range pools { // today's stops go with them
			if err := s.followPlan(ctx, c, p.ID, today); err != nil {
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
