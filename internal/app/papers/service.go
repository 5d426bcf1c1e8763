// Package papers is what goes out to a customer: papers, and the links that lead to them.
package papers

import (
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
