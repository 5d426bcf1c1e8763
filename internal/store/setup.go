package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// setupCode is the one row of the code by which an empty database is set up.
type setupCode struct {
	ID     int16 `gorm:"primaryKey"`
	Digest string
	MadeAt time.Time
}

// TableName keeps the singular: there is one row.
func (setupCode) TableName() string { return "setup_code" }

// KeepSetupCode keeps the code's digest in the place of one before.
func (s *Store) KeepSetupCode(ctx context.Context, digest string, at time.Time) error {
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{UpdateAll: true}).
		Create(&setupCode{ID: 1, Digest: digest, MadeAt: at}).Error
}

// SetupCode is the digest of the code; "" for none.
func (s *Store) SetupCode(ctx context.Context) (string, error) {
	var c []setupCode
	if err := s.db.WithContext(ctx).Find(&c).Error; err != nil || len(c) == 0 {
		return "", err
	}
	return c[0].Digest, nil
}

// DropSetupCode ends the code.
func (s *Store) DropSetupCode(ctx context.Context) error {
	return s.db.WithContext(ctx).Delete(&setupCode{}, "id = 1").Error
}

// Beginnings counts what a company has of what it needs for its first week.
type Beginnings struct {
	People  int // who sign in, or are to
	Invited int // of them never came
	Pools   int
	Routed  int // of the pools, with somebody who goes there
	Visits  int // up to one
}

// Beginnings counts.
func (s *Store) Beginnings(ctx context.Context) (Beginnings, error) {
	var b Beginnings
	return b, s.Read(ctx, &b, `select
		(select count(*) from users where active) as people,
		(select count(*) from users where active and password_hash = '') as invited,
		(select count(*) from pools where archived_at is null) as pools,
		(select count(*) from pools where archived_at is null and technician_id is not null) as routed,
		(select count(*) from (select 1 from visits limit 1) as one) as visits`)
}
