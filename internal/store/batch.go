package store

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Batch is a company's record as it comes in from elsewhere.
type Batch struct {
	Users     []User
	Customers []Customer
	Pools     []Pool
	Plumbing  []Plumbing
	Parts     []Equipment
	Visits    []Visit
}

// Size is how many rows a batch writes.
func (b *Batch) Size() int {
	n := len(b.Users) + len(b.Customers) + len(b.Pools) + len(b.Plumbing) + len(b.Parts) + len(b.Visits)
	for i := range b.Visits {
		n += len(b.Visits[i].Readings) + len(b.Visits[i].Signs) + len(b.Visits[i].Works)
	}
	return n
}

// AddBatch writes a batch and models of the catalogue, all or none, and says how far it
// is. ErrTaken says that a pool's name is another's meanwhile.
func (s *Store) AddBatch(ctx context.Context, b *Batch, items []CatalogueItem, done func(rows int)) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var readings []VisitReading
		var signs []VisitSign
		var works []VisitWork
		heads := make([]Visit, len(b.Visits))
		for i, v := range b.Visits {
			for _, r := range v.Readings {
				r.VisitID = v.ID
				readings = append(readings, r)
			}
			for _, g := range v.Signs {
				g.VisitID = v.ID
				signs = append(signs, g)
			}
			for _, w := range v.Works {
				w.VisitID = v.ID
				works = append(works, w)
			}
			v.Readings, v.Signs, v.Works = nil, nil, nil
			heads[i] = v
		}
		if len(items) > 0 {
			if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(&items,
				rowsAtOnce).Error; err != nil {
				return fmt.Errorf("writing the catalogue: %w", err)
			}
		}
		for _, step := range []func() error{
			func() error { return insertInParts(tx, b.Users, done) },
			func() error { return insertInParts(tx, b.Customers, done) },
			func() error { return insertInParts(tx, b.Pools, done) },
			func() error { return insertInParts(tx, b.Plumbing, done) },
			func() error { return insertInParts(tx, b.Parts, done) },
			func() error { return insertInParts(tx, heads, done) },
			func() error { return insertInParts(tx, readings, done) },
			func() error { return insertInParts(tx, signs, done) },
			func() error { return insertInParts(tx, works, done) },
		} {
			if err := step(); err != nil {
				return err
			}
		}
		return nil
	})
}

// insertInParts writes rows some at a time and reports each part.
func insertInParts[T any](tx *gorm.DB, rows []T, done func(int)) error {
	for from := 0; from < len(rows); from += rowsAtOnce {
		part := rows[from:min(from+rowsAtOnce, len(rows))]
		if err := tx.Create(&part).Error; err != nil {
			return fmt.Errorf("writing many %T: %w", rows[0], err)
		}
		done(len(part))
	}
	return nil
}

// AllPools lists the pools in care, by street.
func (s *Store) AllPools(ctx context.Context) ([]Pool, error) {
	var ps []Pool
	return ps, s.db.WithContext(ctx).Where("archived_at is null").Order("address_order(street), which").Find(&ps).Error
}

// VisitIDs lists the ids of all visits.
func (s *Store) VisitIDs(ctx context.Context) ([]uuid.UUID, error) {
	var ids []uuid.UUID
	return ids, s.db.WithContext(ctx).Model(&Visit{}).Pluck("id", &ids).Error
}
