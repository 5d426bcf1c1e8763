package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"
)

// Settled is a visit whose cause was confirmed, with the suspects as they were shown,
// falling.
type Settled struct {
	Was    string
	Faults []string
	Odds   []float64
}

// counted are the visits that no correction replaced and nobody took back.
const counted = "not exists (select 1 from visits c where c.corrects_id = visits.id)" +
	" and not exists (select 1 from visits_taken_back b where b.visit_id = visits.id)"

// SettledVisits lists the newest settled visits, suspects left open excepted. The database
// keeps them as visits come in.
func (s *Store) SettledVisits(ctx context.Context, limit int) ([]Settled, error) {
	rows, err := s.query(ctx, "select was, faults, odds from outcomes order by closed_at desc limit $1", limit)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[Settled])
}

// ConfirmedCounts counts settled causes, and all closed visits; those taken over
// from an earlier record, where nobody was asked for a cause, are left out.
func (s *Store) ConfirmedCounts(ctx context.Context) (map[string]int, int, error) {
	rows, err := s.query(ctx, "select confirmed, sum(n)::bigint from visit_counts group by confirmed having sum(n) > 0")
	if err != nil {
		return nil, 0, err
	}
	out, total := map[string]int{}, 0
	var confirmed string
	var n int
	_, err = pgx.ForEachRow(rows, []any{&confirmed, &n}, func() error {
		out[confirmed] = n
		total += n
		return nil
	})
	return out, total, err
}

// Recount works out anew from the record what the database counts and names as it grows: outcomes,
// visits, the ends of parts' lives, the letters that lists look in. Nobody writes a visit or a part
// meanwhile.
func (s *Store) Recount(ctx context.Context) error {
	if err := s.db.WithContext(ctx).Exec("select recount()").Error; err != nil {
		return fmt.Errorf("counting anew: %w", err)
	}
	return nil
}
