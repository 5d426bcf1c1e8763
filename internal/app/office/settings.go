package office

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/procedure"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Settings are the company's choices; whoever works by them may read them.
func (s *Service) Settings(ctx context.Context) (company.CleaningSettings, error) {
	row, err := s.keeper.Store.Company(ctx)
	if err != nil {
		return company.CleaningSettings{}, fmt.Errorf("reading the company: %w", err)
	}
	return company.SettingsOf(row)
}

// SaveSettings keeps the company's choices. When somebody else changed them
// meanwhile, the error is store.ErrVersion and they come as they now stand.
func (s *Service) SaveSettings(
	ctx context.Context,
	a access.Actor,
	in company.CleaningSettings,
) (company.CleaningSettings, error) {
	if a.Role == access.Technician {
		return company.CleaningSettings{}, access.ErrForbidden
	}
	errs := checkChoices(in.Settings)
	if !(in.HoldHours >= 0 && in.HoldHours <= 96) {
		errs.Add("holdHours", "app.between-0-and-96-hours")
	}
	for id, days := range in.ServiceDays {
		if !upkeep.IsService(id) || !(days >= 1 && days <= 3660) {
			errs.Add("serviceDays."+id, "app.between-1-and-3-660")
		}
	}
	for kind, l := range in.PartLives {
		if !upkeep.IsPartKind(kind) || !(l.Years >= 0.1 && l.Years <= 50) || !(l.KGal >= 0 && l.KGal <= 1e6) {
			errs.Add("partLives."+kind, "app.between-0-1-and-50")
		}
	}
	errs = append(errs, company.CheckSeason("", in.SeasonOpens, in.SeasonCloses)...)
	for i, d := range in.NoDischarge {
		if _, err := time.Parse(time.DateOnly, d); err != nil {
			errs.Add(fmt.Sprintf("noDischarge[%d]", i), "app.type-each-day-like-2026")
		}
	}
	if len(errs) > 0 {
		return company.CleaningSettings{}, errs
	}
	slices.Sort(in.NoDischarge)
	in.NoDischarge = slices.Compact(in.NoDischarge)
	if in.ServiceDays == nil {
		in.ServiceDays = map[string]float64{}
	}
	if in.PartLives == nil {
		in.PartLives = map[string]upkeep.Life{}
	}
	text, err := json.Marshal(struct {
		upkeep.Settings
		Ways procedure.Ways `json:"ways"`
	}{in.Settings, in.Ways})
	if err != nil {
		return company.CleaningSettings{}, fmt.Errorf("writing the settings: %w", err)
	}
	var row store.Company
	err = s.keeper.Audited(
		ctx,
		a,
		"cleaning",
		nil,
		"app.changed-when-the-company-cleans",
		func(st *store.Store) (err error) {
			row, err = st.SaveSettings(ctx, in.Version, text)
			return err
		},
	)
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return company.CleaningSettings{}, err
	}
	out, bad := company.SettingsOf(row)
	return out, errors.Join(err, bad)
}

// checkChoices checks what a company and a single pool may choose.
func checkChoices(in upkeep.Settings) figure.FieldErrors {
	var errs figure.FieldErrors
	within := func(field string, v, low, high float64, text words.Message) {
		if !(v >= low && v <= high) {
			errs.Add(field, text)
		}
	}
	within("limitRisePsi", in.LimitRisePsi, 2, 20, "app.a-rise-between-2-and")
	within("differentialPsi", in.DifferentialPsi, 5, 30, "app.a-differential-between-5-and")
	within("sharePercent", in.SharePercent, 5, 100, "app.a-share-between-5-and")
	within("fixedPsi", in.FixedPsi, 8, 40, "app.a-gauge-reading-between-8")
	within("flowLossPercent", in.FlowLossPercent, 0, 80, "app.a-share-of-the-flow")
	within("cleanAbove", in.CleanAbove, 0.05, 0.95, "app.a-chance-between-5-and")
	within("worthDays", in.WorthDays, 0, 14, "app.between-0-and-14-days")
	return errs
}

// PoolCleaning is one pool's own choices on when to clean; what is absent is the
// company's.
type PoolCleaning struct {
	School          *upkeep.School `json:"school,omitempty" enum:"rise,differential,share,fixed,calendar"`
	LimitRisePsi    *float64       `json:"limitRisePsi,omitempty"`
	FixedPsi        *float64       `json:"fixedPsi,omitempty"`
	DifferentialPsi *float64       `json:"differentialPsi,omitempty"`
	SharePercent    *float64       `json:"sharePercent,omitempty"`
	FlowLossPercent *float64       `json:"flowLossPercent,omitempty"`
	CleanAbove      *float64       `json:"cleanAbove,omitempty"`
}

