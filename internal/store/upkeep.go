package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// DueMark is what somebody decided or did about a piece of due work. It is never
// changed; the last one of an item counts.
type DueMark struct {
	ID         uuid.UUID `gorm:"primaryKey"`
	PoolID     uuid.UUID
	Item       string
	Act        string
	Until      *time.Time
	Reason     string
	MadeBy     uuid.UUID
	MadeAt     time.Time
	ReceivedAt *time.Time // nil: at once
}

// AddDueMark writes a decision once: the same id again is the same decision, with
// another one it is ErrDifferent.
func (s *Store) AddDueMark(ctx context.Context, m DueMark) error {
	return once(s.db.WithContext(ctx), m.ID, &m, func(k *DueMark) bool {
		return k.PoolID == m.PoolID && k.Item == m.Item && k.Act == m.Act && k.Reason == m.Reason &&
			k.MadeBy == m.MadeBy &&
			sameTime(k.Until, m.Until)
	})
}

// DueMarksOf lists pools' decisions, oldest first.
func (s *Store) DueMarksOf(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID][]DueMark, error) {
	var ms []DueMark
	err := s.db.WithContext(ctx).Where("pool_id in ?", pools).Order("made_at, id").Find(&ms).Error
	out := make(map[uuid.UUID][]DueMark)
	for _, m := range ms {
		out[m.PoolID] = append(out[m.PoolID], m)
	}
	return out, err
}
