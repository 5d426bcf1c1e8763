// Package visit is a stop as it is worked: the bench, the diagnosis, closing the visit, and
// what the record says of how often the diagnosis was right.
package visit

import (
	"context"

	"fairlap/internal/app/standing"
)

// Service is the room over a company's record.
type Service struct {
	keeper *standing.Keeper
}

// New makes the room.
func New(k *standing.Keeper) *Service {
	return &Service{keeper: k}
}

// inTx does what a use case writes as one.
func (s *Service) inTx(ctx context.Context, do func(*Service) error) error {
	return s.keeper.InTx(ctx, func(k *standing.Keeper) error { return do(New(k)) })
}
