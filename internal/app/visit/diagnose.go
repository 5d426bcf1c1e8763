package visit

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/judge"
	"fairlap/internal/app/access"
)

// Diagnose judges findings at a stop without keeping them.
func (s *Service) Diagnose(
	ctx context.Context,
	a access.Actor,
	stop uuid.UUID,
	f judge.Findings,
) (judge.Verdict, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtStop(ctx, a, stop, now)
	if err != nil {
		return judge.Verdict{}, err
	}
	v, _, err := at.Judge(f.SignedBy(a.Name), now, nil)
	return v, err
}

// StopFile is a stop as a file: judge.File, its messages as they are kept.
type StopFile struct {
	Pack     json.RawMessage `json:"pack" doc:"what the pool is known by"`
	Findings judge.Findings  `json:"findings"`
	At       time.Time       `json:"at"`
}

// File is a stop as a file that the command line judges alike.
func (s *Service) File(ctx context.Context, a access.Actor, stop uuid.UUID, f judge.Findings) (StopFile, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtStop(ctx, a, stop, now)
	if err != nil {
		return StopFile{}, err
	}
	file, err := at.File(f.SignedBy(a.Name), now)
	if err != nil {
		return StopFile{}, err
	}
	pack, err := json.Marshal(file.Pack)
	if err != nil {
		return StopFile{}, fmt.Errorf("writing what is known: %w", err)
	}
	return StopFile{pack, file.Findings, file.At}, nil
}
