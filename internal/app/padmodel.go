package app

import (
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/pad"
	"fairlap/core/speedplan"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// modelKey is what a calibrated model depends on.
type modelKey struct {
	plumbing, cleanLine uuid.UUID
	limit               string // in words
	newGauge            bool   // the clean line's tank readings are another gauge's
}

type cachedModel struct {
	*Calibrated

	planOnce   sync.Mutex // a speed plan's ways to run, solved when first asked for
	planPad    *speedplan.Pad
	planVolume units.Volume
}

// modelCache keeps calibrated pads; plumbing revisions and clean lines never
// change, so entries never go stale. It is emptied when it outgrows a company.
type modelCache struct {
	mu sync.Mutex
	m  map[modelKey]*cachedModel
}

const modelCacheSize = 5000

func (c *modelCache) get(k modelKey, build func() (*cachedModel, error)) (*cachedModel, error) {
	c.mu.Lock()
	got := c.m[k]
	c.mu.Unlock()
	if got != nil {
		return got, nil
	}
	got, err := build()
	if err != nil {
		return nil, err
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.m == nil || len(c.m) >= modelCacheSize {
		c.m = map[modelKey]*cachedModel{}
	}
	c.m[k] = got
	return got, nil
}

func as[F, T any](v *F, f func(F) T) *T {
	if v == nil {
		return nil
	}
	t := f(*v)
	return &t
}

// model gives a pool's calibrated pad.
func (s *Service) model(r *store.PoolRecord, settings upkeep.Settings) (*cachedModel, error) {
	k := modelKey{plumbing: r.Plumbing.ID, limit: fmt.Sprintf("%s %g", settings.LimitWords(), settings.FlowLossPercent)}
	if r.CleanLine != nil {
		k.cleanLine = r.CleanLine.ID
	}
	k.newGauge = r.NewGauge
	return s.models.get(k, func() (*cachedModel, error) {
		var doc pad.Document
		if err := json.Unmarshal(r.Plumbing.Document, &doc); err != nil {
			return nil, fmt.Errorf("reading the pad of %s: %w", r.Pool.Name(), err)
		}
		var rows []casefile.Reading
		if r.CleanLine != nil {
			var err error
			if rows, err = walkRows(*r.CleanLine); err != nil {
				return nil, err
			}
			for i := range rows {
				if r.NewGauge {
					rows[i].TankPsi = nil
				}
			}
		}
		c, err := Calibrate(doc, rows, &settings)
		if err != nil {
			return nil, fmt.Errorf("the pad of %s: %w", r.Pool.Name(), err)
		}
		return &cachedModel{Calibrated: c}, nil
	})
}

// historyOf follows a pool's visits (oldest first) up to a time; dosed is when
// chemicals last went in by a guided run, which may not be logged yet.
func (s *Service) historyOf(c company, visits []store.Visit, dosed time.Time, m *cachedModel, now time.Time) upkeep.History {
	seen := make([]upkeep.Visit, len(visits))
	for i, v := range visits {
		seen[i] = upkeep.Visit{Arrived: v.ArrivedAt, Closed: v.ClosedAt, Cleaned: v.Cleaned, Chemicals: v.ChemicalsAt,
			Load: m.load(&v, v.LoadMean, v.LoadSD), After: m.load(&v, v.AfterMean, v.AfterSD)}
		if v.PrimeS != nil {
			seen[i].Prime = *v.PrimeS
		}
		if v.DrainS != nil {
			seen[i].Drain = *v.DrainS
		}
	}
	exposure := upkeep.Exposure{KGalPerDay: m.KGalPerDay, Scale: m.Model.LoadScale(), Zone: c.zone, South: c.settings.South, Sky: s.world.Sky, Idle: c.settings.Idle()}
	h := upkeep.Follow(seen, m.Model.Doc.Filter.Kind, &exposure, now)
	if !dosed.IsZero() && (h.Chemicals == nil || dosed.After(*h.Chemicals)) {
		h.Chemicals = &dosed
	}
	return h
}

// load is a visit's load in the loads of the pad as it is judged now.
func (m *cachedModel) load(v *store.Visit, mean, sd *float64) *upkeep.Belief {
	b := beliefOf(mean, sd)
	if b == nil || m.Model.LoadUnit() <= 0 {
		return b
	}
	scale := m.Model.LoadScale()
	if v.LoadUnit != nil {
		scale = *v.LoadUnit / m.Model.LoadUnit()
	}
	return &upkeep.Belief{Mean: b.Mean * scale, SD: b.SD * scale}
}

// unit keeps with a visit what its loads are counted in.
func (m *cachedModel) unit(v *store.Visit) {
	if u := m.Model.LoadUnit(); u > 0 {
		v.LoadUnit = &u
	}
}

func beliefOf(mean, sd *float64) *upkeep.Belief {
	if mean == nil || sd == nil {
		return nil
	}
	return &upkeep.Belief{Mean: *mean, SD: *sd}
}
