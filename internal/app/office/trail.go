package office

import (
	"context"

	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// auditPage is how many changes a page of the trail holds.
const auditPage = 50

// TrailPage is a piece of the trail.
type TrailPage struct {
	Entries []company.AuditEntry `json:"entries" nullable:"false"`
	Next    string               `json:"next,omitempty" doc:"the cursor to read on from; absent at the end"`
}

// Trail lists who changed what, newest first, a page at a time.
func (s *Service) Trail(ctx context.Context, a access.Actor, ask store.AuditAsk) (TrailPage, error) {
	if a.Role == access.Technician {
		return TrailPage{}, access.ErrForbidden
	}
	ask.Limit = auditPage
	rows, err := s.keeper.AuditTrail(ctx, ask)
	out := TrailPage{Entries: rows}
	if len(rows) == auditPage {
		last := rows[auditPage-1]
		out.Next = store.Cursor{At: last.At, ID: last.ID}.String()
	}
	return out, err
}
