package judge

import (
	"time"

	"fairlap/core/casefile"
)

// Case is the case that a verdict is asked of.
func (s *Stop) Case(f Findings, now time.Time) (casefile.Case, error) {
	st, err := s.State(f)
	if err != nil {
		return casefile.Case{}, err
	}
	return s.asCase(&f, &st, now), nil
}
