package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// EquipmentEvent is what was done to a part. It is never changed.
type EquipmentEvent struct {
	ID          uuid.UUID `gorm:"primaryKey"`
	PoolID      uuid.UUID
	EquipmentID uuid.UUID
	Replaces    *uuid.UUID
	Act         string
	HappenedOn  time.Time `gorm:"type:date"`
	Note        string
	CostCents   *int64
	MadeBy      uuid.UUID
	MadeAt      time.Time
	ReceivedAt  *time.Time // nil: at once
}

// ChangeEquipment writes what was done to a part once: the same id again is the same
// event, with other content it is ErrDifferent. A part that comes in is added, one that goes out is marked removed,
// with what
// belongs to it unless another takes its place;
// ErrVersion says that it is out already.
func (s *Store) ChangeEquipment(ctx context.Context, e EquipmentEvent, in *Equipment, out *uuid.UUID) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var known []EquipmentEvent
		if err := tx.Limit(1).Find(&known, "id = ?", e.ID).Error; err != nil {
			return err
		}
		if len(known) > 0 {
			k := known[0]
			if k.PoolID != e.PoolID || k.EquipmentID != e.EquipmentID || k.Act != e.Act || k.Note != e.Note ||
				!k.HappenedOn.Equal(e.HappenedOn) {
				return ErrDifferent
			}
			return nil
		}
		if out != nil {
			res := tx.Model(&Equipment{}).
				Where("id = ? and pool_id = ? and removed_on is null", *out, e.PoolID).
				Update("removed_on", e.HappenedOn)
			if res.Error != nil {
				return fmt.Errorf("taking part %s out: %w", *out, res.Error)
			}
			if res.RowsAffected == 0 {
				return ErrVersion
			}
			if in == nil { // what belongs to it goes with it
				if err := tx.Model(&Equipment{}).Where("part_of = ? and removed_on is null", *out).Update("removed_on",
					e.HappenedOn).Error; err != nil {
					return fmt.Errorf("taking out what belongs to part %s: %w", *out, err)
				}
			}
		}
		if in != nil {
			if err := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}},
				DoNothing: true}).Create(in).Error; err != nil {
				return fmt.Errorf("putting part %s in: %w", in.ID, err)
			}
			if out != nil { // what belonged to the old one is in the new one
				if err := tx.Model(&Equipment{}).Where("part_of = ? and removed_on is null", *out).Update("part_of",
					in.ID).Error; err != nil {
					return fmt.Errorf("moving what belongs to part %s: %w", *out, err)
				}
			}
		}
		return tx.Create(&e).Error
	})
}

// PartsEver lists a pool's parts, those that are out too.
func (s *Store) PartsEver(ctx context.Context, pool uuid.UUID) (map[uuid.UUID]Equipment, error) {
	var es []Equipment
	err := s.db.WithContext(ctx).Where("pool_id = ?", pool).Find(&es).Error
	out := make(map[uuid.UUID]Equipment, len(es))
	for _, e := range es {
		out[e.ID] = e
	}
	return out, err
}

// EquipmentEventsOf lists what was done to a pool's parts, newest first.
func (s *Store) EquipmentEventsOf(ctx context.Context, pool uuid.UUID) ([]EquipmentEvent, error) {
	var es []EquipmentEvent
	return es, s.db.WithContext(ctx).Where("pool_id = ?", pool).Order("happened_on desc, made_at desc").Find(&es).Error
}
