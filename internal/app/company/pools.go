package company

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// SeePool finds a pool that the actor may see: by the one rule, or because they
// were handed a visit of it.
func (s *Reader) SeePool(ctx context.Context, a access.Actor, id uuid.UUID) (store.Pool, error) {
	p, err := s.Store.PoolByID(ctx, id)
	if err != nil {
		return p, fmt.Errorf("finding the pool: %w", err)
	}
	if a.MaySee(p.TechnicianID) {
		return p, nil
	}
	covers, err := s.Store.Covers(ctx, a.ID, id, s.Now().AddDate(0, 0, -1))
	if err != nil {
		return p, fmt.Errorf("looking who stands in at the pool: %w", err)
	}
	if !covers {
		return p, access.ErrForbidden
	}
	return p, nil
}

// Names are everybody's names, of those who left too.
func (s *Reader) Names(ctx context.Context) (map[uuid.UUID]string, error) {
	us, err := s.Store.Everybody(ctx) // the record names those who left too
	out := make(map[uuid.UUID]string, len(us))
	for _, u := range us {
		out[u.ID] = u.Name
	}
	return out, err
}

// IDOr is an id in text; empty for none.
func IDOr(id *uuid.UUID) string {
	if id == nil {
		return ""
	}
	return id.String()
}

// mostSought is how many words of a search count.
const mostSought = 6

// Sought are the words that somebody looks for, each of which must be found.
func Sought(text string) []string {
	w := strings.Fields(text)
	return w[:min(len(w), mostSought)]
}
