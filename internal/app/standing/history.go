package standing

import (
	"fmt"
	"time"

	"fairlap/core/diagnosis"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// WattsOf are the power readings of visits over what the model has at the same
// speed and load. Readings under a settled fault say nothing of wear.
func WattsOf(visits []store.Visit, cm *Pad) ([]upkeep.WattsPoint, error) {
	solver := cm.Model.Solver()
	var out []upkeep.WattsPoint
	for _, v := range visits {
		load := cm.load(&v, v.LoadMean, v.LoadSD)
		if !load.Tells() || (v.Confirmed != "" && v.Confirmed != NothingFound) {
			continue
		}
		for _, r := range v.Readings {
			if r.PowerW == nil || r.SpeedRPM <= 0 || r.Phase != "found" || r.Setting != string(pad.SetFilter) {
				continue
			}
			st, err := solver.Solve(pad.Operation{Speed: units.Speed(r.SpeedRPM)}, plumbing.Effects{Load: load.Mean})
			if err != nil {
				return nil, fmt.Errorf("solving at %v rpm: %w", r.SpeedRPM, judge.Unsolved(err))
			}
			out = append(out, upkeep.WattsPoint{At: v.ArrivedAt, Ratio: *r.PowerW / float64(st.Power)})
		}
	}
	return out, nil
}

// HistoryOf follows a pool's visits (oldest first) up to a time; dosed is when
// chemicals last went in by a guided run, which may not be logged yet.
func (s *Keeper) HistoryOf(
	c company.Company,
	visits []store.Visit,
	dosed time.Time,
	m *Pad,
	now time.Time,
) upkeep.History {
	h := upkeep.Follow(m.seen(visits), m.Model.Doc.Filter.Kind, s.exposure(c, m.KGalPerDay, m.Model.LoadScale()), now)
	dose(&h, dosed)
	m.silent(&h)
	return h
}

// silent takes away what would be told of a pad that nobody has described: its cleanings are known, its
// load is not.
func (m *Pad) silent(h *upkeep.History) {
	if m.Model.Doc.Presumed {
		h.HadForecast, h.Points = false, nil
	}
}

// settle follows all of a pool's visits and leaves its filter as they do.
func (s *Keeper) settle(c company.Company, visits []store.Visit, dosed time.Time, m *Pad) (upkeep.History, error) {
	h := upkeep.Settle(m.seen(visits), m.Model.Doc.Filter.Kind, s.exposure(c, m.KGalPerDay, m.Model.LoadScale()))
	dose(&h, dosed)
	m.silent(&h)
	var err error
	h.Watts, err = WattsOf(visits, m)
	return h, err
}

// dose is chemicals that went in by a guided run.
func dose(h *upkeep.History, at time.Time) {
	if !at.IsZero() && (h.Chemicals == nil || at.After(*h.Chemicals)) {
		h.Chemicals = &at
	}
}

// exposure is the water that a pool's filter passes, in loads of a scale.
func (s *Keeper) exposure(c company.Company, kgalPerDay, scale float64) *upkeep.Exposure {
	return &upkeep.Exposure{
		KGalPerDay: kgalPerDay,
		Scale:      scale,
		Zone:       c.Zone,
		South:      c.Settings.South,
		Sky:        s.World.Sky,
		Idle:       c.Settings.Idle(),
	}
}

// seen are visits as the pad is judged now.
func (m *Pad) seen(visits []store.Visit) []upkeep.Visit {
	out := make([]upkeep.Visit, len(visits))
	for i, v := range visits {
		out[i] = upkeep.Visit{Arrived: v.ArrivedAt, Closed: v.ClosedAt, Cleaned: v.Cleaned, Chemicals: v.ChemicalsAt,
			Load: m.load(&v, v.LoadMean, v.LoadSD), After: m.load(&v, v.AfterMean, v.AfterSD)}
		if v.PrimeS != nil {
			out[i].Prime = *v.PrimeS
		}
		if v.DrainS != nil {
			out[i].Drain = *v.DrainS
		}
	}
	return out
}

// load is a visit's load in the loads of the pad as it is judged now.
func (m *Pad) load(v *store.Visit, mean, sd *float64) *upkeep.Belief {
	b := BeliefOf(mean, sd)
	if b == nil || m.Model.LoadUnit() <= 0 {
		return b
	}
	scale := m.Model.LoadScale()
	if v.LoadUnit != nil {
		scale = *v.LoadUnit / m.Model.LoadUnit()
	}
	return &upkeep.Belief{Mean: b.Mean * scale, SD: b.SD * scale}
}

// Observed is what a visit's readings of a phase say of the load on a pad as it is judged now; nil
// where they say nothing.
func Observed(m *Pad, v *store.Visit, phase string) (*upkeep.Belief, error) {
	var rows []diagnosis.Reading
	for _, r := range v.Readings {
		if r.Phase != phase || r.SpeedRPM <= 0 || r.TankPa == nil && r.FlowM3s == nil && r.PowerW == nil {
			continue
		}
		set := pad.Setting(r.Setting)
		if set == "" {
			set = pad.SetFilter
		}
		rows = append(rows, diagnosis.Reading{Setting: set, Reading: pad.Reading{
			Speed:  units.Speed(r.SpeedRPM),
			Tank:   judge.As(r.TankPa, asPressure),
			Vacuum: judge.As(r.VacuumPa, asPressure),
			Flow:   judge.As(r.FlowM3s, asFlow),
			Power:  judge.As(r.PowerW, asPower),
		}})
	}
	if len(rows) == 0 {
		return nil, nil
	}
	b, err := diagnosis.Observe(m.Model, rows)
	if err != nil {
		return nil, fmt.Errorf("judging a visit again: %w", err)
	}
	return &b, nil
}

func asPressure(v float64) units.Pressure { return units.Pressure(v) }
func asFlow(v float64) units.Flow         { return units.Flow(v) }
func asPower(v float64) units.Power       { return units.Power(v) }

// Unit keeps with a visit what its loads are counted in.
func (m *Pad) Unit(v *store.Visit) {
	if u := m.Model.LoadUnit(); u > 0 {
		v.LoadUnit = &u
	}
}

// BeliefOf is a stored load; nil where there is none.
func BeliefOf(mean, sd *float64) *upkeep.Belief {
	if mean == nil || sd == nil {
		return nil
	}
	return &upkeep.Belief{Mean: *mean, SD: *sd}
}
