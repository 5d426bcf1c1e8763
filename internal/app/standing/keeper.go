// Package standing is how pools stand: their pads calibrated, their history followed, their
// due work and the visits to come. Every room starts from it.
package standing

import (
	"context"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/singleflight"

	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Keeper reads a company's record and remembers what follows from it.
type Keeper struct {
	*company.Reader
	models  *lru.Cache[modelKey, *Pad]
	learned *learned
	rows    *lru.Cache[uuid.UUID, keptEntry]
	// caughtUp is when lists last looked for pools that are behind, by this machine's clock.
	caughtUp *atomic.Int64
	catching *singleflight.Group
}

// How much is remembered: pads that were calibrated, which are large and never change, and
// rows as they were last read, each by the revision that it stands by.
const padsRemembered, rowsRemembered = 512, 8192

// New makes the keeper of a company's record.
func New(r *company.Reader) *Keeper {
	return &Keeper{Reader: r, models: remember[modelKey, *Pad](padsRemembered), learned: &learned{},
		rows: remember[uuid.UUID, keptEntry](
			rowsRemembered,
		), caughtUp: &atomic.Int64{}, catching: &singleflight.Group{}}
}

func remember[K comparable, V any](n int) *lru.Cache[K, V] {
	c, err := lru.New[K, V](n)
	if err != nil {
		panic(err) // n is one of ours
	}
	return c
}

// AsOf keeps the same record by a clock that stands.
func (s *Keeper) AsOf(at time.Time) *Keeper {
	out := *s
	out.Reader = s.Reader.AsOf(at)
	return &out
}

// Audited is the reader's, and moves what pools amount to on as InTx does.
func (s *Keeper) Audited(
	ctx context.Context,
	a access.Actor,
	act string,
	pool *uuid.UUID,
	text words.Message,
	do func(*store.Store) error,
) error {
	return s.InTx(ctx, func(k *Keeper) error { return k.Reader.Audited(ctx, a, act, pool, text, do) })
}

// InTx gives what is done a keeper within one transaction: all of it is kept, or none, and
// with it what the pools whose record grew now amount to. It remembers nothing of the record,
// since it may all be taken back.
func (s *Keeper) InTx(ctx context.Context, do func(*Keeper) error) error {
	return s.Reader.InTx(ctx, func(r *company.Reader) error {
		in := New(r)
		in.models = s.models // pads never change
		if err := do(in); err != nil {
			return err
		}
		return in.moveOn(ctx)
	})
}
