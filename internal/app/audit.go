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

func (s *Service) auditTrail(ctx context.Context, pool *uuid.UUID, before time.Time, limit int) ([]AuditEntry, error) {
	rows, err := s.store.AuditTrail(ctx, pool, before, limit)
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
		out[i] = AuditEntry{At: r.At, Act: r.Act, Text: words.Message(r.Text), PoolID: idOr(r.PoolID)}
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

// Trail lists who changed what, before a time, newest first.
func (s *Service) Trail(ctx context.Context, a Actor, before time.Time) ([]AuditEntry, error) {
	if a.Role == Technician {
		return nil, ErrForbidden
	}
	return s.auditTrail(ctx, nil, before, auditPage)
}
