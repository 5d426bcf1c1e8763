// Package route is the day and the week: laps, their order, moved visits, call-outs, due work
// on days, the calendar.
package route

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
