package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// VisitMove puts a pool's planned visit on another day or into other hands. It is
// never changed; the last one of a planned day counts.
type VisitMove struct {
	ID           uuid.UUID `gorm:"primaryKey"`
	PoolID       uuid.UUID
	PlannedOn    time.Time  `gorm:"type:date"`
	MovedTo      *time.Time `gorm:"type:date"`
	TechnicianID *uuid.UUID
	MadeBy       uuid.UUID
	MadeAt       time.Time
	ReceivedAt   *time.Time // nil: at once
}

// AddVisitMove writes a move once: the same id again is the same move, with another one
// it is ErrDifferent.
func (s *Store) AddVisitMove(ctx context.Context, m VisitMove) error {
	return once(s.db.WithContext(ctx), m.ID, &m, func(k *VisitMove) bool {
		return k.PoolID == m.PoolID && k.PlannedOn.Equal(m.PlannedOn) && sameTime(k.MovedTo, m.MovedTo) &&
			sameID(k.TechnicianID, m.TechnicianID)
	})
}

// MovesOf lists pools' moves of visits planned or moved to a day from since on,
// oldest first.
func (s *Store) MovesOf(ctx context.Context, pools []uuid.UUID, since time.Time) (map[uuid.UUID][]VisitMove, error) {
	var ms []VisitMove
	day := since.Format(time.DateOnly)
	err := s.db.WithContext(ctx).
		Where("pool_id in ? and (planned_on >= ? or moved_to >= ?)", pools, day, day).
		Order("made_at, id").
		Find(&ms).
		Error
	out := make(map[uuid.UUID][]VisitMove)
	for _, m := range ms {
		out[m.PoolID] = append(out[m.PoolID], m)
	}
	return out, err
}

// handed are the pools of which a technician was given a visit that is not past.
const handed = "select pool_id from visit_moves where technician_id = ? and moved_to >= ?"

// Covers tells whether somebody was given a visit of another's pool from a day on.
func (s *Store) Covers(ctx context.Context, technician, pool uuid.UUID, from time.Time) (bool, error) {
	var n int64
	err := s.db.WithContext(ctx).
		Model(&Pool{}).
		Where("id = ? and id in ("+handed+")", pool, technician, from.Format(time.DateOnly)).
		Count(&n).
		Error
	return n > 0, err
}

// Whose says whose pools are meant; its zero is everybody's and nobody's.
type Whose struct {
	People []uuid.UUID // theirs, and those that they were handed a visit of
	Nobody bool        // and those that are nobody's
}

func (w *Whose) everybody() bool { return len(w.People) == 0 && !w.Nobody }

// Workload lists some people's pools and those that they were handed a visit of from a day
// on. In the order of a day, with what planning needs of them.
func (s *Store) Workload(ctx context.Context, whose Whose, from time.Time) ([]Pool, error) {
	q := s.db.WithContext(ctx).Order("lap_order, street, which")
	if !whose.everybody() {
		q = q.Where(
			`id in (select id from pools where technician_id in ? union all select id from pools where ? and technician_id is null
			union all select pool_id from visit_moves where technician_id in ? and moved_to >= ?)`,
			whose.People,
			whose.Nobody,
			whose.People,
			from.Format(time.DateOnly),
		)
	}
	return s.workload(q)
}

// Drive tells which of some people have pools in care, or visits that they were handed from a
// day on, and whether there are pools that are nobody's.
func (s *Store) Drive(
	ctx context.Context,
	people []uuid.UUID,
	from time.Time,
) (drive map[uuid.UUID]bool, nobodys bool, err error) {
	var ids []uuid.UUID
	db := s.db.WithContext(ctx)
	if len(people) > 0 {
		err = db.Raw(`select p.id from users p where p.id in ? and (exists (select 1 from pools where technician_id = p.id and archived_at is null)
			or exists (select 1 from visit_moves where technician_id = p.id and moved_to >= ?))`, people, from.Format(time.DateOnly)).
			Scan(&ids).
			Error
		if err != nil {
			return nil, false, err
		}
	}
	drive = make(map[uuid.UUID]bool, len(ids))
	for _, id := range ids {
		drive[id] = true
	}
	err = db.Raw("select exists (select 1 from pools where technician_id is null and archived_at is null)").
		Scan(&nobodys).
		Error
	return drive, nobodys, err
}

// WorkloadOf is Workload of named pools, in care.
func (s *Store) WorkloadOf(ctx context.Context, ids []uuid.UUID) ([]Pool, error) {
	return s.workload(s.db.WithContext(ctx).Where("id in ?", ids))
}

// workload reads pools in care with what planning needs of them.
func (s *Store) workload(q *gorm.DB) ([]Pool, error) {
	rows, err := q.Model(&Pool{}).
		Select("id, street, which, weekday, technician_id, base_minutes, version, lon, lat, lap_order, cleaning, record_rev").
		Where("archived_at is null").
		Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var ps []Pool
	for rows.Next() { // by hand: a board reads thousands
		var p Pool
		if err := rows.Scan(&p.ID, &p.Street, &p.Which, &p.Weekday, &p.TechnicianID, &p.BaseMinutes, &p.Version, &p.Lon,
			&p.Lat, &p.LapOrder, &p.Cleaning, &p.RecordRev); err != nil {
			return nil, err
		}
		ps = append(ps, p)
	}
	return ps, rows.Err()
}

