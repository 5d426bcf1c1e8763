package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
)

// Inspection is a reading of a pool's installation. Once closed it is never changed.
type Inspection struct {
	ID         uuid.UUID `gorm:"primaryKey"`
	PoolID     uuid.UUID
	Answers    json.RawMessage `gorm:"type:jsonb;default:'{}'"`
	Findings   json.RawMessage `gorm:"type:jsonb;default:'[]'"`
	Version    int
	StartedAt  time.Time
	StartedBy  uuid.UUID
	ReceivedAt *time.Time // nil: at once
	ClosedAt   *time.Time
}

// StartInspection writes a new one once: the same id again is the same one.
func (s *Store) StartInspection(ctx context.Context, i Inspection) error {
	return once(s.db.WithContext(ctx), i.ID, &i, func(k *Inspection) bool { return k.PoolID == i.PoolID })
}

// InspectionByID finds one.
func (s *Store) InspectionByID(ctx context.Context, id uuid.UUID) (Inspection, error) {
	var i Inspection
	return i, found(s.db.WithContext(ctx).First(&i, "id = ?", id).Error)
}

// InspectionsOf lists a pool's, newest first.
func (s *Store) InspectionsOf(ctx context.Context, pool uuid.UUID) ([]Inspection, error) {
	var is []Inspection
	return is, s.db.WithContext(ctx).Where("pool_id = ?", pool).Order("started_at desc, id desc").Find(&is).Error
}

// SaveInspection writes answers and findings into an open one if its version is still
// the given one; it comes as it then stands with ErrVersion too.
func (s *Store) SaveInspection(ctx context.Context, i Inspection) (Inspection, error) {
	res := s.db.WithContext(ctx).
		Model(&Inspection{}).
		Where("id = ? and version = ? and closed_at is null", i.ID, i.Version).
		Updates(map[string]any{"answers": i.Answers, "findings": i.Findings, "closed_at": i.ClosedAt, "version": i.Version + 1})
	if res.Error != nil {
		return i, res.Error
	}
	kept, err := s.InspectionByID(ctx, i.ID)
	if err == nil && res.RowsAffected == 0 {
		err = ErrVersion
	}
	return kept, err
}

// LastInspections finds pools' newest closed inspections.
func (s *Store) LastInspections(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID]Inspection, error) {
	var is []Inspection
	err := s.Read(ctx, &is, `select distinct on (pool_id) * from inspections
		where pool_id in ? and closed_at is not null order by pool_id, closed_at desc`, pools)
	out := make(map[uuid.UUID]Inspection, len(is))
	for _, i := range is {
		out[i.PoolID] = i
	}
	return out, err
}
