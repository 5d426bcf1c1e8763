package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// ErrTaken says that a name which must be one's own belongs to another.
var ErrTaken = errors.New("the name is taken")

// CreatePool writes a pool with its first plumbing and equipment, once: the same
// id again is the same pool. ErrTaken says that its name at its street is another's.
func (s *Store) CreatePool(ctx context.Context, p Pool, first Plumbing, parts []Equipment) (Pool, error) {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		res := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoNothing: true}).Create(&p)
		if res.Error != nil || res.RowsAffected == 0 {
			return res.Error
		}
		if err := tx.Create(&first).Error; err != nil {
			return err
		}
		if len(parts) == 0 {
			return nil
		}
		return tx.Create(&parts).Error
	})
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return Pool{}, ErrTaken
	}
	if err != nil {
		return Pool{}, fmt.Errorf("creating pool %s: %w", p.ID, err)
	}
	kept, err := s.PoolByID(ctx, p.ID)
	if err == nil && kept.MadeHash != p.MadeHash {
		err = ErrDifferent
	}
	return kept, err
}

// AddPlumbing writes the next revision of a pool's plumbing. ErrVersion says that
// somebody else wrote it first.
func (s *Store) AddPlumbing(ctx context.Context, p Plumbing) error {
	// Of its own, so that a unit of work around it can go on after ErrVersion.
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return tx.Create(&p).Error })
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return ErrVersion
	}
	return err
}

// PlumbingOf lists a pool's revisions, newest first.
func (s *Store) PlumbingOf(ctx context.Context, pool uuid.UUID) ([]Plumbing, error) {
	var ps []Plumbing
	return ps, s.db.WithContext(ctx).Where("pool_id = ?", pool).Order("revision desc").Find(&ps).Error
}

// AddCleanLine writes a clean line once: the same id with the same content is the
// same save, with another it is ErrDifferent.
func (s *Store) AddCleanLine(ctx context.Context, l CleanLine) (CleanLine, error) {
	res := s.db.WithContext(ctx).
		Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoNothing: true}).
		Create(&l)
	if res.Error != nil {
		return l, res.Error
	}
	var kept CleanLine
	if err := s.db.WithContext(ctx).First(&kept, "id = ?", l.ID).Error; err != nil {
		return l, found(err)
	}
	if kept.ContentHash != l.ContentHash {
		return kept, ErrDifferent
	}
	return kept, nil
}

// CleanLinesOf lists a pool's clean lines, newest first.
func (s *Store) CleanLinesOf(ctx context.Context, pool uuid.UUID) ([]CleanLine, error) {
	var ls []CleanLine
	return ls, s.db.WithContext(ctx).Where("pool_id = ?", pool).Order("taken_at desc, id desc").Find(&ls).Error
}

// WithdrawCleanLine calls a clean line off, once. ErrTaken says that it was called off already.
func (s *Store) WithdrawCleanLine(ctx context.Context, w CleanLineWithdrawn) error {
	res := s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&w)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrTaken
	}
	return res.Error
}

// Rejudge keeps what visits' readings amount to after their line was called off.
func (s *Store) Rejudge(ctx context.Context, rows []VisitRejudged) error {
	if err := s.db.WithContext(ctx).CreateInBatches(&rows, 500).Error; err != nil {
		return fmt.Errorf("keeping what was judged again: %w", err)
	}
	return nil
}

// WithdrawnLines are a pool's clean lines that were called off, by line.
func (s *Store) WithdrawnLines(ctx context.Context, pool uuid.UUID) (map[uuid.UUID]CleanLineWithdrawn, error) {
	var rows []CleanLineWithdrawn
	err := s.db.WithContext(ctx).Find(&rows, "pool_id = ?", pool).Error
	out := make(map[uuid.UUID]CleanLineWithdrawn, len(rows))
	for _, r := range rows {
		out[r.LineID] = r
	}
	return out, err
}

// rejudged gives visits the loads that their readings amount to where a clean line was called off,
// the newest last.
func (s *Store) rejudged(ctx context.Context, visits []Visit) error {
	seen := map[uuid.UUID]bool{}
	var pools []uuid.UUID
	for i := range visits {
		if id := visits[i].PoolID; !seen[id] {
			seen[id] = true
			pools = append(pools, id)
		}
	}
	var rows []VisitRejudged
	if err := s.db.WithContext(ctx).Order("made_at, line_id").Find(&rows, "pool_id in ?", pools).Error; err != nil {
		return fmt.Errorf("reading what was judged again: %w", err)
	}
	if len(rows) == 0 {
		return nil
	}
	at := make(map[uuid.UUID]*VisitRejudged, len(rows))
	for i := range rows {
		at[rows[i].VisitID] = &rows[i]
	}
	for i := range visits {
		if r := at[visits[i].ID]; r != nil {
			v := &visits[i]
			v.LoadMean, v.LoadSD, v.AfterMean, v.AfterSD = r.LoadMean, r.LoadSD, r.AfterMean, r.AfterSD
			v.LoadUnit, v.Rejudged = r.LoadUnit, &r.MadeAt
		}
	}
	return nil
}

// Catalogue lists the company's own models by name.
func (s *Store) Catalogue(ctx context.Context) ([]CatalogueItem, error) {
	var items []CatalogueItem
	return items, s.db.WithContext(ctx).Order("kind, model").Find(&items).Error
}

// ImportCatalogue writes models, all or none; one of the same name is replaced.
func (s *Store) ImportCatalogue(ctx context.Context, items []CatalogueItem) error {
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(&items, 500).Error
}
