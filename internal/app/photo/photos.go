package photo

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/inspection"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/picture"
	"fairlap/internal/store"
)

// PhotoView is a picture's facts; its bytes are fetched by its id.
type PhotoView struct {
	ID      string        `json:"id"`
	VisitID string        `json:"visitId"`
	Item    string        `json:"item" doc:"of an inspection: the thing that it shows"`
	Caption words.Message `json:"caption"`
	Width   int           `json:"width"`
	Height  int           `json:"height"`
	TakenAt time.Time     `json:"takenAt"`
	By      string        `json:"by"`
}

// NewPhoto is a picture to keep.
type NewPhoto struct {
	ID         uuid.UUID
	VisitID    *uuid.UUID
	Inspection *uuid.UUID
	Item       string // of an inspection
	Caption    string
	TakenAt    time.Time // zero: now
}

// PhotosOf lists a pool's pictures, newest first.
func (s *Service) PhotosOf(ctx context.Context, pool uuid.UUID, names map[uuid.UUID]string) ([]PhotoView, error) {
	rows, err := s.keeper.Store.PhotosOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the pictures: %w", err)
	}
	out := make([]PhotoView, len(rows))
	for i, r := range rows {
		out[i] = View(&r, names[r.MadeBy])
	}
	return out, nil
}

// View is a picture's facts in words.
func View(r *store.Photo, by string) PhotoView {
	return PhotoView{
		ID:      r.ID.String(),
		VisitID: company.IDOr(r.VisitID),
		Item:    r.Item,
		Caption: company.NoteOf(r.Caption),
		Width:   r.Width,
		Height:  r.Height,
		TakenAt: r.TakenAt,
		By:      by,
	}
}

// AddPhoto keeps a picture, once; the first one of a pool stands for it.
func (s *Service) AddPhoto(
	ctx context.Context,
	a access.Actor,
	pool uuid.UUID,
	in NewPhoto,
	content []byte,
) (PhotoView, error) {
	p, err := s.keeper.SeePool(ctx, a, pool)
	if err != nil {
		return PhotoView{}, err
	}
	now := s.keeper.Now()
	made := a.When(now)
	if !access.Reasonable(in.TakenAt) || in.TakenAt.After(now) { // a camera's clock that was never set
		in.TakenAt = made
	}
	if in.VisitID != nil {
		v, err := s.keeper.Store.VisitByID(ctx, *in.VisitID)
		if errors.Is(err, store.ErrNotFound) || (err == nil && v.PoolID != pool) {
			return PhotoView{}, figure.Wrong("visit", "app.this-visit-is-not-one")
		}
		if err != nil {
			return PhotoView{}, fmt.Errorf("finding the visit: %w", err)
		}
	}
	if in.Inspection != nil {
		if err := s.mayShow(ctx, pool, in); err != nil {
			return PhotoView{}, err
		}
	}
	caption := strings.TrimSpace(in.Caption)
	if caption == "" {
		caption = string(inspection.Name(inspection.ItemID(in.Item)))
	}
	kept, err := picture.Take(content)
	var refused picture.Refusal
	if errors.As(err, &refused) {
		return PhotoView{}, figure.Wrong("photo", refused.Text)
	}
	if err != nil {
		return PhotoView{}, err
	}
	digest := sha256.Sum256(kept.JPEG)
	row := store.Photo{
		ID:           in.ID,
		PoolID:       pool,
		VisitID:      in.VisitID,
		InspectionID: in.Inspection,
		Item:         in.Item,
		Caption:      caption,
		Width:        kept.Width,
		Height:       kept.Height,
		Digest:       digest[:],
		TakenAt:      in.TakenAt,
		MadeBy:       a.ID,
		MadeAt:       made,
		ReceivedAt:   access.Late(made, now),
	}
	err = s.inTx(ctx, func(s *Service) error {
		if err := s.keeper.Store.AddPhoto(ctx, row, kept.JPEG); err != nil {
			return fmt.Errorf("keeping the picture: %w", err)
		}
		if p.PhotoID != nil || in.VisitID != nil || in.Inspection != nil {
			return nil
		}
		if err := s.showPhoto(ctx, a, p, in.ID); !errors.Is(err, store.ErrVersion) {
			return err
		}
		return nil // somebody else changed the pool: it has its picture, or none
	})
	if err != nil {
		return PhotoView{}, err
	}
	return View(&row, a.Name), nil
}

// mayShow tells whether a picture may go with an inspection: one of the pool's, still
// open, and of something that is looked at there.
func (s *Service) mayShow(ctx context.Context, pool uuid.UUID, in NewPhoto) error {
	row, err := s.keeper.Store.InspectionByID(ctx, *in.Inspection)
	switch {
	case errors.Is(err, store.ErrNotFound) || err == nil && row.PoolID != pool:
		return figure.Wrong("inspection", "app.this-inspection-is-not-one")
	case err != nil:
		return fmt.Errorf("finding the inspection: %w", err)
	case row.ClosedAt != nil:
		return figure.Wrong("inspection", "app.this-inspection-is-closed-its")
	case in.Item != "" && inspection.Name(inspection.ItemID(in.Item)) == "":
		return figure.Wrong("item", "app.there-is-no-such-thing")
	}
	return nil
}

func (s *Service) showPhoto(ctx context.Context, a access.Actor, p store.Pool, photo uuid.UUID) error {
	return s.keeper.Audited(ctx, a, "photo", &p.ID, "app.chose-the-picture-that-stands", func(st *store.Store) error {
		_, err := st.ChangePool(ctx, p.ID, p.Version, map[string]any{"photo_id": photo})
		return err
	})
}

// ShowPhoto makes a picture stand for its pool.
func (s *Service) ShowPhoto(ctx context.Context, a access.Actor, id uuid.UUID) error {
	p, err := s.keeper.Store.PhotoByID(ctx, id)
	if err != nil {
		return fmt.Errorf("finding the picture: %w", err)
	}
	pool, err := s.keeper.SeePool(ctx, a, p.PoolID)
	if err != nil {
		return err
	}
	return s.showPhoto(ctx, a, pool, id)
}

// Photo reads a picture that the actor may see.
func (s *Service) Photo(ctx context.Context, a access.Actor, id uuid.UUID) ([]byte, error) {
	p, err := s.keeper.Store.PhotoByID(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("finding the picture: %w", err)
	}
	if _, err := s.keeper.SeePool(ctx, a, p.PoolID); err != nil {
		return nil, err
	}
	return s.keeper.Store.PhotoBytes(ctx, p.Digest)
}

// TakePhotoAway removes a picture that should not be there; that it was, by whom it
// was removed and why stays in the log.
func (s *Service) TakePhotoAway(ctx context.Context, a access.Actor, id uuid.UUID, why string) error {
	if a.Role == access.Technician {
		return access.ErrForbidden
	}
	why = strings.TrimSpace(why)
	if why == "" {
		return figure.Wrong("why", "app.say-in-a-few-words-2")
	}
	p, err := s.keeper.Store.PhotoByID(ctx, id)
	if err != nil {
		return fmt.Errorf("finding the picture: %w", err)
	}
	return s.keeper.Audited(
		ctx,
		a,
		"photo",
		&p.PoolID,
		words.Of("app.took-picture-away", "why", words.Name(why)),
		func(st *store.Store) error {
			_, err := st.TakePhotosAway(
				ctx,
				string(words.Of("app.taken-away", "why", words.Name(why))),
				s.keeper.Now(),
				"id = ?",
				id,
			)
			return err
		},
	)
}
