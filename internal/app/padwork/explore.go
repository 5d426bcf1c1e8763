package padwork

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/internal/app/access"
)

// PathsAsk is a pad state to try before the hand moves.
type PathsAsk struct {
	RPM     float64            `json:"rpm" minimum:"0" maximum:"4000" doc:"0 is off"`
	Setting string             `json:"setting" enum:"filter,backwash,rinse,waste,recirculate,closed,winter"`
	Handles map[string]float64 `json:"handles" doc:"valve positions that differ from the description's: degrees for a three-way valve, 0 to 1 for the others"`
	Load    *float64           `json:"load,omitempty" minimum:"0" maximum:"5" doc:"the filter's load; left out, the one expected today"`
}

// Paths tries a pad state on a pool as it is calibrated.
func (s *Service) Paths(ctx context.Context, a access.Actor, id uuid.UUID, ask PathsAsk) (judge.PathsView, error) {
	if _, err := s.keeper.SeePool(ctx, a, id); err != nil {
		return judge.PathsView{}, err
	}
	cm, _, c, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return judge.PathsView{}, err
	}
	load := 0.0
	if ask.Load != nil {
		load = *ask.Load
	} else {
		now := s.keeper.Now()
		visits, err := s.keeper.Store.Remembered(ctx, []uuid.UUID{id})
		if err != nil {
			return judge.PathsView{}, fmt.Errorf("reading the visits: %w", err)
		}
		if h := s.keeper.HistoryOf(c, visits[id], time.Time{}, cm, now.In(c.Zone)); h.HadForecast {
			load = h.State.Expected()
		}
	}
	v, err := judge.ViewPaths(
		cm.Model,
		pad.Operation{Speed: units.Speed(ask.RPM), Setting: pad.Setting(ask.Setting), Handles: ask.Handles},
		load,
	)
	var field *pad.FieldError
	if errors.As(err, &field) {
		return v, figure.Wrong(field.Path, field.Text)
	}
	if err != nil {
		return v, fmt.Errorf("solving the pad: %w", judge.Unsolved(err))
	}
	return v, nil
}

// Limits weighs a pool's limits.
func (s *Service) Limits(ctx context.Context, a access.Actor, id uuid.UUID) (judge.LimitsView, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return judge.LimitsView{}, err
	}
	cm, _, _, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return judge.LimitsView{}, err
	}
	return judge.ViewLimits(cm.Model, units.Volume(p.VolumeM3))
}
