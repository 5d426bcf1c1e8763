package standing

import (
	"encoding/json"
	"fmt"
	"sync"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/speedplan"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// WalkRows is a clean line as it is kept.
func WalkRows(l store.CleanLine) ([]casefile.Reading, error) {
	var stored []casefile.Reading
	if err := json.Unmarshal(l.Readings, &stored); err != nil {
		return nil, fmt.Errorf("reading clean line %s: %w", l.ID, err)
	}
	return stored, nil
}

// modelKey is what a calibrated model depends on.
type modelKey struct {
	plumbing, cleanLine uuid.UUID
	limit               string // in words
	newGauge            bool   // the clean line's tank readings are another gauge's
}

// Pad is a calibrated pad as it is kept, with what a speed plan solved on it.
type Pad struct {
	*judge.Calibrated

	PlanOnce   sync.Mutex // a speed plan's ways to run, solved when first asked for
	PlanPad    *speedplan.Pad
	PlanVolume units.Volume
}

// Model gives a pool's calibrated pad.
func (s *Keeper) Model(r *store.PoolRecord, settings upkeep.Settings) (*Pad, error) {
	k := modelKey{plumbing: r.Plumbing.ID, limit: fmt.Sprintf("%s %g", settings.LimitWords(), settings.FlowLossPercent)}
	if r.CleanLine != nil {
		k.cleanLine = r.CleanLine.ID
	}
	k.newGauge = r.NewGauge
	if m, ok := s.models.Get(k); ok {
		return m, nil
	}
	var doc pad.Document
	if err := json.Unmarshal(r.Plumbing.Document, &doc); err != nil {
		return nil, fmt.Errorf("reading the pad of %s: %w", r.Pool.Name(), err)
	}
	var rows []casefile.Reading
	if r.CleanLine != nil {
		var err error
		if rows, err = WalkRows(*r.CleanLine); err != nil {
			return nil, err
		}
		for i := range rows {
			if r.NewGauge {
				rows[i].TankPsi = nil
			}
		}
	}
	c, err := judge.Calibrate(doc, rows, &settings)
	if err != nil {
		return nil, fmt.Errorf("the pad of %s: %w", r.Pool.Name(), err)
	}
	m := &Pad{Calibrated: c}
	s.models.Add(k, m)
	return m, nil
}
