package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"gorm.io/gorm"
)

// Import is a spreadsheet on its way in.
type Import struct {
	ID      uuid.UUID `gorm:"primaryKey"`
	Owner   uuid.UUID
	File    string
	Content []byte // until it is in
	State   string
	Done    int
	Total   int
	Refused int
	Says    string
	Tables  json.RawMessage `gorm:"type:json"`
	BeganAt time.Time       // of this state
	Seconds float64         // that the last step took
	MadeAt  time.Time
}

// ImportRow is what becomes of one row of it.
type ImportRow struct {
	ImportID uuid.UUID `gorm:"primaryKey"`
	N        int       `gorm:"primaryKey;autoIncrement:false"`
	Outcome  string
	Row      json.RawMessage `gorm:"type:json"`
}

// AddImport writes a new one.
func (s *Store) AddImport(ctx context.Context, i Import) error {
	return s.db.WithContext(ctx).Create(&i).Error
}

// ImportByID finds one; its content is read only where it is asked for.
func (s *Store) ImportByID(ctx context.Context, id uuid.UUID, content bool) (Import, error) {
	q := s.db.WithContext(ctx)
	if !content {
		q = q.Omit("Content")
	}
	var i Import
	return i, found(q.First(&i, "id = ?", id).Error)
}

// MoveImport changes one that is still in a state; false: it is not.
func (s *Store) MoveImport(ctx context.Context, id uuid.UUID, from string, changes map[string]any) (bool, error) {
	res := s.db.WithContext(ctx).Model(&Import{}).Where("id = ? and state = ?", id, from).Updates(changes)
	return res.RowsAffected > 0, res.Error
}

// KeepImportRows writes what becomes of the rows, in the place of what was written before.
func (s *Store) KeepImportRows(ctx context.Context, id uuid.UUID, rows []ImportRow) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Delete(&ImportRow{}, "import_id = ?", id).Error; err != nil {
			return err
		}
		return inBatches(tx, rows)
	})
}

// ImportRows lists what becomes of rows from a place on; of one outcome, or of all.
func (s *Store) ImportRows(
	ctx context.Context,
	id uuid.UUID,
	outcome string,
	from, limit int,
) ([]json.RawMessage, error) {
	rows, err := s.query(
		ctx,
		"select row from import_rows where import_id = $1 and ($2 = '' or outcome = $2) order by n offset $3 limit $4",
		id.String(),
		outcome,
		from,
		limit,
	)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[json.RawMessage])
}

// ForgetImports takes away those that were made before a time.
func (s *Store) ForgetImports(ctx context.Context, before time.Time) error {
	if err := s.db.WithContext(ctx).Delete(&Import{}, "made_at < ?", before).Error; err != nil {
		return fmt.Errorf("taking old imports away: %w", err)
	}
	return nil
}
