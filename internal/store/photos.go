package store

import (
	"bytes"
	"context"
	"errors"
	"fairlap/internal/pictures"
	"io/fs"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Photo is a picture of a pool, of a visit or of something inspected. Taking it away keeps
// the row.
type Photo struct {
	ID           uuid.UUID `gorm:"primaryKey"`
	PoolID       uuid.UUID
	VisitID      *uuid.UUID
	InspectionID *uuid.UUID
	Item         string // of an inspection: what it shows
	Caption      string
	Width        int
	Height       int
	Digest       []byte
	TakenAt      time.Time
	MadeBy       uuid.UUID
	MadeAt       time.Time
	ReceivedAt   *time.Time // nil: at once
	GoneAt       *time.Time
	GoneWhy      string
}

// PhotoContent is a picture's bytes.
type PhotoContent struct {
	Digest  []byte `gorm:"primaryKey"`
	Content []byte
}

// KeepPhotos makes new pictures go to a keeper instead of the database. Those in the database
// stay readable.
func (s *Store) KeepPhotos(k pictures.Keeper) { s.photos = k }

// AddPhoto writes a picture once: the same id again is the same picture, another
// picture under it is ErrDifferent.
func (s *Store) AddPhoto(ctx context.Context, p Photo, content []byte) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := s.putContent(ctx, tx, p.Digest, content); err != nil {
			return err
		}
		return once(tx, p.ID, &p, func(k *Photo) bool {
			return k.PoolID == p.PoolID && bytes.Equal(k.Digest, p.Digest) && sameID(k.VisitID, p.VisitID) &&
				sameID(k.InspectionID, p.InspectionID) &&
				k.Item == p.Item
		})
	})
}

func (s *Store) putContent(ctx context.Context, tx *gorm.DB, digest, content []byte) error {
	if s.photos == nil {
		return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&PhotoContent{digest, content}).Error
	}
	return s.photos.Put(ctx, digest, content)
}

// PhotoByID finds a picture that was not taken away.
func (s *Store) PhotoByID(ctx context.Context, id uuid.UUID) (Photo, error) {
	var p Photo
	return p, found(s.db.WithContext(ctx).First(&p, "id = ? and gone_at is null", id).Error)
}

// PhotoBytes reads a picture's content, wherever it is kept.
func (s *Store) PhotoBytes(ctx context.Context, digest []byte) ([]byte, error) {
	var c PhotoContent
	err := found(s.db.WithContext(ctx).First(&c, "digest = ?", digest).Error)
	if !errors.Is(err, ErrNotFound) || s.photos == nil {
		return c.Content, err
	}
	content, err := s.photos.Get(ctx, digest)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, ErrNotFound
	}
	return content, err
}

// PhotosOf lists a pool's pictures that are there, newest first.
func (s *Store) PhotosOf(ctx context.Context, pool uuid.UUID) ([]Photo, error) {
	var ps []Photo
	return ps, s.db.WithContext(ctx).
		Where("pool_id = ? and gone_at is null", pool).
		Order("taken_at desc, id desc").
		Find(&ps).
		Error
}

// PhotosInspected lists an inspection's pictures that are there, in the order taken.
func (s *Store) PhotosInspected(ctx context.Context, inspection uuid.UUID) ([]Photo, error) {
	var ps []Photo
	return ps, s.db.WithContext(ctx).
		Where("inspection_id = ? and gone_at is null", inspection).
		Order("made_at, id").
		Find(&ps).
		Error
}

// CountPhotos counts pictures that are there and fit.
func (s *Store) CountPhotos(ctx context.Context, where string, args ...any) (int, error) {
	var n int64
	err := s.db.WithContext(ctx).Model(&Photo{}).Where("gone_at is null").Where(where, args...).Count(&n).Error
	return int(n), err
}

// TakePhotosAway marks pictures as gone, says why, and forgets contents that no other
// picture shows.
func (s *Store) TakePhotosAway(ctx context.Context, why string, now time.Time, where string, args ...any) (int, error) {
	n := 0
	var orphans [][]byte
	err := s.InTx(ctx, func(in *Store) error {
		tx := in.db.WithContext(ctx)
		var gone []Photo
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("gone_at is null").Where(where,
			args...).Find(&gone).Error; err != nil ||
			len(gone) == 0 {
			return err
		}
		n = len(gone)
		ids := make([]uuid.UUID, n)
		for i := range gone {
			ids[i] = gone[i].ID
		}
		if err := tx.Model(&Pool{}).Where("photo_id in ?", ids).Update("photo_id", nil).Error; err != nil {
			return err
		}
		if err := tx.Model(&Photo{}).Where("id in ?",
			ids).Updates(map[string]any{"gone_at": now, "gone_why": why}).Error; err != nil {
			return err
		}
		if err := tx.Raw("select distinct digest from photos g where id in ? and not exists (select 1 from photos o where o.digest = g.digest and o.gone_at is null)", ids).Scan(&orphans).Error; err != nil ||
			len(orphans) == 0 {
			return err
		}
		in.afterwards(func() error { return s.removeFiles(ctx, orphans) })
		return tx.Where("digest in ?", orphans).Delete(&PhotoContent{}).Error
	})
	return n, err
}

// removeFiles deletes contents outside the database that nothing shows any more.
func (s *Store) removeFiles(ctx context.Context, digests [][]byte) error {
	if s.photos == nil {
		return nil
	}
	var errs []error
	for _, d := range digests {
		errs = append(errs, s.photos.Remove(ctx, d))
	}
	return errors.Join(errs...)
}

// PhotosKept tries whether pictures can be written where they are kept.
func (s *Store) PhotosKept(ctx context.Context) error {
	if s.photos == nil {
		return nil
	}
	return s.photos.Ready(ctx)
}
