package store

import (
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// once writes a row under the id that its maker chose, so that a repeated save is one
// save. Another row under that id is ErrDifferent.
func once[T any](tx *gorm.DB, id uuid.UUID, row *T, same func(kept *T) bool) error {
	res := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}}, DoNothing: true}).Create(row)
	if res.Error != nil || res.RowsAffected > 0 {
		return res.Error
	}
	var kept T
	if err := tx.First(&kept, "id = ?", id).Error; err != nil {
		return found(err)
	}
	if !same(&kept) {
		return ErrDifferent
	}
	return nil
}

func sameID(x, y *uuid.UUID) bool { return x == y || x != nil && y != nil && *x == *y }

func sameTime(x, y *time.Time) bool { return x == y || x != nil && y != nil && x.Equal(*y) }
