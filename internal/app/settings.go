package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// CleaningSettings are a company's choices on when to clean, with their version.
type CleaningSettings struct {
	upkeep.Settings
	Version int `json:"version" minimum:"1"`
}

// Settings are the company's choices; whoever works by them may read them.
func (s *Service) Settings(ctx context.Context) (CleaningSettings, error) {
	row, err := s.store.Company(ctx)
	if err != nil {
		return CleaningSettings{}, fmt.Errorf("reading the company: %w", err)
	}
	return settingsOf(row)
}

func settingsOf(row store.Company) (CleaningSettings, error) {
	out := CleaningSettings{upkeep.Defaults(), row.Version}
	if err := json.Unmarshal(row.Settings, &out.Settings); err != nil {
		return out, fmt.Errorf("the company's settings: %w", err)
	}
	return out, nil
}

// SaveSettings keeps the company's choices. When somebody else changed them
// meanwhile, the error is store.ErrVersion and they come as they now stand.
func (s *Service) SaveSettings(ctx context.Context, a Actor, in CleaningSettings) (CleaningSettings, error) {
	if a.Role == Technician {
		return CleaningSettings{}, ErrForbidden
	}
	var errs FieldErrors
	within := func(field string, v, low, high float64, says string) {
		if !(v >= low && v <= high) {
			errs = append(errs, FieldError{field, says})
		}
	}
	within("limitRisePsi", in.LimitRisePsi, 2, 20, "A rise between 2 and 20 psi.")
	within("fixedPsi", in.FixedPsi, 8, 40, "A gauge reading between 8 and 40 psi.")
	within("cleanAbove", in.CleanAbove, 0.05, 0.95, "A chance between 5 and 95 %.")
	within("holdHours", in.HoldHours, 0, 96, "Between 0 and 96 hours.")
	for i, d := range in.NoDischarge {
		if _, err := time.Parse(time.DateOnly, d); err != nil {
			errs = append(errs, FieldError{fmt.Sprintf("noDischarge[%d]", i), "Type each day like 2026-11-24."})
		}
	}
	if len(errs) > 0 {
		return CleaningSettings{}, errs
	}
	slices.Sort(in.NoDischarge)
	in.NoDischarge = slices.Compact(in.NoDischarge)
	text, err := json.Marshal(in.Settings)
	if err != nil {
		return CleaningSettings{}, fmt.Errorf("writing the settings: %w", err)
	}
	row, err := s.store.SaveSettings(ctx, in.Version, text)
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return CleaningSettings{}, err
	}
	out, bad := settingsOf(row)
	return out, errors.Join(err, bad)
}
