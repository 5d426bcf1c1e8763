package app

import (
	"context"
	"errors"
	"fmt"
	"math"
	"time"

	"github.com/google/uuid"

	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
)

// PathsAsk is a pad state to try before the hand moves.
type PathsAsk struct {
	RPM     float64            `json:"rpm" minimum:"0" maximum:"4000" doc:"0 is off"`
	Setting string             `json:"setting" enum:"filter,backwash,rinse,waste,recirculate,closed,winter"`
	Handles map[string]float64 `json:"handles" doc:"valve positions that differ from the description's: degrees for a three-way valve, 0 to 1 for the others"`
	Load    *float64           `json:"load,omitempty" minimum:"0" maximum:"5" doc:"the filter's load; left out, the one expected today"`
}

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
func ViewPaths(m *pad.Model, op pad.Operation, load float64) (PathsView, error) {
	p, err := m.Paths(op, load)
	if err != nil {
		return PathsView{}, err
	}
	set := op.Setting
	if set == "" {
		set = pad.SetFilter
	}
	rest, err := m.Solver().Solve(pad.Operation{Handles: op.Handles}, pad.Effects{Load: load})
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
	v := PathsView{RPM: float64(p.Speed), Setting: string(set), SettingPath: set.Path(), Load: load, Condition: string(st.Condition),
		FlowGPM: st.Flow.GPM(), FlowSD: units.Flow(wide[2]).GPM(), TankPsi: st.Tank.PSI(), TankSD: units.Pressure(wide[0]).PSI(), RestPsi: math.Max(0, rest.Tank.PSI()),
		VacuumInHg: st.Vacuum.InHg(), PowerW: float64(st.Power), NPSHAvailableFt: st.NPSHAvailable.Feet(), NPSHRequiredFt: st.NPSHRequired.Feet(),
		SpaGainGPM: st.SpaGain.GPM(), ToWasteGPM: st.ToWaste.GPM(), MinutesToEmpty: p.MinutesToEmpty, MinutesToSpill: p.MinutesToSpill,
		Reaches: make([]ReachView, 0, len(p.Reaches)), Hazards: make([]HazardView, 0, len(p.Hazards))}
	for _, r := range p.Reaches {
		v.Reaches = append(v.Reaches, ReachView{r.ID, r.Name, r.Kind, string(r.Side), string(r.Body), r.Flow.GPM(), units.Length(r.Speed).Feet(), r.Opening, r.From.Feet(), r.To.Feet()})
	}
	for _, h := range p.Hazards {
		v.Hazards = append(v.Hazards, HazardView{h.ID, string(h.Mark), h.What, h.Text})
	}
	return v, nil
}

// Paths tries a pad state on a pool as it is calibrated.
func (s *Service) Paths(ctx context.Context, a Actor, id uuid.UUID, ask PathsAsk) (PathsView, error) {
	if _, err := s.seePool(ctx, a, id); err != nil {
		return PathsView{}, err
	}
	cm, _, c, err := s.padOf(ctx, id)
	if err != nil {
		return PathsView{}, err
	}
	load := 0.0
	if ask.Load != nil {
		load = *ask.Load
	} else {
		now := s.now()
		visits, err := s.store.VisitsOf(ctx, []uuid.UUID{id}, now.AddDate(-1, 0, 0))
		if err != nil {
			return PathsView{}, fmt.Errorf("reading the visits: %w", err)
		}
		if h := s.historyOf(c, visits[id], time.Time{}, cm, now.In(c.zone)); h.HadForecast {
			load = math.Max(0, h.State.Load)
		}
	}
	v, err := ViewPaths(cm.Model, pad.Operation{Speed: units.Speed(ask.RPM), Setting: pad.Setting(ask.Setting), Handles: ask.Handles}, load)
	var field *pad.FieldError
	if errors.As(err, &field) {
		return v, FieldErrors{{field.Path, field.Text}}
	}
	if err != nil {
		return v, fmt.Errorf("solving the pad: %w", unsolved(err))
	}
	return v, nil
}

