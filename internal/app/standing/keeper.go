// Package standing is how pools stand: their pads calibrated, their history followed, their
// due work and the visits to come. Every room starts from it.
package standing

import (
	"context"
	"time"

	"fairlap/internal/app/company"
)

// Keeper reads a company's record and remembers what follows from it.
type Keeper struct {
	*company.Reader
	models  *modelCache
	learned *learned
	cache   *standingCache
}

// New makes the keeper of a company's record.
func New(r *company.Reader) *Keeper {
	return &Keeper{Reader: r, models: &modelCache{}, learned: &learned{}, cache: &standingCache{}}
}

// AsOf keeps the same record by a clock that stands.
func (s *Keeper) AsOf(at time.Time) *Keeper {
	out := *s
	out.Reader = s.Reader.AsOf(at)
	return &out
}

// InTx gives what is done a keeper within one transaction: all of it is kept, or none. It
// remembers nothing of the record, since it may all be taken back.
func (s *Keeper) InTx(ctx context.Context, do func(*Keeper) error) error {
	return s.Reader.InTx(ctx, func(r *company.Reader) error {
		in := New(r)
		in.models = s.models // pads never change
		return do(in)
	})
}
