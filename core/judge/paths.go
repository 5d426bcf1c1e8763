package judge

import (
	"fmt"
	"math"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// ReachView is one stretch of the water's way.
type ReachView struct {
	ID      string  `json:"id"`
	Name    string  `json:"name"`
	Kind    string  `json:"kind"`
	Side    string  `json:"side" enum:"suction,return,"`
	Body    string  `json:"body" enum:"pool,spa,air," doc:"where a line begins or ends"`
	GPM     float64 `json:"gpm" doc:"below zero it runs backwards"`
	FtPerS  float64 `json:"ftPerS"`
	Opening float64 `json:"opening"`
	FromFt  float64 `json:"fromFt" doc:"head at its beginning, against the pool's surface"`
	ToFt    float64 `json:"toFt"`
}

// HazardView is a danger in words.
type HazardView struct {
	ID   string        `json:"id"`
	Mark string        `json:"mark" enum:"stop,act,open"`
	What words.Message `json:"what"`
	Text words.Message `json:"says"`
}

// PathsView is where the water goes, what the gauges would read, and what that
// endangers.
type PathsView struct {
	RPM             float64       `json:"rpm"`
	Setting         string        `json:"setting"`
	SettingPath     words.Message `json:"settingPath"`
	Load            float64       `json:"load"`
	Condition       string        `json:"condition" enum:"flowing,still,dead-head,dry,no-path"`
	FlowGPM         float64       `json:"flowGpm"`
	FlowSD          float64       `json:"flowSd" doc:"one standard deviation, from the calibration alone"`
	TankPsi         float64       `json:"tankPsi"`
	TankSD          float64       `json:"tankSd"`
	RestPsi         float64       `json:"restPsi" doc:"the tank gauge at rest: standing water alone, 0 for a gauge above it"`
	VacuumInHg      float64       `json:"vacuumInHg"`
	PowerW          float64       `json:"powerW"`
	NPSHAvailableFt float64       `json:"npshAvailableFt"`
	NPSHRequiredFt  float64       `json:"npshRequiredFt" doc:"0 is not known"`
	SpaGainGPM      float64       `json:"spaGainGpm"`
	ToWasteGPM      float64       `json:"toWasteGpm"`
	MinutesToEmpty  float64       `json:"minutesToEmpty" doc:"of a draining spa; 0 when it does not drain"`
	MinutesToSpill  float64       `json:"minutesToSpill"`
	Reaches         []ReachView   `json:"reaches" nullable:"false"`
	Hazards         []HazardView  `json:"hazards" nullable:"false"`
}

// ViewPaths solves an operation on a model and puts it into trade units.
func ViewPaths(m *plumbing.Model, op pad.Operation, load float64) (PathsView, error) {
	p, err := m.Paths(op, load)
	if err != nil {
		return PathsView{}, err
	}
	set := op.Setting
	if set == "" {
		set = pad.SetFilter
	}
	rest, err := m.Solver().Solve(pad.Operation{Handles: op.Handles}, plumbing.Effects{Load: load})
	if err != nil {
		return PathsView{}, fmt.Errorf("the pad at rest: %w", err)
	}
	found := op
	found.Speed = p.Speed
	wide, err := m.Spread(found, load)
	if err != nil {
		return PathsView{}, fmt.Errorf("the uncertainty: %w", err)
	}
	st := p.State
	v := PathsView{
		RPM:             float64(p.Speed),
		Setting:         string(set),
		SettingPath:     set.Path(),
		Load:            load,
		Condition:       string(st.Condition),
		FlowGPM:         st.Flow.GPM(),
		FlowSD:          units.Flow(wide[2]).GPM(),
		TankPsi:         st.Tank.PSI(),
		TankSD:          units.Pressure(wide[0]).PSI(),
		RestPsi:         math.Max(0, rest.Tank.PSI()),
		VacuumInHg:      st.Vacuum.InHg(),
		PowerW:          float64(st.Power),
		NPSHAvailableFt: st.NPSHAvailable.Feet(),
		NPSHRequiredFt:  st.NPSHRequired.Feet(),
		SpaGainGPM:      st.SpaGain.GPM(),
		ToWasteGPM:      st.ToWaste.GPM(),
		MinutesToEmpty:  p.MinutesToEmpty,
		MinutesToSpill:  p.MinutesToSpill,
		Reaches:         make([]ReachView, 0, len(p.Reaches)),
		Hazards:         make([]HazardView, 0, len(p.Hazards)),
	}
	for _, r := range p.Reaches {
		v.Reaches = append(
			v.Reaches,
			ReachView{
				ID:      r.ID,
				Name:    r.Name,
				Kind:    r.Kind,
				Side:    string(r.Side),
				Body:    string(r.Body),
				GPM:     r.Flow.GPM(),
				FtPerS:  units.Length(r.Speed).Feet(),
				Opening: r.Opening,
				FromFt:  r.From.Feet(),
				ToFt:    r.To.Feet(),
			},
		)
	}
	for _, h := range p.Hazards {
		v.Hazards = append(v.Hazards, HazardView{ID: h.ID, Mark: string(h.Mark), What: h.What, Text: h.Text})
	}
	return v, nil
}
