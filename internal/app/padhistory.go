package app

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"

	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// usualWater is assumed where nobody measured: the handbook's figures are for it.
var usualWater = units.Fahrenheit(80)

// modelKey is what a calibrated model depends on.
type modelKey struct {
	plumbing, cleanLine uuid.UUID
	limitPsi            float64
}

type cachedModel struct {
	model      *pad.Model
	kgalPerDay float64
	shortfalls []pad.Shortfall
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

// StoredReading is a reading as the record keeps it, in trade units.
type StoredReading struct {
	Setting    string   `json:"setting,omitempty"`
	RPM        float64  `json:"rpm"`
	TankPsi    *float64 `json:"tankPsi,omitempty"`
	VacuumInHg *float64 `json:"vacuumInHg,omitempty"`
	FlowGPM    *float64 `json:"flowGpm,omitempty"`
	PowerW     *float64 `json:"powerW,omitempty"`
}

func as[F, T any](v *F, f func(F) T) *T {
	if v == nil {
		return nil
	}
	t := f(*v)
	return &t
}

func (r StoredReading) reading() pad.Reading {
	return pad.Reading{Speed: units.Speed(r.RPM), Tank: as(r.TankPsi, units.PSI), Vacuum: as(r.VacuumInHg, units.InHg),
		Flow: as(r.FlowGPM, units.GPM), Power: as(r.PowerW, func(w float64) units.Power { return units.Power(w) })}
}

// model gives a pool's calibrated pad.
func (s *Service) model(r *store.PoolRecord, settings upkeep.Settings) (*cachedModel, error) {
	k := modelKey{plumbing: r.Plumbing.ID, limitPsi: settings.LimitRisePsi}
	if r.CleanLine != nil {
		k.cleanLine = r.CleanLine.ID
	}
	return s.models.get(k, func() (*cachedModel, error) {
		var doc pad.Document
		if err := json.Unmarshal(r.Plumbing.Document, &doc); err != nil {
			return nil, fmt.Errorf("reading the pad of %s: %w", r.Pool.Street, err)
		}
		var clean []pad.Reading
		if r.CleanLine != nil {
			var stored []StoredReading
			if err := json.Unmarshal(r.CleanLine.Readings, &stored); err != nil {
				return nil, fmt.Errorf("reading the clean line of %s: %w", r.Pool.Street, err)
			}
			for _, sr := range stored {
				clean = append(clean, sr.reading())
			}
		}
		m, err := pad.Calibrate(doc, clean, usualWater, units.PSI(settings.LimitRisePsi))
		if err != nil {
			return nil, fmt.Errorf("calibrating the pad of %s: %w", r.Pool.Street, unsolved(err))
		}
		perDay, err := m.FilteredPerDay()
		if err != nil {
			return nil, fmt.Errorf("daily volume of %s: %w", r.Pool.Street, err)
		}
		short, err := m.Shortfalls(0.3)
		if err != nil {
			return nil, fmt.Errorf("device flows of %s: %w", r.Pool.Street, err)
		}
		return &cachedModel{m, perDay.Gallons() / 1000, short}, nil
	})
}

// vagueObservation is the deviation over which a load on record says nothing.
const vagueObservation = 0.6

// history is what a pool's visits say of its filter up to a time.
type history struct {
	state       upkeep.State
	hadForecast bool
	lastCleaned *time.Time
	cycles      []upkeep.Cycle
	cycleDays   []float64
	chemicals   *time.Time
	points      []LoadPoint
}

// LoadPoint is one load on the record.
type LoadPoint struct {
	At      time.Time `json:"at"`
	Load    float64   `json:"load"`
	SD      float64   `json:"sd"`
	Cleaned bool      `json:"cleaned" doc:"a cleaning ended here"`
	After   bool      `json:"after" doc:"read right after the cleaning"`
}

// historyAt runs a pool's visits (oldest first) up to a time.
func historyAt(visits []store.Visit, kind pad.FilterKind, kgalPerDay float64, now time.Time) history {
	h := history{}
	var present upkeep.Cycle
	start := upkeep.Unknown
	var from time.Time
	kgal := func(t time.Time) float64 { return math.Max(0, t.Sub(from).Hours()/24*kgalPerDay) }
	for _, v := range visits {
		if v.ClosedAt.After(now) {
			break
		}
		if from.IsZero() {
			from = v.ClosedAt
		}
		if v.ChemicalsAt != nil {
			h.chemicals = v.ChemicalsAt
		}
		if v.LoadMean != nil && *v.LoadSD < vagueObservation {
			present = append(present, upkeep.Observation{KGal: kgal(v.ClosedAt), Load: upkeep.Belief{Mean: *v.LoadMean, SD: *v.LoadSD}})
			h.points = append(h.points, LoadPoint{v.ArrivedAt, *v.LoadMean, *v.LoadSD, false, false})
		}
		if !v.Cleaned {
			continue
		}
		if h.lastCleaned != nil {
			h.cycles = append(h.cycles, present)
			h.cycleDays = append(h.cycleDays, v.ClosedAt.Sub(*h.lastCleaned).Hours()/24)
		}
		at := v.ClosedAt
		h.lastCleaned, from, present, start = &at, at, nil, upkeep.AfterCleaning
		if v.AfterMean != nil && *v.AfterSD < vagueObservation {
			present = upkeep.Cycle{{KGal: 0, Load: upkeep.Belief{Mean: *v.AfterMean, SD: *v.AfterSD}}}
			h.points = append(h.points, LoadPoint{at, *v.AfterMean, *v.AfterSD, true, true})
		} else {
			h.points = append(h.points, LoadPoint{at, upkeep.AfterCleaning.Mean, upkeep.AfterCleaning.SD, true, false})
		}
	}
	h.hadForecast = h.lastCleaned != nil || len(present) > 0
	x := 0.0
	if !from.IsZero() {
		x = kgal(now)
	}
	h.state = upkeep.Track(upkeep.GrowthPrior(kind, h.cycles), start, present, x)
	return h
}

func (h history) daysSince(now time.Time) float64 {
	if h.lastCleaned == nil {
		return -1
	}
	return now.Sub(*h.lastCleaned).Hours() / 24
}

// usualDays is the median length of the pool's past cycles; 0 when there were none.
func (h history) usualDays() float64 {
	n := len(h.cycleDays)
	if n == 0 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(h.cycleDays))
	return sorted[n/2]
}
