// Package exchange is what comes in and goes out as files: spreadsheets and the archive.
package exchange

import (
	"fairlap/internal/app/standing"
)

// Service is the room over a company's record.
type Service struct {
	keeper *standing.Keeper
	later  Later
	// archives are those that are being written or read.
	archives chan struct{}
}

// New makes the room.
func New(k *standing.Keeper) *Service {
	s := &Service{keeper: k, archives: make(chan struct{}, archivesAtOnce)}
	s.later = s.here
	return s
}
