package office

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

	"golang.org/x/crypto/argon2"

	"fairlap/core/figure"
	"fairlap/internal/app/access"
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
	return fmt.Sprintf(
		"$argon2id$v=19$m=%d,t=%d,p=%d$%s$%s",
		argonMemory,
		argonTime,
		argonThreads,
		b.EncodeToString(salt),
		b.EncodeToString(key),
	)
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

// SignIn checks a login, a password and, where it is asked for, a code: access.ErrCode then says
// that one is.
func (s *Service) SignIn(ctx context.Context, login, password, code string) (access.Actor, error) {
	u, err := s.keeper.Store.UserByLogin(ctx, login)
	if errors.Is(err, store.ErrNotFound) {
		checkPassword(noSuchUser(), password)
		return access.Actor{}, access.ErrSignIn
	}
	if err != nil {
		return access.Actor{}, fmt.Errorf("looking the user up: %w", err)
	}
	if !checkPassword(u.PasswordHash, password) {
		return access.Actor{}, access.ErrSignIn
	}
	if err := s.secondStep(ctx, u, code); err != nil {
		return access.Actor{}, err
	}
	return s.keeper.Actor(ctx, u)
}

// DemoSignIn signs in as the demo's first user of a role, of the technicians as the first who has a lap today, if any
// has; ErrNoDemo elsewhere.
func (s *Service) DemoSignIn(ctx context.Context, role access.Role) (access.Actor, error) {
	if !s.keeper.Demo() {
		return access.Actor{}, access.ErrNoDemo
	}
	us, err := s.keeper.Store.Users(ctx)
	if err != nil {
		return access.Actor{}, err
	}
	first := -1
	for i, u := range us {
		if access.Role(u.Role) != role {
			continue
		}
		if first < 0 {
			first = i
		}
		if role != access.Technician {
			return s.keeper.Actor(ctx, u)
		}
		if _, err := s.keeper.Store.LapOn(ctx, u.ID, s.todayOr(ctx)); err == nil {
			return s.keeper.Actor(ctx, u)
		}
	}
	if first < 0 {
		return access.Actor{}, access.ErrSignIn
	}
	return s.keeper.Actor(ctx, us[first])
}

func (s *Service) todayOr(ctx context.Context) time.Time {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return s.keeper.Now()
	}
	return c.Today(s.keeper.Now())
}

// ChangePassword gives the actor a new password; their other sign-ins end. The time
// that comes back is when sign-ins count from.
func (s *Service) ChangePassword(ctx context.Context, a access.Actor, old, fresh string) (time.Time, error) {
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return time.Time{}, fmt.Errorf("looking the user up: %w", err)
	}
	if !checkPassword(u.PasswordHash, old) {
		return time.Time{}, figure.Wrong("password", "app.this-is-not-your-password")
	}
	if why := s.weakFor(ctx, u, fresh); why != "" {
		return time.Time{}, figure.Wrong("newPassword", why)
	}
	now := s.keeper.Now().Truncate(time.Microsecond)
	err = s.keeper.Audited(ctx, a, "people", nil, "app.chose-a-new-password", func(st *store.Store) error {
		_, err := st.ChangeUser(
			ctx,
			a.ID,
			u.Version,
			map[string]any{"password_hash": HashPassword(fresh), "password_at": now},
		)
		return err
	})
	return now, err
}

// Me is who is signed in and where.
type Me struct {
	ID       string      `json:"id"`
	Name     string      `json:"name"`
	Role     access.Role `json:"role"`
	Company  string      `json:"company"`
	TimeZone string      `json:"timeZone"`
	Demo     bool        `json:"demo"`
	Now      time.Time   `json:"now" doc:"the server's clock; a demo's may stand on another day"`
	Units    string      `json:"units" enum:"us,metric" doc:"that they read"`
	Lang     string      `json:"lang" enum:"en,es" doc:"that they read"`
	OwnUnits string      `json:"ownUnits" enum:",us,metric" doc:"their choice; empty: the company's"`
	OwnLang  string      `json:"ownLang" enum:",en,es"`
	Shade    string      `json:"shade" enum:",light,dark" doc:"of the pages; empty: as the device has it"`
	Currency string      `json:"currency"`
}

// Me describes the actor.
func (s *Service) Me(ctx context.Context, a access.Actor) (Me, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return Me{}, err
	}
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return Me{}, fmt.Errorf("looking the user up: %w", err)
	}
	return Me{
		ID:       a.ID.String(),
		Name:     a.Name,
		Role:     a.Role,
		Company:  c.Name,
		TimeZone: c.Zone.String(),
		Demo:     s.keeper.Demo(),
		Now:      s.keeper.Now(),
		Units:    string(a.Printer.Units),
		Lang:     string(a.Printer.Lang),
		OwnUnits: u.Units,
		Shade:    u.Shade,
		OwnLang:  u.Lang,
		Currency: c.Office.Currency,
	}, nil
}

// Reads are somebody's choices of what they read; empty is as the company does.
type Reads struct {
	Lang  string  `json:"lang" enum:",en,es"`
	Units string  `json:"units" enum:",us,metric"`
	Shade *string `json:"shade,omitempty" enum:",light,dark" doc:"of the pages; empty: as the device has it; absent: as it is"`
}

// SetReads keeps what the actor reads.
func (s *Service) SetReads(ctx context.Context, a access.Actor, in Reads) (Me, error) {
	u, err := s.keeper.Store.UserByID(ctx, a.ID)
	if err != nil {
		return Me{}, fmt.Errorf("looking the user up: %w", err)
	}
	changes := map[string]any{"lang": in.Lang, "units": in.Units}
	if in.Shade != nil {
		changes["shade"] = *in.Shade
	}
	if u, err = s.keeper.Store.ChangeUser(ctx, a.ID, u.Version, changes); err != nil {
		return Me{}, fmt.Errorf("keeping what they read: %w", err)
	}
	now, err := s.keeper.Actor(ctx, u)
	if err != nil {
		return Me{}, err
	}
	return s.Me(ctx, now)
}

// Prepare makes ready, meanwhile, what refusing an unknown login takes.
func Prepare() { go noSuchUser() }
