package company

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/words"
	"fairlap/internal/app/access"
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

// Audited does something and writes down who did it, both or neither. A nil actor is
// the program itself.
func (s *Reader) Audited(
	ctx context.Context,
	a access.Actor,
	act string,
	pool *uuid.UUID,
	text words.Message,
	do func(*store.Store) error,
) error {
	entry := store.Audit{ID: uuid.Must(uuid.NewV7()), At: s.Now(), Act: act, PoolID: pool, Text: string(text)}
	if a.ID != uuid.Nil {
		entry.UserID = &a.ID
	}
	return s.Store.Audited(ctx, entry, do)
}

// AuditTrail lists changes, newest first.
func (s *Reader) AuditTrail(ctx context.Context, ask store.AuditAsk) ([]AuditEntry, error) {
	rows, err := s.Store.AuditTrail(ctx, ask)
	if err != nil {
		return nil, fmt.Errorf("reading who changed what: %w", err)
	}
	names, err := s.Names(ctx)
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
		pools, err := s.Store.PoolsByID(ctx, ids)
		if err != nil {
			return nil, fmt.Errorf("naming the pools: %w", err)
		}
		for _, p := range pools {
			streets[p.ID] = p.Name()
		}
	}
	out := make([]AuditEntry, len(rows))
	for i, r := range rows {
		out[i] = AuditEntry{ID: r.ID, At: r.At, Act: r.Act, Text: words.Message(r.Text), PoolID: IDOr(r.PoolID)}
		if r.UserID != nil {
			out[i].By = names[*r.UserID]
		}
		if r.PoolID != nil {
			out[i].Street = streets[*r.PoolID]
		}
	}
	return out, nil
}
