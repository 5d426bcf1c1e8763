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

// usualWater is assumed where nobody measured: the handbook's figures are for it.
var usualWater = units.Fahrenheit(80)

// modelKey is what a calibrated model depends on.
type modelKey struct {
	plumbing, cleanLine uuid.UUID
	limit               string // in words
	newGauge            bool   // the clean line's tank readings are another gauge's
}

type cachedModel struct {
	model      *pad.Model
	clean      []casefile.Reading // that it was calibrated on
	limitPsi   float64            // rise at full speed that is load 1
	kgalPerDay float64
	shortfalls []pad.Shortfall

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
		var clean []pad.Reading
		for _, x := range rows {
			clean = append(clean, x.Meters())
		}
		m, err := calibrate(doc, clean, &settings)
		if err != nil {
			return nil, fmt.Errorf("calibrating the pad of %s: %w", r.Pool.Name(), err)
		}
		perDay, err := m.FilteredPerDay()
		if err != nil {
			return nil, fmt.Errorf("daily volume of %s: %w", r.Pool.Name(), err)
		}
		short, err := m.Shortfalls(0.3)
		if err != nil {
			return nil, fmt.Errorf("device flows of %s: %w", r.Pool.Name(), err)
		}
		return &cachedModel{model: m, clean: rows, limitPsi: m.LimitRise.PSI(), kgalPerDay: perDay.Gallons() / 1000, shortfalls: short}, nil
	})
}

// calibrate fits a pad to its clean line, with its limit as the company has it.
func calibrate(doc pad.Document, clean []pad.Reading, settings *upkeep.Settings) (*pad.Model, error) {
	var top units.Pressure // what the fitted pad itself reads clean
	if settings.School == upkeep.Share {
		m, err := pad.Calibrate(doc, clean, usualWater, units.PSI(settings.LimitRisePsi))
		if err != nil {
			return nil, unsolved(err)
		}
		st, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed()}, pad.Effects{})
		if err != nil {
			return nil, unsolved(err)
		}
		top = st.Tank
	}
	m, err := pad.Calibrate(doc, clean, usualWater, units.PSI(settings.LimitRise(top).PSI())) // as a case file gives it
	if err != nil {
		return nil, unsolved(err)
	}
	if m, err = m.Within(settings.FlowLoss()); err != nil {
		return nil, unsolved(err)
	}
	return m, nil
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
	exposure := upkeep.Exposure{KGalPerDay: m.kgalPerDay, Scale: m.model.LoadScale(), Zone: c.zone, South: c.settings.South, Sky: s.world.Sky, Idle: c.settings.Idle()}
	h := upkeep.Follow(seen, m.model.Doc.Filter.Kind, &exposure, now)
	if !dosed.IsZero() && (h.Chemicals == nil || dosed.After(*h.Chemicals)) {
		h.Chemicals = &dosed
	}
	return h
}

// load is a visit's load in the loads of the pad as it is judged now.
func (m *cachedModel) load(v *store.Visit, mean, sd *float64) *upkeep.Belief {
	b := beliefOf(mean, sd)
	if b == nil || m.model.LoadUnit() <= 0 {
		return b
	}
	scale := m.model.LoadScale()
	if v.LoadUnit != nil {
		scale = *v.LoadUnit / m.model.LoadUnit()
	}
	return &upkeep.Belief{Mean: b.Mean * scale, SD: b.SD * scale}
}

// unit keeps with a visit what its loads are counted in.
func (m *cachedModel) unit(v *store.Visit) {
	if u := m.model.LoadUnit(); u > 0 {
		v.LoadUnit = &u
	}
}

func beliefOf(mean, sd *float64) *upkeep.Belief {
	if mean == nil || sd == nil {
		return nil
	}
	return &upkeep.Belief{Mean: *mean, SD: *sd}
}
