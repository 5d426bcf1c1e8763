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
	// Of a customer list: its columns, what was decided about it, whether rows that can't come in are left out,
	// and what it brought.
	Columns     json.RawMessage `gorm:"type:json;default:'[]'"`
	Choices     json.RawMessage `gorm:"type:json;default:'{}'"`
	LeaveOut    bool
	Brought     json.RawMessage `gorm:"type:json;default:'{}'"`
	WithdrawnAt *time.Time
	BeganAt     time.Time // of this state
	Seconds     float64   // that the last step took
	MadeAt      time.Time
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

// ImportHeadings is what headings were taken for the last time, by their letters and digits.
func (s *Store) ImportHeadings(ctx context.Context) (map[string]string, error) {
	var rows []struct{ Heading, Field string }
	err := s.db.WithContext(ctx).Table("import_headings").Find(&rows).Error
	out := make(map[string]string, len(rows))
	for _, r := range rows {
		out[r.Heading] = r.Field
	}
	return out, err
}

// KeepImportHeading remembers what a heading was taken for.
func (s *Store) KeepImportHeading(ctx context.Context, heading, field string) error {
	return s.db.WithContext(ctx).Exec(`insert into import_headings (heading, field) values (?, ?)
		on conflict (heading) do update set field = excluded.field`, heading, field).Error
}

// ImportsOf lists the imports that are in, newest first.
func (s *Store) ImportsOf(ctx context.Context, limit int) ([]Import, error) {
	var out []Import
	return out, s.db.WithContext(ctx).Omit("Content", "Columns").Where("state = 'done'").
		Order("made_at desc").Limit(limit).Find(&out).Error
}

// TakeBack puts pools out of care, and people out of the company, that nothing has come to hang on since they came
// in, and gives how many of each went. The record keeps them, as it keeps everything.
func (s *Store) TakeBack(ctx context.Context, pools, people []uuid.UUID, at time.Time) (gone, left int, err error) {
	db := s.db.WithContext(ctx)
	if len(pools) > 0 {
		res := db.Exec(`update pools set archived_at = ?, version = version + 1 where id in ? and archived_at is null
			and not exists (select 1 from visits where pool_id = pools.id)
			and not exists (select 1 from runs where pool_id = pools.id)
			and not exists (select 1 from inspections where pool_id = pools.id)
			and not exists (select 1 from notes where pool_id = pools.id)`, at, pools)
		if res.Error != nil {
			return 0, 0, fmt.Errorf("putting the pools out of care: %w", res.Error)
		}
		gone = int(res.RowsAffected)
	}
	if len(people) > 0 {
		res := db.Exec(`update users set active = false, version = version + 1 where id in ? and active and password_hash = ''
			and not exists (select 1 from pools where technician_id = users.id and archived_at is null)`, people)
		if res.Error != nil {
			return 0, 0, fmt.Errorf("putting the people out: %w", res.Error)
		}
		left = int(res.RowsAffected)
	}
	return gone, left, nil
}

// WithdrawImport says of an import that is in that it was taken back; false: it was before.
func (s *Store) WithdrawImport(ctx context.Context, id uuid.UUID, at time.Time) (bool, error) {
	res := s.db.WithContext(ctx).Model(&Import{}).Where("id = ? and state = 'done' and withdrawn_at is null", id).
		Update("withdrawn_at", at)
	return res.RowsAffected > 0, res.Error
}
