package day

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"fairlap/internal/app/access"
	"fairlap/internal/store/receipts"
)

// Receipts is what is on record of what a device sent.
type Receipts struct {
	Has         []string            `json:"has" nullable:"false" doc:"ids that are on record as made by whoever asks: of visits, runs and each of their steps, pictures, notes, decisions, moves, parts, practice"`
	Inspections []InspectionReceipt `json:"inspections" nullable:"false" doc:"those of the ids that are inspections"`
}

// InspectionReceipt is how far an inspection is on record.
type InspectionReceipt struct {
	ID     string   `json:"id"`
	Items  []string `json:"items" nullable:"false" doc:"that are answered"`
	Closed bool     `json:"closed"`
}

// Receipts tells a device what is on record of what it sent, so that it sends again what a restored database lost.
func (r *Service) Receipts(ctx context.Context, a access.Actor, ids []uuid.UUID) (Receipts, error) {
	out := Receipts{Has: []string{}, Inspections: []InspectionReceipt{}}
	if len(ids) == 0 {
		return out, nil
	}
	has, err := receipts.Recorded(ctx, r.keeper.Store, a.ID, ids)
	if err != nil {
		return out, err
	}
	for _, id := range has {
		out.Has = append(out.Has, id.String())
	}
	slices.Sort(out.Has)
	inspections, err := receipts.Inspections(ctx, r.keeper.Store, ids)
	if err != nil {
		return out, err
	}
	for i := range inspections {
		x := &inspections[i]
		if _, err := r.keeper.SeePool(ctx, a, x.PoolID); err != nil {
			continue // not theirs any more: nothing is told of it
		}
		var answers map[string]json.RawMessage
		if err := json.Unmarshal(x.Answers, &answers); err != nil {
			return out, fmt.Errorf("reading an inspection's answers: %w", err)
		}
		receipt := InspectionReceipt{ID: x.ID.String(), Items: []string{}, Closed: x.Closed}
		for item := range answers {
			receipt.Items = append(receipt.Items, item)
		}
		slices.Sort(receipt.Items)
		out.Inspections = append(out.Inspections, receipt)
	}
	return out, nil
}
