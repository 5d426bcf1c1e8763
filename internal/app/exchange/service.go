// Package exchange is what comes in and goes out as files: spreadsheets and the archive.
package exchange

import (
	"fairlap/internal/app/standing"
)

// Service is the room over a company's record.
type Service struct {
	keeper  *standing.Keeper
	imports *importJobs
}

// New makes the room.
func New(k *standing.Keeper) *Service {
	return &Service{keeper: k, imports: &importJobs{}}
}
