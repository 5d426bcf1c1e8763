package app

import (
	"context"
	"fmt"
	"io"
	"time"

	"github.com/google/uuid"

	"fairlap/core/words"
	"fairlap/internal/store"
)

// AuditEntry is one change of what can be changed.
type AuditEntry struct {
	ID     uuid.UUID     `json:"id" format:"uuid"`
	At     time.Time     `json:"at"`
	By     string        `json:"by" doc:"empty: the program itself"`
	Act    string        `json:"act" enum:"pool,customer,link,photo,people,company,cleaning,catalogue,import,retention"`
	PoolID string        `json:"poolId"`
	Street string        `json:"street"`
	Text   words.Message `json:"says"`
}

// audited does something and writes down who did it, both or neither. A nil actor is
// the program itself.
func (s *Service) audited(ctx context.Context, a Actor, act string, pool *uuid.UUID, text words.Message, do func(*store.Store) error) error {
	entry := store.Audit{ID: uuid.Must(uuid.NewV7()), At: s.now(), Act: act, PoolID: pool, Text: string(text)}
	if a.ID != uuid.Nil {
		entry.UserID = &a.ID
	}
	return s.store.Audited(ctx, entry, do)
}

func (s *Service) auditTrail(ctx context.Context, pool *uuid.UUID, from store.Cursor, limit int) ([]AuditEntry, error) {
	rows, err := s.store.AuditTrail(ctx, pool, from, limit)
	if err != nil {
		return nil, fmt.Errorf("reading who changed what: %w", err)
	}
	names, err := s.names(ctx)
	if err != nil {
		return nil, err
	}
	var ids []uuid.UUID
	for _, r := range rows {
		if r.PoolID != nil {
			ids = append(ids, *r.PoolID)
		}
	}
	streets := map[uuid.UUID]string{}
	if len(ids) > 0 {
		pools, err := s.store.PoolsByID(ctx, ids)
		if err != nil {
			return nil, fmt.Errorf("naming the pools: %w", err)
		}
		for _, p := range pools {
			streets[p.ID] = p.Name()
		}
	}
	out := make([]AuditEntry, len(rows))
	for i, r := range rows {
		out[i] = AuditEntry{ID: r.ID, At: r.At, Act: r.Act, Text: words.Message(r.Text), PoolID: idOr(r.PoolID)}
		if r.UserID != nil {
			out[i].By = names[*r.UserID]
		}
		if r.PoolID != nil {
			out[i].Street = streets[*r.PoolID]
		}
	}
	return out, nil
}

// ExportArchive writes everything on record; only the owner may ask.
func (s *Service) ExportArchive(ctx context.Context, w io.Writer) error {
	return s.store.Export(ctx, w)
}

// auditPage is how many changes a page of the trail holds.
const auditPage = 50

// TrailPage is a piece of the trail.
type TrailPage struct {
	Entries []AuditEntry `json:"entries" nullable:"false"`
	Next    string       `json:"next,omitempty" doc:"the cursor to read on from; absent at the end"`
}

// Trail lists who changed what from a cursor on, newest first.
func (s *Service) Trail(ctx context.Context, a Actor, from store.Cursor) (TrailPage, error) {
	if a.Role == Technician {
		return TrailPage{}, ErrForbidden
	}
	rows, err := s.auditTrail(ctx, nil, from, auditPage)
	out := TrailPage{Entries: rows}
	if len(rows) == auditPage {
		last := rows[auditPage-1]
		out.Next = store.Cursor{At: last.At, ID: last.ID}.String()
	}
	return out, err
}
