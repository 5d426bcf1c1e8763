package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"
)

// PartsAsk says which parts in place are listed, and in which order.
type PartsAsk struct {
	Technician    *uuid.UUID // of one technician's pools, and those handed to them from From on; nil: of all
	From          time.Time
	Lives         map[string]float64 // expected years by kind, where a part has none of its own
	Find          []Sought           // each must be in the part or its pool
	Since         time.Time          // put in on this day or later; zero: whenever
	Sort          string             // due, part, pool, age or cost
	Down          bool               // from the last to the first
	Limit, Offset int
}

// Sought is a word, and the kinds of parts that are called so.
type Sought struct {
	Word  string
	Kinds []string
}

// PlacedPart is a part in place at a pool.
type PlacedPart struct {
	Equipment     `gorm:"embedded"`
	Street, Which string
}

// At is what the pool is called.
func (p *PlacedPart) At() string { return (&Pool{Street: p.Street, Which: p.Which}).Name() }

// PartsPage is a window on the parts in place, with what all of them come to.
type PartsPage struct {
	Parts      []PlacedPart
	Total      int
	Late       int   // whose expected life is over
	WorthCents int64 // of those whose cost is known
}

// partOrders are the columns that a list of parts is sorted by; what is not known comes last.
var partOrders = map[string]string{
	"due": "due %s nulls last, street, which, id", "part": "kind %[1]s, model %[1]s, street, which, id", "pool": "street %[1]s, which %[1]s, kind, id",
	"age": "installed_on %s nulls last, street, which, id", "cost": "cost_cents %s nulls last, street, which, id",
}

// PartsInPlace lists parts in place across pools.
func (s *Store) PartsInPlace(ctx context.Context, ask PartsAsk) (PartsPage, error) {
	lives, err := json.Marshal(ask.Lives)
	if err != nil {
		return PartsPage{}, fmt.Errorf("writing the lives: %w", err)
	}
	args := map[string]any{
		"lives":  string(lives),
		"today":  ask.From.Format(time.DateOnly),
		"limit":  ask.Limit,
		"offset": ask.Offset,
	}
	where := "e.removed_on is null and p.archived_at is null"
	if ask.Technician != nil {
		args["me"] = *ask.Technician
		where += " and (p.technician_id = @me or p.id in (select pool_id from visit_moves where technician_id = @me and moved_to >= @today))"
	}
	if !ask.Since.IsZero() {
		args["since"] = ask.Since.Format(time.DateOnly)
		where += " and e.installed_on >= cast(@since as date)"
	}
	for i, w := range ask.Find {
		like, kinds := fmt.Sprintf("like%d", i), fmt.Sprintf("kinds%d", i)
		args[like], args[kinds] = "%"+likely(w.Word)+"%", w.Kinds
		where += fmt.Sprintf(
			" and (e.kind || ' ' || e.model || ' ' || e.serial || ' ' || p.street || ' ' || p.which ilike @%s or e.kind in @%s )",
			like,
			kinds,
		)
	}
	// The end of a life as upkeep.LifeEnds has it; halves go up, so numeric.
	from := ` from (select e.*, p.street, p.which, case when l.years > 0 then e.installed_on + cast(round(cast(l.years * 365.25 as numeric)) as int) end as due
		from equipment e join pools p on p.id = e.pool_id,
		lateral (select coalesce(e.expected_years, cast(cast(@lives as jsonb) ->> e.kind as float8), 0) as years) l
		where ` + where + `) parts`
	var out PartsPage
	db := s.db.WithContext(ctx)
	count := "select count(*) as total, count(*) filter (where due <= cast(@today as date)) as late, coalesce(sum(cost_cents), 0) as worth_cents"
	if err := db.Raw(count+from, args).Row().Scan(&out.Total, &out.Late, &out.WorthCents); err != nil {
		return out, fmt.Errorf("counting the parts: %w", err)
	}
	order, ok := partOrders[ask.Sort]
	if !ok {
		order = partOrders["due"]
	}
	way := map[bool]string{false: "asc", true: "desc"}[ask.Down]
	if err := db.Raw("select *"+from+" order by "+fmt.Sprintf(order, way)+" limit @limit offset @offset ", args).Scan(&out.Parts).Error; err != nil {
		return out, fmt.Errorf("listing the parts: %w", err)
	}
	return out, nil
}
