package equipment

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/padwork"
	"fairlap/internal/store"
)

// follow gives a pad the model of a part that came in, where the catalogue has it and
// the pad's words name another.
func (s *Service) follow(ctx context.Context, a access.Actor, id uuid.UUID, kind, model, act string) error {
	slot, ok := map[string]string{"pump": "pump", "filter-tank": "filter", "heater": "heater",
		"salt-cell": "cell"}[kind]
	if !ok {
		return nil
	}
	items, err := padwork.New(s.keeper).Catalogue(ctx)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(
		items,
		func(i padwork.CatalogueItem) bool { return i.Kind == slot && strings.EqualFold(i.Model, model) },
	)
	pool, err := padwork.New(s.keeper).PoolPad(ctx, a, id)
	if err != nil {
		return err
	}
	doc := pool.Document
	note := words.Of("app.pad-follows.replaced", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(model))
	switch {
	case act == "remove" && slot == "heater":
		doc.Heater, doc.HeaterBypass, doc.CheckValve, note = nil, nil, false, "app.pad-follows.heater-out"
	case act == "remove" && slot == "cell":
		doc.Cell, note = nil, "app.pad-follows.cell-out"
	case act == "remove" || at < 0:
		return nil // nothing to draw it by: the pad's page says what it still describes
	default:
		doc = items[at].Into(doc)
	}
	if len(pad.Diff(pool.Document, doc)) == 0 || len(doc.Validate()) > 0 {
		return nil
	}
	_, err = padwork.New(s.keeper).
		SavePad(ctx, a, id, padwork.PadChange{BasedOn: pool.Revision, Reason: store.ReasonWork, Note: string(note),
			Document: doc})
	if err != nil {
		return fmt.Errorf("letting the pad follow: %w", err)
	}
	return nil
}