// CreateLap writes a day's lap once; the lap on record comes back, whoever wrote
// it first.
func (s *Store) CreateLap(ctx context.Context, l Lap) (Lap, error) {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		head := l
		head.Stops = nil
		res := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "technician_id"}, {Name: "day"}},
			DoNothing: true}).
			Create(&head)
		if res.Error != nil || res.RowsAffected == 0 || len(l.Stops) == 0 {
			return res.Error
		}
		return tx.Create(&l.Stops).Error
	})
	if err != nil {
		return Lap{}, fmt.Errorf("writing the lap: %w", err)
	}
	return s.LapOn(ctx, l.TechnicianID, l.Day)
}

// ReviseLap replaces a lap's stops if its version is still the given one; the lap as
// it then stands comes with ErrVersion too. A stop that is left out is taken off the
// lap, not erased: what is being typed there can still be kept. One that was logged
// meanwhile stays, and the change is ErrVersion. A pool that was taken off comes back
// as the stop that it was.
func (s *Store) ReviseLap(ctx context.Context, l Lap, now time.Time) (Lap, error) {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		res := tx.Model(&Lap{}).Where("id = ? and version = ?", l.ID, l.Version).Update("version", l.Version+1)
		if res.Error != nil {
			return res.Error
		}
		if res.RowsAffected == 0 {
			return ErrVersion
		}
		keep := make([]uuid.UUID, len(l.Stops))
		for i := range l.Stops {
			keep[i] = l.Stops[i].PoolID
		}
		gone := func() *gorm.DB {
			q := tx.Model(&Stop{}).Where("lap_id = ? and dropped_at is null", l.ID)
			if len(keep) > 0 {
				q = q.Where("pool_id not in ?", keep)
			}
			return q
		}
		var logged int64
		if err := gone().Where("exists (select 1 from visits where stop_id = stops.id)").Count(&logged).Error; err != nil {
			return err
		}
		if logged > 0 {
			return ErrVersion
		}
		if err := gone().Update("dropped_at", now).Error; err != nil {
			return err
		}
		if len(l.Stops) == 0 {
			return nil
		}
		return tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "lap_id"}, {Name: "pool_id"}},
			DoUpdates: clause.AssignmentColumns(
				[]string{"position", "minutes", "planned_at", "dropped_at"},
			)}).Create(&l.Stops).Error
	})
	if err != nil && !errors.Is(err, ErrVersion) {
		return Lap{}, fmt.Errorf("changing the lap: %w", err)
	}
	as, read := s.LapOn(ctx, l.TechnicianID, l.Day)
	return as, errors.Join(err, read)
}

// LapByID finds a lap with its stops in order.
func (s *Store) LapByID(ctx context.Context, id uuid.UUID) (Lap, error) {
	var l Lap
	err := s.db.WithContext(ctx).Preload("Stops", inOrder).First(&l, "id = ?", id).Error
	return l, found(err)
}

// LapsOf lists a day's laps with their stops: of some people, or of all (none named).
func (s *Store) LapsOf(ctx context.Context, day time.Time, people ...uuid.UUID) ([]Lap, error) {
	q := s.db.WithContext(ctx).Preload("Stops", inOrder)
	if len(people) > 0 {
		q = q.Where("technician_id in ?", people)
	}
	var ls []Lap
	return ls, q.Find(&ls, "day = ?", day.Format(time.DateOnly)).Error
}

// SetPartLife changes how long a part that is in place is expected to last.
func (s *Store) SetPartLife(ctx context.Context, part uuid.UUID, years *float64) error {
	res := s.db.WithContext(ctx).
		Model(&Equipment{}).
		Where("id = ? and removed_on is null", part).
		Update("expected_years", years)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

func (s *Store) updatePool(ctx context.Context, id uuid.UUID, version int, to map[string]any) (Pool, error) {
	to["version"] = version + 1
	res := s.db.WithContext(ctx).Model(&Pool{}).Where("id = ? and version = ?", id, version).Updates(to)
	if res.Error != nil {
		return Pool{}, res.Error
	}
	p, err := s.PoolByID(ctx, id)
	if err == nil && res.RowsAffected == 0 {
		err = ErrVersion
	}
	return p, err
}

// Leave ends somebody's work for the company: they can't sign in any more, their
// calendar's address ends, and their pools go to another technician or (nil) to
// nobody. It gives how many pools went.
func (s *Store) Leave(ctx context.Context, who uuid.UUID, to *uuid.UUID, now time.Time) (int, error) {
	pools := 0
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		res := tx.Model(&User{}).
			Where("id = ? and active", who).
			Updates(map[string]any{"active": false, "version": gorm.Expr("version + 1")})
		if res.Error != nil {
			return res.Error
		}
		if res.RowsAffected == 0 {
			return ErrNotFound
		}
		if err := tx.Model(&CalendarFeed{}).Where("user_id = ? and revoked_at is null", who).Update("revoked_at",
			now).Error; err != nil {
			return err
		}
		res = tx.Model(&Pool{}).
			Where("technician_id = ?", who).
			Updates(map[string]any{"technician_id": to, "version": gorm.Expr("version + 1")})
		pools = int(res.RowsAffected)
		return res.Error
	})
	return pools, err
}
