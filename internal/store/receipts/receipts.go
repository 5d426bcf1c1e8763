// Package receipts says what of what people send is on record.
package receipts

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"fairlap/internal/store"
)

// made are the tables of what people make once, under an id of their own choice, and who made it.
var made = []struct{ table, by string }{
	{"visits", "technician_id"},
	{"runs", "started_by"},
	{"run_events", "made_by"},
	{"photos", "made_by"},
	{"notes", "made_by"},
	{"due_marks", "made_by"},
	{"visit_moves", "made_by"},
	{"equipment_events", "made_by"},
	{"practice_attempts", "user_id"},
}

// Recorded gives those of some ids that are on record as made by somebody.
func Recorded(ctx context.Context, s *store.Store, who uuid.UUID, ids []uuid.UUID) ([]uuid.UUID, error) {
	var out []uuid.UUID
	for _, m := range made {
		var some []uuid.UUID
		// Names of the list above, not of anybody's input.
		sql := "select id from " + m.table + " where id in ? and " + m.by + " = ?"
		if err := s.Read(ctx, &some, sql, ids, who); err != nil {
			return nil, fmt.Errorf("looking in %s: %w", m.table, err)
		}
		out = append(out, some...)
	}
	return out, nil
}

// Inspection is how far an inspection is on record.
type Inspection struct {
	ID, PoolID uuid.UUID
	Answers    json.RawMessage
	Closed     bool
}

// Inspections are those among some ids.
func Inspections(ctx context.Context, s *store.Store, ids []uuid.UUID) ([]Inspection, error) {
	var out []Inspection
	err := s.Read(ctx, &out, `select id, pool_id, answers, closed_at is not null as closed
		from inspections where id in ?`, ids)
	if err != nil {
		return nil, fmt.Errorf("looking for inspections: %w", err)
	}
	return out, nil
}
