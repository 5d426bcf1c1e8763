package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Run is a guided run as it was started. It is never changed.
type Run struct {
	ID         uuid.UUID `gorm:"primaryKey"`
	PoolID     uuid.UUID
	StopID     *uuid.UUID
	Procedure  string
	Script     json.RawMessage `gorm:"type:jsonb"`
	StartedBy  uuid.UUID
	StartedAt  time.Time
	ReceivedAt *time.Time // nil: at once
	Events     []RunEvent
}

// RunEvent is one thing that happened in a run. It is never changed.
type RunEvent struct {
	RunID      uuid.UUID `gorm:"primaryKey"`
	Seq        int       `gorm:"primaryKey;autoIncrement:false"`
	ID         uuid.UUID
	Act        string
	Turn       int
	Step       string
	Option     string
	Reading    json.RawMessage `gorm:"type:jsonb"`
	Note       string
	Doses      bool      // chemicals went in
	At         time.Time // as it was done
	ReceivedAt time.Time
	MadeBy     uuid.UUID
}

func eventsInOrder(q *gorm.DB) *gorm.DB { return q.Order("seq") }

// StartRun writes a run once: the same id again is the same run.
func (s *Store) StartRun(ctx context.Context, r Run) (Run, error) {
	r.Events = nil
	if err := s.db.WithContext(ctx).Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "id"}},
		DoNothing: true}).Create(&r).Error; err != nil {
		return Run{}, fmt.Errorf("starting run %s: %w", r.ID, err)
	}
	kept, err := s.RunByID(ctx, r.ID)
	if err == nil && (kept.PoolID != r.PoolID || kept.Procedure != r.Procedure) {
		err = ErrDifferent
	}
	return kept, err
}

// RunByID gives a run with its events in order.
func (s *Store) RunByID(ctx context.Context, id uuid.UUID) (Run, error) {
	var r Run
	return r, found(s.db.WithContext(ctx).Preload("Events", eventsInOrder).First(&r, "id = ?", id).Error)
}

// RunsOf lists a pool's runs, newest first; of one stop where one is given.
func (s *Store) RunsOf(ctx context.Context, pool uuid.UUID, stop *uuid.UUID, limit int) ([]Run, error) {
	q := s.db.WithContext(ctx).Preload("Events", eventsInOrder).Where("pool_id = ?", pool)
	if stop != nil {
		q = q.Where("stop_id = ?", *stop)
	}
	var out []Run
	return out, q.Order("started_at desc, id desc").Limit(limit).Find(&out).Error
}

// RunsAsk says which runs are listed: each word in the pool's name, or the work called by it.
type RunsAsk struct {
	Technician    *uuid.UUID // whose pools; nil: all
	From          time.Time  // the day from which moved visits count as theirs
	Find          []SoughtRun
	Limit, Offset int
}

// SoughtRun is a word, and the procedures that are called by it.
type SoughtRun struct {
	Word       string
	Procedures []string
}

// RunAt is a run and the pool that it is of.
type RunAt struct {
	Run
	Street, Which string
}

// Runs lists a company's runs, newest first, and how many there are.
func (s *Store) Runs(ctx context.Context, ask RunsAsk) ([]RunAt, int, error) {
	q := s.db.WithContext(ctx).Model(&Run{}).Joins("join pools on pools.id = runs.pool_id")
	if t := ask.Technician; t != nil {
		q = q.Where(
			"pools.archived_at is null and (pools.technician_id = ? or pools.id in ("+handed+"))",
			*t, *t, ask.From.Format(time.DateOnly),
		)
	}
	for _, w := range ask.Find {
		q = q.Where(
			"(pools.street || ' ' || pools.which || ' ' || pools.town) ilike ? or runs.procedure in ?",
			"%"+likely(w.Word)+"%", append([]string{""}, w.Procedures...),
		)
	}
	var total int64
	if err := q.Count(&total).Error; err != nil {
		return nil, 0, err
	}
	var heads []struct {
		ID            uuid.UUID
		Street, Which string
	}
	err := q.Select("runs.id, pools.street, pools.which").Order("runs.started_at desc, runs.id desc").
		Limit(ask.Limit).Offset(ask.Offset).Scan(&heads).Error
	if err != nil || len(heads) == 0 {
		return nil, int(total), err
	}
	ids := make([]uuid.UUID, len(heads))
	for i, h := range heads {
		ids[i] = h.ID
	}
	var runs []Run
	if err := s.db.WithContext(ctx).Preload("Events", eventsInOrder).Find(&runs, "id in ?", ids).Error; err != nil {
		return nil, 0, err
	}
	by := make(map[uuid.UUID]Run, len(runs))
	for _, r := range runs {
		by[r.ID] = r
	}
	out := make([]RunAt, len(heads))
	for i, h := range heads {
		out[i] = RunAt{Run: by[h.ID], Street: h.Street, Which: h.Which}
	}
	return out, int(total), nil
}

// LastDoses tells when chemicals last went into pools by a guided run.
func (s *Store) LastDoses(ctx context.Context, pools []uuid.UUID) (map[uuid.UUID]time.Time, error) {
	var rows []struct {
		PoolID uuid.UUID
		At     time.Time
	}
	err := s.db.WithContext(ctx).
		Model(&RunEvent{}).
		Select("runs.pool_id, max(run_events.at) as at").
		Joins("join runs on runs.id = run_events.run_id").
		Where("run_events.doses and runs.pool_id in ?", pools).
		Group("runs.pool_id").
		Scan(&rows).
		Error
	out := make(map[uuid.UUID]time.Time, len(rows))
	for _, r := range rows {
		out[r.PoolID] = r.At
	}
	return out, err
}

// AppendRun adds to a run what take makes of it as it stands; nobody else adds
// meanwhile. What take refuses is not written.
func (s *Store) AppendRun(ctx context.Context, id uuid.UUID, take func(Run) ([]RunEvent, error)) (Run, error) {
	var r Run
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := found(tx.Clauses(clause.Locking{Strength: "UPDATE"}).First(&r, "id = ?", id).Error); err != nil {
			return err
		}
		if err := eventsInOrder(tx).Find(&r.Events, "run_id = ?", id).Error; err != nil {
			return err
		}
		more, err := take(r)
		if err != nil {
			return err
		}
		for i := range more {
			more[i].RunID, more[i].Seq = id, len(r.Events)+1+i
		}
		if len(more) == 0 {
			return nil
		}
		if err := tx.Create(&more).Error; err != nil {
			return fmt.Errorf("writing the events of run %s: %w", id, err)
		}
		r.Events = append(r.Events, more...)
		return nil
	})
	return r, err
}
