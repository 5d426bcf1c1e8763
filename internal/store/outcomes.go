package store

import (
	"context"
	"encoding/json"
)

// Settled is a visit whose cause was confirmed, with the diagnosis as it was
// shown.
type Settled struct {
	Confirmed string
	Diagnosis json.RawMessage
}

// counted are the visits that no correction replaced and nobody took back.
const counted = "not exists (select 1 from visits c where c.corrects_id = visits.id)" +
	" and not exists (select 1 from visits_taken_back b where b.visit_id = visits.id)"

// SettledVisits lists the newest settled visits, suspects left open excepted.
func (s *Store) SettledVisits(ctx context.Context, limit int) ([]Settled, error) {
	var out []Settled
	err := s.db.WithContext(ctx).Model(&Visit{}).Select("confirmed, diagnosis").
		Where("confirmed <> '' and confirmed not like 'open:%'").Where(counted).
		Order("closed_at desc").Limit(limit).Scan(&out).Error
	return out, err
}

// ConfirmedCounts counts settled causes, and all closed visits; those taken over
// from an earlier record, where nobody was asked for a cause, are left out.
func (s *Store) ConfirmedCounts(ctx context.Context) (map[string]int, int, error) {
	var rows []struct {
		Confirmed string
		N         int
	}
	err := s.db.WithContext(ctx).
		Model(&Visit{}).
		Select("confirmed, count(*) as n").
		Where("engine_version <> ''").
		Where(counted).
		Group("confirmed").
		Scan(&rows).
		Error
	out, total := map[string]int{}, 0
	for _, r := range rows {
		out[r.Confirmed] = r.N
		total += r.N
	}
	return out, total, err
}
