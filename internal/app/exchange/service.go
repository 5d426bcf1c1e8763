// Package exchange is what comes in and goes out as files: spreadsheets and the archive.
package exchange

import (
	"fairlap/internal/app/standing"
)

// Service is the room over a company's record.
type Service struct {
	keeper *standing.Keeper
	later  Later
}

// New makes the room.
func New(k *standing.Keeper) *Service {
	s := &Service{keeper: k}
	s.later = s.here
	return s
}
