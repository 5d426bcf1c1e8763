package store

import (
	"context"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// PoolsAsk says which pools are listed, and in which order.
type PoolsAsk struct {
	Technician *uuid.UUID // that may see no others: their own and those handed to them from Today on
	Today      time.Time
	Now        time.Time
	Words      []string      // each must be in what the pool, its customer or one of its parts is called
	Of         *uuid.UUID    // whose they are; nil: anybody's
	Weekday    *time.Weekday // of the visits; nil: any
	// open: with a suspect left open; over: over the limit; danger: with work that keeps the pump off
	Only          string
	Sort          string // pool, load, days, visited or technician
	Down          bool   // from the last to the first
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
	"pool":       "address_order(p.street) %[1]s, p.which %[1]s",
	"technician": "coalesce(u.name, '') %s, address_order(p.street), p.which",
	"load":       "s.load %s nulls last, s.pool_id", "days": "s.over_at %s nulls last, s.pool_id",
	"visited": "s.seen_at %s nulls last, s.pool_id",
}

// onlyPools are the rows of pool_sorts that a list is narrowed to.
var onlyPools = map[string]string{
	"open":   "s.open_suspect <> ''",
	"over":   "s.over_at <= @now",
	"danger": "s.danger <> ''",
}

// hasWord is the condition that small letters hold a word, anywhere in them; one of a letter or
// two must begin a word there, which an index can tell. The word is among args by a name.
func hasWord(args pgx.NamedArgs, name, word, letters string) string {
	args[name] = "%" + likely(word) + "%"
	if utf8.RuneCountInString(word) < trigram {
		args[name] = "% " + likely(word) + "%"
	}
	return letters + " like lower(@" + name + ")"
}

// trigram is how many letters an index of any of them is made of.
const trigram = 3

// asked is a question to the database for pools: which rows, and what a pool's id is called there.
type asked struct {
	from, id, where string
	total           string // how many there are in all
	args            pgx.NamedArgs
}

// asked says which pools are asked for, of no more tables than that takes. Where nothing narrows
// them but how they stand, and they are sorted by that, an index of how they stand gives them
// alone.
func (ask *PoolsAsk) asked() asked {
	q := asked{
		from:  "pools p",
		id:    "p.id",
		where: "true",
		args:  pgx.NamedArgs{"now": ask.Now, "limit": ask.Limit, "offset": ask.Offset},
	}
	also := func(condition string) { q.where += " and " + condition }
	stands := strings.Contains(poolOrders[ask.Sort], "s.pool_id")
	everybodys := len(ask.Words) == 0 && ask.Technician == nil && ask.Of == nil && ask.Weekday == nil
	switch {
	case everybodys && stands:
		q.from, q.id = "pool_sorts s", "s.pool_id"
		also("s.pool_id not in (select id from pools where archived_at is not null)")
	default:
		if len(ask.Words) == 0 || ask.Technician != nil {
			also("p.archived_at is null")
		}
		if len(ask.Words) > 0 {
			q.from += " join pool_letters l on l.pool_id = p.id"
		}
		if stands || ask.Only != "" {
			q.from += " join pool_sorts s on s.pool_id = p.id"
		}
		if ask.Sort == "technician" {
			q.from += " left join users u on u.id = p.technician_id"
		}
	}
	for i, w := range ask.Words {
		also(hasWord(q.args, fmt.Sprintf("word%d", i), w, "l.letters"))
	}
	if ask.Technician != nil {
		q.args["me"], q.args["today"] = *ask.Technician, ask.Today.Format(time.DateOnly)
		also(
			"(p.technician_id = @me or p.id in (select pool_id from visit_moves where technician_id = @me and moved_to >= cast(@today as date)))",
		)
	}
	if ask.Of != nil {
		q.args["of"] = *ask.Of
		also("p.technician_id = @of")
	}
	if ask.Weekday != nil {
		q.args["weekday"] = int(*ask.Weekday)
		also("p.weekday = @weekday")
	}
	if narrow := onlyPools[ask.Only]; narrow != "" {
		also(narrow)
	}
	switch {
	case everybodys && ask.Only == "":
		q.total = "(select count(*) from pools where archived_at is null)"
	case len(ask.Words) > 0: // what costs is the search: it is done once
		q.total = "count(*) over ()"
	default:
		q.total = "(select count(*) from " + q.from + " where " + q.where + ")"
	}
	return q
}

// ListPools lists pools in care, and of a search the archived ones too, last; and how many
// there are in all. The page is found first, by as little as it takes, and read then.
func (s *Store) ListPools(ctx context.Context, ask PoolsAsk) ([]ListedPool, int, error) {
	q := ask.asked()
	order, ok := poolOrders[ask.Sort]
	if !ok {
		order = poolOrders["pool"]
	}
	order = fmt.Sprintf(order, map[bool]string{false: "asc", true: "desc"}[ask.Down])
	part := "''"
	if len(ask.Words) > 0 {
		order = "p.archived_at is not null, " + order
		any := make([]string, len(ask.Words))
		for i := range ask.Words {
			any[i] = fmt.Sprintf("letters_of(e) like lower(@word%d)", i)
		}
		part = `coalesce((select e.kind || ': ' || trim(e.model || ' ' || e.serial) from equipment e
			where e.pool_id = p.id and e.removed_on is null and (` + strings.Join(any, " or ") + `) order by e.kind limit 1), '')`
	}
	rows, err := s.search(
		ctx,
		`select p.id, p.street, p.which, p.weekday, p.technician_id, p.base_minutes, p.version, p.cleaning, p.record_rev, p.archived_at,
		coalesce(u.name, ''), coalesce(c.name, ''), `+part+`, page.total
		from (select `+q.id+` as id, `+q.total+` as total from `+q.from+" where "+q.where+" order by "+order+` limit @limit offset @offset ) page
		join pools p on p.id = page.id join pool_sorts s on s.pool_id = p.id left join customers c on c.id = p.customer_id left join users u on u.id = p.technician_id
		order by `+order,
		q.args,
	)
	if err != nil {
		return nil, 0, fmt.Errorf("listing the pools: %w", err)
	}
	defer rows.Close()
	var out []ListedPool
	var n int
	for rows.Next() {
		var l ListedPool
		if err := rows.Scan(&l.ID, &l.Street, &l.Which, &l.Weekday, &l.TechnicianID, &l.BaseMinutes, &l.Version,
			&l.Cleaning, &l.RecordRev, &l.ArchivedAt,
			&l.Technician, &l.Customer, &l.Part, &n); err != nil {
			return nil, 0, fmt.Errorf("reading the pools: %w", err)
		}
		out = append(out, l)
	}
	if err := rows.Err(); err != nil {
		return nil, 0, fmt.Errorf("reading the pools: %w", err)
	}
	if len(out) > 0 || ask.Offset == 0 {
		return out, n, nil
	}
	if err := s.searchOne(ctx, "select count(*) from "+q.from+" where "+q.where, q.args, &n); err != nil {
		return nil, 0, fmt.Errorf("counting the pools: %w", err) // past the end
	}
	return out, n, nil
}
