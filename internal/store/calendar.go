package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// CalendarFeed is one address of somebody's calendar; its secret is known only by
// its digest.
type CalendarFeed struct {
	Digest    []byte `gorm:"primaryKey"`
	UserID    uuid.UUID
	CreatedAt time.Time
	RevokedAt *time.Time
}

// OpenFeed gives a user a new address; the old one ends with it.
func (s *Store) OpenFeed(ctx context.Context, f CalendarFeed) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := revoke(tx, f.UserID, f.CreatedAt); err != nil {
			return err
		}
		return tx.Create(&f).Error
	})
}

// CloseFeed ends a user's address, if there is one.
func (s *Store) CloseFeed(ctx context.Context, user uuid.UUID, at time.Time) error {
	return revoke(s.db.WithContext(ctx), user, at)
}

func revoke(tx *gorm.DB, user uuid.UUID, at time.Time) error {
	if err := tx.Model(&CalendarFeed{}).Where("user_id = ? and revoked_at is null", user).Update("revoked_at", at).Error; err != nil {
		return fmt.Errorf("ending the old address: %w", err)
	}
	return nil
}

// FeedOf is a user's living address; ErrNotFound without one.
func (s *Store) FeedOf(ctx context.Context, user uuid.UUID) (CalendarFeed, error) {
	var f CalendarFeed
	return f, found(s.db.WithContext(ctx).First(&f, "user_id = ? and revoked_at is null", user).Error)
}

// FeedByDigest finds a living address of an active user.
func (s *Store) FeedByDigest(ctx context.Context, digest []byte) (CalendarFeed, error) {
	var f CalendarFeed
	return f, found(s.db.WithContext(ctx).Joins("join users u on u.id = calendar_feeds.user_id and u.active").
		First(&f, "digest = ? and revoked_at is null", digest).Error)
}
