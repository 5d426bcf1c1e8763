package office

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/mileusna/useragent"

	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// SignInLife is how long a sign-in lasts after it was last used, and LongestSignIn how long it
// lasts at all.
const (
	SignInLife    = 7 * 24 * time.Hour
	LongestSignIn = 60 * 24 * time.Hour
)

// eachSeen is how often it is written down that a sign-in was used.
const eachSeen = 5 * time.Minute

// SignInRow is where somebody is signed in.
type SignInRow struct {
	ID     uuid.UUID `json:"id" format:"uuid"`
	Device string    `json:"device" doc:"as it told about itself; empty: it did not"`
	Began  time.Time `json:"began"`
	Seen   time.Time `json:"seen" doc:"last used, to some minutes"`
	Here   bool      `json:"here" doc:"the one that asks"`
}

// Signed notes that somebody signed in with a device, by what it says of itself.
func (s *Service) Signed(ctx context.Context, a access.Actor, agent string) (uuid.UUID, error) {
	now := s.keeper.Now()
	in := store.SignIn{ID: uuid.Must(uuid.NewV7()), UserID: a.ID, BeganAt: now, SeenAt: now, Device: deviceOf(agent)}
	if err := s.keeper.Store.AddSignIn(ctx, in); err != nil {
		return uuid.Nil, fmt.Errorf("writing the sign-in down: %w", err)
	}
	return in.ID, nil
}

// deviceOf is what a browser says of itself, in a word or two.
func deviceOf(agent string) string {
	ua := useragent.Parse(agent)
	switch {
	case ua.Name == "":
		return ""
	case ua.OS == "":
		return ua.Name
	}
	return ua.Name + ", " + ua.OS
}

// StillSigned tells whether a sign-in still holds, and notes that it was used; fresh is whether
// its life begins anew with this use.
func (s *Service) StillSigned(ctx context.Context, id uuid.UUID) (fresh bool, err error) {
	in, err := s.keeper.Store.SignInByID(ctx, id)
	if errors.Is(err, store.ErrNotFound) || err == nil && in.EndedAt != nil {
		return false, access.ErrSignIn
	}
	if err != nil {
		return false, fmt.Errorf("finding the sign-in: %w", err)
	}
	now := s.keeper.Now()
	if now.Sub(in.BeganAt) > LongestSignIn {
		return false, access.ErrSignIn
	}
	if now.Sub(in.SeenAt) < eachSeen {
		return false, nil
	}
	if err := s.keeper.Store.SignInSeen(ctx, id, now); err != nil {
		return false, fmt.Errorf("noting that the sign-in was used: %w", err)
	}
	return true, nil
}

// SignIns lists where the actor is signed in; here is the sign-in that asks.
func (s *Service) SignIns(ctx context.Context, a access.Actor, here uuid.UUID) ([]SignInRow, error) {
	ins, err := s.keeper.Store.SignInsOf(ctx, a.ID, s.keeper.Now().Add(-SignInLife))
	if err != nil {
		return nil, fmt.Errorf("listing sign-ins: %w", err)
	}
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return nil, fmt.Errorf("looking the user up: %w", err)
	}
	out := []SignInRow{}
	for _, in := range ins {
		if in.ID == here || !in.BeganAt.Before(u.PasswordAt) { // a new password ended the others
			out = append(out, SignInRow{in.ID, in.Device, in.BeganAt, in.SeenAt, in.ID == here})
		}
	}
	return out, nil
}

// EndSignIn ends one of the actor's sign-ins.
func (s *Service) EndSignIn(ctx context.Context, a access.Actor, id uuid.UUID) error {
	if err := s.keeper.Store.EndSignIn(ctx, a.ID, id, s.keeper.Now()); err != nil {
		return fmt.Errorf("ending the sign-in: %w", err)
	}
	return nil
}
