package company

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// Actor is a user with what they read: their own choice, else the company's.
func (s *Reader) Actor(ctx context.Context, u store.User) (access.Actor, error) {
	if _, err := s.Company(ctx); err != nil {
		return access.Actor{}, err
	}
	p := s.House()
	if u.Lang != "" {
		p.Lang = words.Lang(u.Lang)
	}
	if u.Units != "" {
		p.Units = units.System(u.Units)
	}
	return access.Actor{ID: u.ID, Name: u.Name, Role: access.Role(u.Role), Printer: p}, nil
}

// ActorByID finds who a session belongs to; a new password ends the sign-ins from
// before it.
func (s *Reader) ActorByID(ctx context.Context, id string, began time.Time) (access.Actor, error) {
	uid, err := uuid.Parse(id)
	if err != nil {
		return access.Actor{}, access.ErrSignIn
	}
	u, err := s.Store.UserByID(ctx, uid)
	if errors.Is(err, store.ErrNotFound) || err == nil && began.Before(u.PasswordAt) {
		return access.Actor{}, access.ErrSignIn
	}
	if err != nil {
		return access.Actor{}, err
	}
	return s.Actor(ctx, u)
}
