package app

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"golang.org/x/crypto/argon2"

	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// argon2id cost: RFC 9106's second recommended choice, with less memory kept per
// sign-in for a small server (64 MiB would be 1 s on two cores under load).
const (
	argonTime, argonMemory, argonThreads = 3, 32 * 1024, 2
	argonKey, argonSalt                  = 32, 16
)

// HashPassword makes an argon2id hash in the usual PHC text form.
func HashPassword(password string) string {
	salt := make([]byte, argonSalt)
	_, _ = rand.Read(salt)
	key := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, argonKey)
	b := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=19$m=%d,t=%d,p=%d$%s$%s", argonMemory, argonTime, argonThreads, b.EncodeToString(salt), b.EncodeToString(key))
}

func checkPassword(hash, password string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	var m, t uint32
	var p uint8
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &m, &t, &p); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	key, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false
	}
	return subtle.ConstantTimeCompare(key, argon2.IDKey([]byte(password), salt, t, m, p, uint32(len(key)))) == 1
}

// noSuchUser is hashed against when a login is unknown, so that the answer takes
// as long as for a known one. Made when a service starts, not by every command.
var noSuchUser = sync.OnceValue(func() string { return HashPassword("nobody") })

// SignIn checks a login and password.
func (s *Service) SignIn(ctx context.Context, login, password string) (Actor, error) {
	u, err := s.store.UserByLogin(ctx, login)
	if errors.Is(err, store.ErrNotFound) {
		checkPassword(noSuchUser(), password)
		return Actor{}, ErrSignIn
	}
	if err != nil {
		return Actor{}, fmt.Errorf("looking the user up: %w", err)
	}
	if !checkPassword(u.PasswordHash, password) {
		return Actor{}, ErrSignIn
	}
	return s.actor(ctx, u)
}

// actor is a user with what they read: their own choice, else the company's.
func (s *Service) actor(ctx context.Context, u store.User) (Actor, error) {
	if _, err := s.company(ctx); err != nil {
		return Actor{}, err
	}
	p := s.House()
	if u.Lang != "" {
		p.Lang = words.Lang(u.Lang)
	}
	if u.Units != "" {
		p.Units = units.System(u.Units)
	}
	return Actor{u.ID, u.Name, Role(u.Role), p}, nil
}

// DemoSignIn signs in as the demo's first user of a role; ErrNoDemo elsewhere.
func (s *Service) DemoSignIn(ctx context.Context, role Role) (Actor, error) {
	if !s.Demo() {
		return Actor{}, ErrNoDemo
	}
	us, err := s.store.Users(ctx)
	if err != nil {
		return Actor{}, err
	}
	for _, u := range us {
		if Role(u.Role) != role {
			continue
		}
		if role != Technician {
			return s.actor(ctx, u)
		}
		if _, err := s.store.LapOn(ctx, u.ID, s.todayOr(ctx)); err == nil {
			return s.actor(ctx, u)
		}
	}
	return Actor{}, ErrSignIn
}

func (s *Service) todayOr(ctx context.Context) time.Time {
	c, err := s.company(ctx)
	if err != nil {
		return s.now()
	}
	return c.today(s.now())
}

// ActorByID finds who a session belongs to; a new password ends the sign-ins from
// before it.
func (s *Service) ActorByID(ctx context.Context, id string, began time.Time) (Actor, error) {
	uid, err := uuid.Parse(id)
	if err != nil {
		return Actor{}, ErrSignIn
	}
	u, err := s.store.UserByID(ctx, uid)
	if errors.Is(err, store.ErrNotFound) || err == nil && began.Before(u.PasswordAt) {
		return Actor{}, ErrSignIn
	}
	if err != nil {
		return Actor{}, err
	}
	return s.actor(ctx, u)
}

// ChangePassword gives the actor a new password; their other sign-ins end. The time
// that comes back is when sign-ins count from.
func (s *Service) ChangePassword(ctx context.Context, a Actor, old, fresh string) (time.Time, error) {
	u, err := s.store.UserByID(ctx, a.ID)
	if err != nil {
		return time.Time{}, fmt.Errorf("looking the user up: %w", err)
	}
	if !checkPassword(u.PasswordHash, old) {
		return time.Time{}, FieldErrors{{"password", "app.this-is-not-your-password"}}
	}
	if len(fresh) < ShortestPassword {
		return time.Time{}, FieldErrors{{"newPassword", words.Of("app.a-password-needs-at-least", "shortestPassword", words.N(ShortestPassword))}}
	}
	now := s.now().Truncate(time.Microsecond)
	err = s.audited(ctx, a, "people", nil, "app.chose-a-new-password", func(st *store.Store) error {
		_, err := st.ChangeUser(ctx, a.ID, u.Version, map[string]any{"password_hash": HashPassword(fresh), "password_at": now})
		return err
	})
	return now, err
}

// Me is who is signed in and where.
type Me struct {
	ID       string    `json:"id"`
	Name     string    `json:"name"`
	Role     Role      `json:"role"`
	Company  string    `json:"company"`
	TimeZone string    `json:"timeZone"`
	Demo     bool      `json:"demo"`
	Now      time.Time `json:"now" doc:"the server's clock; a demo's may stand on another day"`
	Units    string    `json:"units" enum:"us,metric" doc:"that they read"`
	Lang     string    `json:"lang" enum:"en,es" doc:"that they read"`
	OwnUnits string    `json:"ownUnits" enum:",us,metric" doc:"their choice; empty: the company's"`
	OwnLang  string    `json:"ownLang" enum:",en,es"`
	Currency string    `json:"currency"`
}

// Me describes the actor.
func (s *Service) Me(ctx context.Context, a Actor) (Me, error) {
	c, err := s.company(ctx)
	if err != nil {
		return Me{}, err
	}
	u, err := s.store.UserByID(ctx, a.ID)
	if err != nil {
		return Me{}, fmt.Errorf("looking the user up: %w", err)
	}
	return Me{a.ID.String(), a.Name, a.Role, c.name, c.zone.String(), s.Demo(), s.now(), string(a.Printer.Units), string(a.Printer.Lang), u.Units, u.Lang, c.office.Currency}, nil
}

// Reads are somebody's choices of what they read; empty is as the company does.
type Reads struct {
	Lang  string `json:"lang" enum:",en,es"`
	Units string `json:"units" enum:",us,metric"`
}

// SetReads keeps what the actor reads.
func (s *Service) SetReads(ctx context.Context, a Actor, in Reads) (Me, error) {
	u, err := s.store.UserByID(ctx, a.ID)
	if err != nil {
		return Me{}, fmt.Errorf("looking the user up: %w", err)
	}
	if u, err = s.store.ChangeUser(ctx, a.ID, u.Version, map[string]any{"lang": in.Lang, "units": in.Units}); err != nil {
		return Me{}, fmt.Errorf("keeping what they read: %w", err)
	}
	now, err := s.actor(ctx, u)
	if err != nil {
		return Me{}, err
	}
	return s.Me(ctx, now)
}
