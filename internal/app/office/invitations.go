package office

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// invitationLife is how long somebody may take to choose their password.
const invitationLife = 7 * 24 * time.Hour

// Invitation is a one-time link; its secret is told once.
type Invitation struct {
	Secret string    `json:"secret" doc:"the address ends in it; told once"`
	Until  time.Time `json:"until"`
}

// Invited is whom an invitation is for.
type Invited struct {
	Name    string `json:"name"`
	Login   string `json:"login"`
	Company string `json:"company"`
}

// Invite makes a one-time link by which somebody chooses their password; earlier ones end.
// Until it is used all stays as it was.
func (s *Service) Invite(ctx context.Context, a access.Actor, id uuid.UUID) (Invitation, error) {
	u, err := s.keeper.Store.UserByID(ctx, id)
	if err != nil {
		return Invitation{}, fmt.Errorf("finding whom to invite: %w", err)
	}
	if !mayRank(a, access.Role(u.Role)) {
		return Invitation{}, access.ErrForbidden
	}
	var out Invitation
	err = s.keeper.Audited(
		ctx,
		a,
		"people",
		nil,
		words.Of("app.invited", "name", words.Name(u.Name)),
		func(st *store.Store) (err error) {
			out, err = invite(ctx, st, u, &a.ID, s.keeper.Now())
			return err
		},
	)
	return out, err
}

// Recover makes such a link for whoever keeps the server: an owner forgot their password, or
// lost what the second step asks for.
func (s *Service) Recover(ctx context.Context, login string) (Invitation, error) {
	u, err := s.keeper.Store.UserByLogin(ctx, login)
	if err != nil {
		return Invitation{}, fmt.Errorf("finding %s: %w", login, err)
	}
	var out Invitation
	err = s.keeper.Audited(
		ctx,
		access.Actor{},
		"people",
		nil,
		words.Of("app.invited", "name", words.Name(u.Name)),
		func(st *store.Store) (err error) {
			out, err = invite(ctx, st, u, nil, s.keeper.Now())
			return err
		},
	)
	return out, err
}

func invite(ctx context.Context, st *store.Store, u store.User, by *uuid.UUID, now time.Time) (Invitation, error) {
	secret, err := company.NewSecret()
	if err != nil {
		return Invitation{}, err
	}
	out := Invitation{Secret: secret, Until: now.Add(invitationLife)}
	return out, st.Invite(
		ctx,
		store.Invitation{Digest: company.Digest(secret), UserID: u.ID, MadeBy: by, MadeAt: now, Until: out.Until},
	)
}

// invited finds whom a secret is for.
func (s *Service) invited(ctx context.Context, secret string) (store.User, error) {
	i, err := s.keeper.Store.Invited(ctx, company.Digest(secret), s.keeper.Now())
	if err != nil {
		return store.User{}, fmt.Errorf("finding the invitation: %w", err)
	}
	return s.keeper.Store.UserByID(ctx, i.UserID)
}

// Invitation says whom a one-time link is for; store.ErrNotFound for one that never was, was
// used or is over.
func (s *Service) Invitation(ctx context.Context, secret string) (Invited, error) {
	u, err := s.invited(ctx, secret)
	if err != nil {
		return Invited{}, err
	}
	c, err := s.keeper.Company(ctx)
	return Invited{Name: u.Name, Login: u.Login, Company: c.Name}, err
}

// Accept uses a one-time link up: its person has the password that they chose, their sign-ins
// from before end, and so does a second step, which they set up anew.
func (s *Service) Accept(ctx context.Context, secret, password string) (access.Actor, error) {
	u, err := s.invited(ctx, secret)
	if err != nil {
		return access.Actor{}, err
	}
	if why := s.weakFor(ctx, u, password); why != "" {
		return access.Actor{}, figure.Wrong("password", why)
	}
	now := s.keeper.Now().Truncate(time.Microsecond)
	err = s.keeper.Audited(
		ctx,
		access.Actor{ID: u.ID},
		"people",
		nil,
		"app.chose-a-new-password",
		func(st *store.Store) error {
			if err := st.UseInvitation(ctx, company.Digest(secret), now); err != nil {
				return err
			}
			if err := st.EndSignInsOf(ctx, u.ID, now); err != nil {
				return fmt.Errorf("ending their sign-ins: %w", err)
			}
			_, err := st.ChangeUser(
				ctx,
				u.ID,
				u.Version,
				map[string]any{
					"password_hash": HashPassword(password),
					"password_at":   now,
					"step_key":      "",
					"step_last":     0,
				},
			)
			return err
		},
	)
	if err != nil {
		return access.Actor{}, err
	}
	return s.keeper.Actor(ctx, u)
}

// weakFor is Weak with what a stranger knows of somebody.
func (s *Service) weakFor(ctx context.Context, u store.User, password string) words.Message {
	about := []string{u.Login, u.Name}
	if c, err := s.keeper.Company(ctx); err == nil {
		about = append(about, c.Name)
	}
	return Weak(password, about...)
}
