package store

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Standing is what a pool's record amounts to, as it was worked out by RecordRev of its
// record and by Basis, which stands for all else that went in.
type Standing struct {
	PoolID    uuid.UUID `gorm:"primaryKey"`
	RecordRev int64
	Basis     string
	Kept      json.RawMessage `gorm:"type:json"`
	Sorts     PoolSort        `gorm:"-"`
}

// PoolSort is what lists of pools are sorted by and narrowed to, as of WorkedAt.
type PoolSort struct {
	PoolID      uuid.UUID `gorm:"primaryKey"`
	RecordRev   int64
	Load        *float64
	OverAt      *time.Time
	SeenAt      *time.Time
	OpenSuspect string
	Danger      string // work that keeps the pump off, by name
	WorkedAt    time.Time
}

// StandingsOf reads what pools' records amount to, as far as it is kept.
func (s *Store) StandingsOf(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID]Standing, error) {
	rows, err := s.query( // by hand: a board reads hundreds
		ctx,
		"select pool_id, record_rev, basis, kept from standings where pool_id = any($1::uuid[])",
		uuidArray(pools),
	)
	if err != nil {
		return nil, err
	}
	out := make(map[uuid.UUID]Standing, len(pools))
	var r Standing
	_, err = pgx.ForEachRow(rows, []any{(*[16]byte)(&r.PoolID), &r.RecordRev, &r.Basis, &r.Kept}, func() error {
		out[r.PoolID] = r
		r.Kept = nil
		return nil
	})
	return out, err
}

// KeepStandings writes what pools' records amount to; what was worked out from a later
// revision stays.
func (s *Store) KeepStandings(ctx context.Context, rows []Standing) error {
	if len(rows) == 0 {
		return nil
	}
	sorts := make([]PoolSort, len(rows))
	for i := range rows {
		sorts[i] = rows[i].Sorts
	}
	newer := func(table string) clause.OnConflict {
		where := clause.Where{
			Exprs: []clause.Expression{clause.Expr{SQL: table + ".record_rev <= excluded.record_rev"}},
		}
		return clause.OnConflict{Columns: []clause.Column{{Name: "pool_id"}}, UpdateAll: true, Where: where}
	}
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Clauses(newer("standings")).Create(&rows).Error; err != nil {
			return err
		}
		return tx.Clauses(newer("pool_sorts")).Create(&sorts).Error
	})
	if err != nil {
		return fmt.Errorf("keeping how pools stand: %w", err)
	}
	return nil
}

// Grown lists the pools whose record this unit of work has let grow: none outside of one, and
// not all of very many.
func (s *Store) Grown(ctx context.Context) ([]uuid.UUID, error) {
	if s.unit == nil {
		return nil, nil
	}
	var list *string
	if err := s.unit.conn.QueryRow(ctx, "select current_setting('fairlap.grown', true)").Scan(&list); err != nil {
		return nil, fmt.Errorf("reading which pools have changed: %w", err)
	}
	var out []uuid.UUID
	if list == nil {
		return nil, nil
	}
	for _, text := range strings.Fields(*list) {
		id, err := uuid.Parse(text)
		if err != nil {
			return nil, fmt.Errorf("reading which pools have changed: %w", err)
		}
		if !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out, nil
}

// EachPool hands every pool in care over in parts, in the order of their ids, with what
// Workload reads of them. do may stop it by an error.
func (s *Store) EachPool(ctx context.Context, part int, do func([]Pool) error) error {
	after := uuid.Nil
	for {
		ps, err := s.workload(s.db.WithContext(ctx).Where("id > ?", after).Order("id").Limit(part))
		if err != nil || len(ps) == 0 {
			return err
		}
		if err := do(ps); err != nil {
			return err
		}
		after = ps[len(ps)-1].ID
	}
}

// Behind lists pools in care whose row is missing, of another revision than their record or,
// of pools without choices of their own, of another basis; as many as are asked for.
func (s *Store) Behind(ctx context.Context, basis string, limit int) ([]Pool, error) {
	return s.workload(s.db.WithContext(ctx).Limit(limit).
		Where(`not exists (select 1 from standings s where s.pool_id = pools.id and s.record_rev = pools.record_rev
			and (s.basis = ? or pools.cleaning <> '{}'))`, basis))
}

// MoveSorts moves what lists are sorted by on, where the rows are still of the same revision.
func (s *Store) MoveSorts(ctx context.Context, rows []PoolSort) error {
	b := &pgx.Batch{}
	for i := range rows {
		r := &rows[i]
		b.Queue(
			"update pool_sorts set load = $3, over_at = $4, worked_at = $5 where pool_id = $1 and record_rev = $2",
			r.PoolID.String(), r.RecordRev, r.Load, r.OverAt, r.WorkedAt,
		)
	}
	return s.Pool.SendBatch(ctx, b).Close()
}
