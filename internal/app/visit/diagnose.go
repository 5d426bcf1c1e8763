package visit

import (
	"context"

	"github.com/google/uuid"

	"fairlap/core/casefile"
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

// CaseOf is what is known at a stop as a file that the command line judges alike.
func (s *Service) CaseOf(ctx context.Context, a access.Actor, stop uuid.UUID, f judge.Findings) (casefile.Case, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtStop(ctx, a, stop, now)
	if err != nil {
		return casefile.Case{}, err
	}
	return at.Case(f.SignedBy(a.Name), now)
}
