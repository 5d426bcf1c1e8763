package store

import (
	"context"
	"fmt"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
)

// PoolsAsk says which pools are listed, and in which order.
type PoolsAsk struct {
	Technician    *uuid.UUID // that may see no others: their own and those handed to them from Today on
	Today         time.Time
	Now           time.Time
	Words         []string      // each must be in what the pool, its customer or one of its parts is called
	Of            *uuid.UUID    // whose they are; nil: anybody's
	Weekday       *time.Weekday // of the visits; nil: any
	Only          string        // open: with a suspect left open; over: over the limit; danger: with work that keeps the pump off
	Sort          string        // pool, load, days, visited or technician
	Down          bool          // from the last to the first
	Limit, Offset int
}

// ListedPool is a pool of a list.
type ListedPool struct {
	Pool
	Technician string // its name; empty: nobody's
	Customer   string
	Part       string // "kind: model serial" of the part that holds the words, where there are some
}

// poolOrders are the columns that a list of pools is sorted by; what is not known comes last.
var poolOrders = map[string]string{
	"pool": "p.street %[1]s, p.which %[1]s", "load": "s.load %s nulls last, p.street, p.which", "days": "s.over_at %s nulls last, p.street, p.which",
	"visited": "s.seen_at %s nulls last, p.street, p.which", "technician": "coalesce(u.name, '') %s, p.street, p.which",
}

// onlyPools are the rows that a list is narrowed to.
var onlyPools = map[string]string{"open": "open_suspect <> ''", "over": "over_at <= @now", "danger": "danger <> ''"}

// What a word is looked for in: as the indexes have it.
const (
	poolLetters     = "(' ' || p.street || ' ' || p.which || ' ' || p.town)"
	customerLetters = "(' ' || c.name || ' ' || c.phone)"
	partLetters     = "(' ' || e.kind || ' ' || replace(e.kind, '-', ' ') || ' ' || e.model || ' ' || e.serial)" // a kind's id, or its words
)

// hasWord is the condition that letters hold a word, anywhere in them; one of a letter or two
// must begin a word there, which an index can tell.
func hasWord(args map[string]any, name, word string) func(letters string) string {
	args[name] = "%" + likely(word) + "%"
	if utf8.RuneCountInString(word) < trigram {
		args[name] = "% " + likely(word) + "%"
	}
	return func(letters string) string { return letters + " ilike @" + name + " " }
}

// trigram is how many letters an index of any of them is made of.
const trigram = 3

// ListPools lists pools in care, and of a search the archived ones too, last; and how many
// there are in all.
func (s *Store) ListPools(ctx context.Context, ask PoolsAsk) ([]ListedPool, int, error) {
	args := map[string]any{"now": ask.Now, "limit": ask.Limit, "offset": ask.Offset}
	where, part := "cast(@now as timestamptz) is not null", "''" // a query without arguments would not take the others
	if len(ask.Words) == 0 || ask.Technician != nil {
		where += " and p.archived_at is null"
	}
	any := "false"
	for i, w := range ask.Words {
		has := hasWord(args, fmt.Sprintf("word%d", i), w)
		where += fmt.Sprintf(` and p.id in (select p.id from pools p where %s
			union all select p.id from pools p join customers c on c.id = p.customer_id where %s
			union all select e.pool_id from equipment e where e.removed_on is null and %s)`, has(poolLetters), has(customerLetters), has(partLetters))
		any += " or " + has(partLetters)
	}
	if len(ask.Words) > 0 {
		part = `coalesce((select e.kind || ': ' || trim(e.model || ' ' || e.serial) from equipment e
			where e.pool_id = p.id and e.removed_on is null and (` + any + `) order by e.kind limit 1), '')`
	}
	if ask.Technician != nil {
		args["me"], args["today"] = *ask.Technician, ask.Today.Format(time.DateOnly)
		where += " and (p.technician_id = @me or p.id in (select pool_id from visit_moves where technician_id = @me and moved_to >= cast(@today as date)))"
	}
	if ask.Of != nil {
		args["of"] = *ask.Of
		where += " and p.technician_id = @of"
	}
	if ask.Weekday != nil {
		args["weekday"] = int(*ask.Weekday)
		where += " and p.weekday = @weekday"
	}
	if narrow := onlyPools[ask.Only]; narrow != "" {
		where += " and p.id in (select pool_id from standings where " + narrow + ")"
	}
	archivedLast := ""
	if len(ask.Words) > 0 {
		archivedLast = "p.archived_at is not null, "
	}
	hits, total := "", "(select count(*) from pools p where "+where+")"
	if len(ask.Words) > 0 { // what costs is the search: it is done once
		hits, total = "with hits as materialized (select p.id from pools p where "+where+") ", "(select count(*) from hits)"
		where = "p.id in (select id from hits)"
	}
	order, ok := poolOrders[ask.Sort]
	if !ok {
		order = poolOrders["pool"]
	}
	db := s.db.WithContext(ctx)
	rows, err := db.Raw(hits+`select p.id, p.street, p.which, p.weekday, p.technician_id, p.base_minutes, p.version, p.cleaning, p.record_rev, p.archived_at,
		coalesce(u.name, ''), coalesce(c.name, ''), `+part+`, `+total+`
		from pools p left join customers c on c.id = p.customer_id left join users u on u.id = p.technician_id join standings s on s.pool_id = p.id
		where `+where+` order by `+archivedLast+fmt.Sprintf(order, map[bool]string{false: "asc", true: "desc"}[ask.Down])+` limit @limit offset @offset `, args).Rows()
	if err != nil {
		return nil, 0, fmt.Errorf("listing the pools: %w", err)
	}
	defer rows.Close()
	var out []ListedPool
	n := 0
	for rows.Next() {
		var l ListedPool
		if err := rows.Scan(&l.ID, &l.Street, &l.Which, &l.Weekday, &l.TechnicianID, &l.BaseMinutes, &l.Version, &l.Cleaning, &l.RecordRev, &l.ArchivedAt,
			&l.Technician, &l.Customer, &l.Part, &n); err != nil {
			return nil, 0, fmt.Errorf("reading the pools: %w", err)
		}
		out = append(out, l)
	}
	if err := rows.Err(); err != nil || len(out) > 0 || ask.Offset == 0 {
		return out, n, err
	}
	if err := db.Raw(hits+"select "+total+" where cast(@now as timestamptz) is not null", args).Row().Scan(&n); err != nil { // past the end
		return nil, 0, fmt.Errorf("counting the pools: %w", err)
	}
	return out, n, nil
}