// PoolCleaningView is a pool's choices beside the company's.
type PoolCleaningView struct {
	Own     PoolCleaning    `json:"own"`
	Company upkeep.Settings `json:"company"`
	Version int             `json:"version" doc:"of the pool"`
}

// CleaningOf tells a pool's own choices on when to clean.
func (s *Service) CleaningOf(ctx context.Context, a access.Actor, id uuid.UUID) (PoolCleaningView, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return PoolCleaningView{}, err
	}
	return s.cleaningView(ctx, &p)
}

func (s *Service) cleaningView(ctx context.Context, p *store.Pool) (PoolCleaningView, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PoolCleaningView{}, err
	}
	out := PoolCleaningView{Company: c.Settings, Version: p.Version}
	if err := json.Unmarshal(p.Cleaning, &out.Own); err != nil {
		return out, fmt.Errorf("the cleaning choices of %s: %w", p.Name(), err)
	}
	return out, nil
}

// SaveCleaningOf keeps a pool's own choices. When somebody else changed the pool
// meanwhile, the error is store.ErrVersion and the choices come as they now stand.
func (s *Service) SaveCleaningOf(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	version int,
	in PoolCleaning,
) (PoolCleaningView, error) {
	if a.Role == access.Technician {
		return PoolCleaningView{}, access.ErrForbidden
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PoolCleaningView{}, err
	}
	was, err := s.keeper.Store.PoolByID(ctx, id)
	if err != nil {
		return PoolCleaningView{}, fmt.Errorf("finding the pool: %w", err)
	}
	kept := struct {
		PoolCleaning
		company.Season // set with the pool's facts
	}{PoolCleaning: in}
	if err := json.Unmarshal(was.Cleaning, &kept.Season); err != nil {
		return PoolCleaningView{}, fmt.Errorf("the choices of %s: %w", was.Name(), err)
	}
	text, err := json.Marshal(kept)
	if err != nil {
		return PoolCleaningView{}, fmt.Errorf("writing the choices: %w", err)
	}
	merged := c.Settings
	if err := json.Unmarshal(text, &merged); err != nil {
		return PoolCleaningView{}, fmt.Errorf("reading the choices back: %w", err)
	}
	if errs := checkChoices(merged); len(errs) > 0 {
		return PoolCleaningView{}, errs
	}
	var p store.Pool
	err = s.keeper.Audited(ctx, a, "cleaning", &id, "app.changed-when-this-pool-is", func(st *store.Store) (err error) {
		p, err = st.ChangePool(ctx, id, version, map[string]any{"cleaning": text})
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return PoolCleaningView{}, fmt.Errorf("keeping the choices: %w", err)
	}
	out, bad := s.cleaningView(ctx, &p)
	return out, errors.Join(err, bad)
}

// SetPartLife changes how many years one part is expected to last; nil is what its
// kind lasts.
func (s *Service) SetPartLife(ctx context.Context, a access.Actor, part uuid.UUID, years *float64) error {
	if a.Role == access.Technician {
		return access.ErrForbidden
	}
	if years != nil && !(*years >= 0.1 && *years <= 50) {
		return figure.Wrong("years", "app.between-0-1-and-50-2")
	}
	if err := s.keeper.Audited(ctx, a, "cleaning", nil, "app.changed-how-long-a-part",
		func(st *store.Store) error { return st.SetPartLife(ctx, part, years) }); err != nil {
		return fmt.Errorf("changing the part's life: %w", err)
	}
	return nil
}

// ServiceLives are the recurring services and the kinds of parts with what a company
// expects of them unless it says otherwise.
type ServiceLives struct {
	Services []ServiceInterval `json:"services" nullable:"false"`
	Parts    []PartLife        `json:"parts" nullable:"false"`
	Visit    []words.Message   `json:"visit" nullable:"false" doc:"what every visit looks at"`
}

// ServiceInterval is a service and its usual interval.
type ServiceInterval struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	Days float64       `json:"days"`
}

// PartLife is a kind of part and its usual life.
type PartLife struct {
	Kind  string        `json:"kind"`
	Name  words.Message `json:"name"`
	Years float64       `json:"years"`
}

// Lives lists the defaults.
func Lives() ServiceLives {
	out := ServiceLives{Services: []ServiceInterval{}, Parts: []PartLife{}, Visit: upkeep.EachVisit}
	for _, s := range upkeep.Services {
		if !s.Season {
			out.Services = append(out.Services, ServiceInterval{ID: string(s.ID), Name: s.Name, Days: s.Days})
		}
	}
	for _, p := range upkeep.PartLives {
		out.Parts = append(out.Parts, PartLife{Kind: p.Kind, Name: upkeep.PartName(p.Kind), Years: p.Years})
	}
	return out
}
