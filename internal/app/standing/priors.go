package standing

import (
	"context"
	"fmt"
	"sync"
	"time"

	"fairlap/core/fault"
	"fairlap/core/learning"
)

// learnedFor is how long learned priors are kept: new outcomes come a few a day.
const learnedFor = 10 * time.Minute

// learned keeps the company's priors between diagnoses.
type learned struct {
	mu     sync.Mutex
	at     time.Time
	priors map[fault.ID]float64
}

// Priors are the route frequencies that the company's own outcomes have made.
func (s *Keeper) Priors(ctx context.Context) (map[fault.ID]float64, error) {
	s.learned.mu.Lock()
	defer s.learned.mu.Unlock()
	if s.learned.priors != nil && s.Now().Sub(s.learned.at) < learnedFor {
		return s.learned.priors, nil
	}
	counts, visits, err := s.Store.ConfirmedCounts(ctx)
	if err != nil {
		return nil, fmt.Errorf("counting confirmed causes: %w", err)
	}
	by := make(map[fault.ID]int, len(counts))
	for id, n := range counts {
		by[fault.ID(id)] = n
	}
	s.learned.priors, s.learned.at = learning.Learn(by, visits), s.Now()
	return s.learned.priors, nil
}