// LimitView is one limit of a pad with its figures.
type LimitView struct {
	ID     string        `json:"id"`
	Job    string        `json:"job" enum:"filter,backwash"`
	Name   words.Message `json:"name"`
	Bound  string        `json:"bound" enum:"most,least"`
	Value  float64       `json:"value"`
	Unit   string        `json:"unit"`
	Reason words.Message `json:"reason"`
	Source words.Message `json:"source"`
	Advice bool          `json:"advice" doc:"good practice; false: over it something breaks"`
	At     []LimitAtView `json:"at" nullable:"false"`
	// SpeedBound is the side of rpm that keeps it.
	SpeedBound string   `json:"speedBound" enum:"most,least,"`
	RPM        *float64 `json:"rpm" doc:"the most or least speed that keeps it; absent when no speed does or none matters"`
}

// LimitAtView is a limit's figure at one speed.
type LimitAtView struct {
	RPM   float64 `json:"rpm"`
	Value float64 `json:"value"`
	OK    bool    `json:"ok"`
}

// WindowView is the span of speeds that keeps a job's limits.
type WindowView struct {
	Job         string          `json:"job" enum:"filter,backwash"`
	Low         float64         `json:"low"`
	Top         float64         `json:"top"`
	Empty       bool            `json:"empty"`
	Collide     []words.Message `json:"collide" nullable:"false" doc:"names of the two limits that leave no speed"`
	StrictLow   float64         `json:"strictLow"`
	StrictTop   float64         `json:"strictTop"`
	StrictEmpty bool            `json:"strictEmpty"`
}

// LimitsView is a pad's limits at its programmed speeds.
type LimitsView struct {
	Speeds  []float64    `json:"speeds" nullable:"false"`
	Limits  []LimitView  `json:"limits" nullable:"false"`
	Windows []WindowView `json:"windows" nullable:"false"`
}

func viewLimits(m *pad.Model, pool units.Volume) (LimitsView, error) {
	rep, err := m.Limits(pool)
	if err != nil {
		return LimitsView{}, fmt.Errorf("weighing the limits: %w", unsolved(err))
	}
	v := LimitsView{Speeds: []float64{}, Limits: []LimitView{}, Windows: []WindowView{}}
	for _, s := range rep.Speeds {
		v.Speeds = append(v.Speeds, float64(s))
	}
	names := map[pad.LimitID]words.Message{}
	for _, l := range rep.Limits {
		names[l.ID] = l.Name
		lv := LimitView{ID: string(l.ID), Job: string(l.Job), Name: l.Name, Bound: string(l.Bound), Value: l.Value, Unit: l.Unit, Reason: l.Reason, Source: l.Source, Advice: l.Advice, SpeedBound: string(l.SpeedBound), At: []LimitAtView{}}
		for _, at := range l.At {
			lv.At = append(lv.At, LimitAtView{float64(at.Speed), at.Value, at.OK})
		}
		if rpm := float64(l.Speed); rpm > 0 && !math.IsInf(rpm, 0) {
			lv.RPM = &rpm
		}
		v.Limits = append(v.Limits, lv)
	}
	finite := func(s units.Speed) float64 { return math.Min(float64(s), 9999) }
	for _, w := range rep.Windows {
		wv := WindowView{Job: string(w.Job), Low: finite(w.Low), Top: finite(w.Top), Empty: w.Empty, Collide: []words.Message{}, StrictLow: finite(w.StrictLow), StrictTop: finite(w.StrictTop), StrictEmpty: w.StrictEmpty}
		if w.Empty {
			for _, id := range w.Collide {
				if id != "" {
					wv.Collide = append(wv.Collide, names[id])
				}
			}
		}
		v.Windows = append(v.Windows, wv)
	}
	return v, nil
}

// Limits weighs a pool's limits.
func (s *Service) Limits(ctx context.Context, a Actor, id uuid.UUID) (LimitsView, error) {
	p, err := s.seePool(ctx, a, id)
	if err != nil {
		return LimitsView{}, err
	}
	cm, _, _, err := s.padOf(ctx, id)
	if err != nil {
		return LimitsView{}, err
	}
	return viewLimits(cm.Model, units.Volume(p.VolumeM3))
}
