package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// SignIn is where somebody is signed in.
type SignIn struct {
	ID      uuid.UUID `gorm:"primaryKey"`
	UserID  uuid.UUID
	BeganAt time.Time
	SeenAt  time.Time
	EndedAt *time.Time
	Device  string
}

// AddSignIn writes one down; the same id again is the same.
func (s *Store) AddSignIn(ctx context.Context, in SignIn) error {
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&in).Error
}

// SignInByID finds one.
func (s *Store) SignInByID(ctx context.Context, id uuid.UUID) (SignIn, error) {
	var in SignIn
	return in, found(s.db.WithContext(ctx).First(&in, "id = ?", id).Error)
}

// SignInSeen notes that one was used.
func (s *Store) SignInSeen(ctx context.Context, id uuid.UUID, at time.Time) error {
	return s.db.WithContext(ctx).Model(&SignIn{}).Where("id = ? and ended_at is null", id).Update("seen_at", at).Error
}

// SignInsOf lists somebody's that have not ended and were seen since a time, the last seen
// first.
func (s *Store) SignInsOf(ctx context.Context, user uuid.UUID, since time.Time) ([]SignIn, error) {
	var ins []SignIn
	return ins, s.db.WithContext(ctx).
		Where("user_id = ? and ended_at is null and seen_at >= ?", user, since).
		Order("seen_at desc, id").
		Find(&ins).
		Error
}

// EndSignIn ends one of somebody's; ErrNotFound for another's.
func (s *Store) EndSignIn(ctx context.Context, user, id uuid.UUID, at time.Time) error {
	res := s.db.WithContext(ctx).
		Model(&SignIn{}).
		Where("id = ? and user_id = ?", id, user).
		Where("ended_at is null").
		Update("ended_at", at)
	if res.Error == nil && res.RowsAffected == 0 {
		if _, err := s.SignInByID(ctx, id); err != nil {
			return err
		}
		var mine int64
		if err := s.db.WithContext(ctx).Model(&SignIn{}).Where("id = ? and user_id = ?", id, user).Count(&mine).Error; err != nil ||
			mine > 0 {
			return err // ended already
		}
		return ErrNotFound
	}
	return res.Error
}

// EndSignInsOf ends all of somebody's.
func (s *Store) EndSignInsOf(ctx context.Context, user uuid.UUID, at time.Time) error {
	return s.db.WithContext(ctx).
		Model(&SignIn{}).
		Where("user_id = ? and ended_at is null", user).
		Update("ended_at", at).
		Error
}

// Invitation is a one-time link by which somebody chooses their password.
type Invitation struct {
	Digest []byte `gorm:"primaryKey"`
	UserID uuid.UUID
	MadeBy *uuid.UUID // nil: whoever keeps the server
	MadeAt time.Time
	Until  time.Time
	UsedAt *time.Time
}

// Invite writes an invitation; those that the same person had before end.
func (s *Store) Invite(ctx context.Context, i Invitation) error {
	return s.InTx(ctx, func(in *Store) error {
		db := in.db.WithContext(ctx)
		if err := db.Delete(&Invitation{}, "user_id = ? and used_at is null", i.UserID).Error; err != nil {
			return fmt.Errorf("ending earlier invitations: %w", err)
		}
		return db.Create(&i).Error
	})
}

// Invited finds an invitation that holds at a time.
func (s *Store) Invited(ctx context.Context, digest []byte, now time.Time) (Invitation, error) {
	var i Invitation
	return i, found(s.db.WithContext(ctx).First(&i, "digest = ? and used_at is null and until > ?", digest, now).Error)
}

// UseInvitation uses one up; ErrNotFound where somebody did before.
func (s *Store) UseInvitation(ctx context.Context, digest []byte, now time.Time) error {
	res := s.db.WithContext(ctx).
		Model(&Invitation{}).
		Where("digest = ? and used_at is null and until > ?", digest, now).
		Update("used_at", now)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// TakeStep takes a code of somebody's authenticator, by the step of time that it is of; false
// where that one or a later one was taken before.
func (s *Store) TakeStep(ctx context.Context, user uuid.UUID, step int64) (bool, error) {
	res := s.db.WithContext(ctx).Model(&User{}).Where("id = ? and step_last < ?", user, step).Update("step_last", step)
	return res.RowsAffected > 0, res.Error
}
