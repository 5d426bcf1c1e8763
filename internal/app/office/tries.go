package office

import (
	"context"
	"encoding/hex"
	"fmt"
	"strings"
	"time"

	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
)

// How often a password may be tried: so many at once, then one in ten seconds; by account and
// address together, by address, and by account from addresses that it was never signed in
// from. Whoever tries an account from many places slows strangers down, not the people who
// sign in from where they did before.
const (
	eachTry       = 10 * time.Second
	triesHere     = 5
	triesOfPlace  = 20
	triesOfOthers = 20
	placeKnownFor = 90 * 24 * time.Hour
)

// MayTry counts a try at an account from an address; access.TooSoon says how long to wait.
func (s *Service) MayTry(ctx context.Context, account, address string) error {
	now := s.keeper.Now()
	account = strings.ToLower(strings.TrimSpace(account))
	here := key("here", account, address)
	buckets := []struct {
		key   string
		burst int
	}{{key("place", address), triesOfPlace}, {here, triesHere}}
	known, err := s.keeper.Store.Tried(ctx, key("known", account, address), now)
	if err != nil {
		return fmt.Errorf("looking whether the place is known: %w", err)
	}
	if !known {
		buckets = append(buckets, struct {
			key   string
			burst int
		}{key("account", account), triesOfOthers})
	}
	for _, b := range buckets {
		wait, err := s.keeper.Store.Try(ctx, b.key, now, eachTry, b.burst)
		if err != nil {
			return err
		}
		if wait > 0 {
			return access.TooSoon{Wait: wait}
		}
	}
	return nil
}

// Came remembers that somebody signed in to an account from an address, and forgets what they
// mistyped there.
func (s *Service) Came(ctx context.Context, account, address string) error {
	account = strings.ToLower(strings.TrimSpace(account))
	if err := s.keeper.Store.Remember(ctx, key("known", account, address), s.keeper.Now().Add(placeKnownFor)); err != nil {
		return fmt.Errorf("remembering where they signed in: %w", err)
	}
	if err := s.keeper.Store.ForgetTry(ctx, key("here", account, address)); err != nil {
		return fmt.Errorf("forgetting what was mistyped: %w", err)
	}
	return nil
}

// key is a digest: nobody reads from the table who tried what, and from where.
func key(parts ...string) string {
	return hex.EncodeToString(company.Digest(strings.Join(parts, "\x1f")))
}
