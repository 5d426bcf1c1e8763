package store

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
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
	"due": "n.ends_on %s nulls last, n.equipment_id", "age": "n.installed_on %s nulls last, n.equipment_id",
	"cost": "n.cost_cents %s nulls last, n.equipment_id",
	"part": "left(n.letters, 60) %[1]s, n.equipment_id %[1]s", // a part's letters begin with its kind and model
	"pool": "address_order(p.street) %[1]s, p.which %[1]s, n.kind, n.equipment_id",
}

// PartsInPlace lists parts in place across pools.
func (s *Store) PartsInPlace(ctx context.Context, ask PartsAsk) (PartsPage, error) {
	if err := s.keepLives(ctx, ask.Lives); err != nil {
		return PartsPage{}, err
	}
	args := pgx.NamedArgs{
		"today":  ask.From.Format(time.DateOnly),
		"limit":  ask.Limit,
		"offset": ask.Offset,
	}
	where := "true"
	if ask.Technician != nil {
		args["me"] = *ask.Technician
		where += ` and (n.pool_id in (select id from pools where technician_id = @me)
			or n.pool_id in (select pool_id from visit_moves where technician_id = @me and moved_to >= cast(@today as date)))`
	}
	if !ask.Since.IsZero() {
		args["since"] = ask.Since.Format(time.DateOnly)
		where += " and n.installed_on >= cast(@since as date)"
	}
	for i, w := range ask.Find {
		kinds := fmt.Sprintf("kinds%d", i)
		args[kinds] = w.Kinds
		where += " and (" + hasWord(
			args,
			fmt.Sprintf("word%d", i),
			w.Word,
			"n.letters",
		) + " or n.kind = any(@" + kinds + "))"
	}
	var out PartsPage
	count := "select count(*) as total, count(*) filter (where ends_on <= cast(@today as date)) as late, coalesce(sum(cost_cents), 0) as worth_cents from placed_parts n where "
	if err := s.searchOne(ctx, count+where, args, &out.Total, &out.Late, &out.WorthCents); err != nil {
		return out, fmt.Errorf("counting the parts: %w", err)
	}
	order, ok := partOrders[ask.Sort]
	if !ok {
		order = partOrders["due"]
	}
	way := map[bool]string{false: "asc", true: "desc"}[ask.Down]
	rows, err := s.search(
		ctx,
		"select n.equipment_id from placed_parts n join pools p on p.id = n.pool_id where "+where+" order by "+fmt.Sprintf(
			order,
			way,
		)+" limit @limit offset @offset",
		args,
	)
	if err != nil {
		return out, fmt.Errorf("listing the parts: %w", err)
	}
	page, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	if err != nil {
		return out, fmt.Errorf("listing the parts: %w", err)
	}
	err = s.Read(ctx, &out.Parts,
		"select e.*, p.street, p.which from equipment e join pools p on p.id = e.pool_id where e.id in ?", page)
	if err != nil {
		return out, fmt.Errorf("reading the parts: %w", err)
	}
	slices.SortFunc(out.Parts, func(a, b PlacedPart) int { return slices.Index(page, a.ID) - slices.Index(page, b.ID) })
	return out, nil
}

// keepLives tells the database how long kinds of parts are expected to last, where it has
// it otherwise.
func (s *Store) keepLives(ctx context.Context, lives map[string]float64) error {
	rows, err := s.query(ctx, "select kind, years from part_lives")
	if err != nil {
		return fmt.Errorf("reading the lives: %w", err)
	}
	known := map[string]float64{}
	var kind string
	var years float64
	if _, err := pgx.ForEachRow(rows, []any{&kind, &years},
		func() error { known[kind] = years; return nil }); err != nil {
		return fmt.Errorf("reading the lives: %w", err)
	}
	other := map[string]float64{}
	for k, v := range lives {
		if was, ok := known[k]; !ok || was != v {
			other[k] = v
		}
	}
	for k, was := range known {
		if _, ok := lives[k]; !ok && was != 0 {
			other[k] = 0 // nobody says any more
		}
	}
	if len(other) == 0 {
		return nil
	}
	text, err := json.Marshal(other)
	if err != nil {
		return fmt.Errorf("writing the lives: %w", err)
	}
	err = s.db.WithContext(ctx).
		Exec(`insert into part_lives (kind, years) select key, cast(value as float8) from jsonb_each_text(cast(? as jsonb)) order by key
		on conflict (kind) do update set years = excluded.years`, string(text)).
		Error
	if err != nil {
		return fmt.Errorf("keeping the lives: %w", err)
	}
	return nil
}
