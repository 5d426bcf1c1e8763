package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// PracticeAttempt is a practice case as somebody worked it.
type PracticeAttempt struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	UserID    uuid.UUID
	TaskID    *uuid.UUID
	Title     string
	BegunAt   time.Time
	ChangedAt time.Time
	Ask       json.RawMessage `gorm:"type:jsonb"`
	Past      json.RawMessage `gorm:"type:jsonb"`
}

// PracticeTask is a case that somebody was asked to work.
type PracticeTask struct {
	ID     uuid.UUID `gorm:"primaryKey"`
	UserID uuid.UUID
	Title  string
	Which  json.RawMessage `gorm:"type:jsonb"`
	MadeBy uuid.UUID
	MadeAt time.Time
}

// PracticeAttemptByID finds one.
func (s *Store) PracticeAttemptByID(ctx context.Context, id uuid.UUID) (PracticeAttempt, error) {
	var p PracticeAttempt
	return p, found(s.db.WithContext(ctx).First(&p, "id = ?", id).Error)
}

// KeepPracticeAttempt writes one, or how it stands now.
func (s *Store) KeepPracticeAttempt(ctx context.Context, p PracticeAttempt) error {
	update := clause.AssignmentColumns([]string{"changed_at", "ask", "past"})
	return s.db.WithContext(ctx).
		Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoUpdates: update}).
		Create(&p).
		Error
}

// mostPractice is how many attempts of somebody are read: the newest.
const mostPractice = 500

// PracticeOf lists somebody's attempts, the newest first, and what they were asked to work.
func (s *Store) PracticeOf(
	ctx context.Context,
	user uuid.UUID,
) (done []PracticeAttempt, asked []PracticeTask, err error) {
	if err = s.db.WithContext(ctx).Where("user_id = ?", user).Order("begun_at desc, id").Limit(mostPractice).Find(&done).Error; err != nil {
		return nil, nil, err
	}
	return done, asked, s.db.WithContext(ctx).Where("user_id = ?", user).Order("made_at, id").Find(&asked).Error
}

// ErasePractice takes away somebody's attempts.
func (s *Store) ErasePractice(ctx context.Context, user uuid.UUID) error {
	return s.db.WithContext(ctx).Where("user_id = ?", user).Delete(&PracticeAttempt{}).Error
}

// AddPracticeTask writes one; the same id again is the same.
func (s *Store) AddPracticeTask(ctx context.Context, t PracticeTask) error {
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&t).Error
}

// DropPracticeTask takes one back.
func (s *Store) DropPracticeTask(ctx context.Context, id uuid.UUID) error {
	return s.db.WithContext(ctx).Delete(&PracticeTask{}, "id = ?", id).Error
}
