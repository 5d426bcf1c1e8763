package api

import (
	"context"
	"net/http"

	"fairlap/core/speedplan"
	"fairlap/internal/app/access"
	"fairlap/internal/app/padwork"
)

// planSpeedRoutes are how long, how fast and when a pool's pump runs.
func (a *API) speedPlanRoutes() {
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/pools/{id}/plan",
			"get-speed-plan",
			"The cheapest day of a pool's pump beside its present one",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[padwork.PlanView], error) {
			return answer(a.service.Pads.SpeedPlan(ctx, who, in.ID))
		},
	)
	type try struct {
		ByID
		Body padwork.PlanTry
	}
	signedIn(
		a,
		described(
			op(
				http.MethodPost,
				"/api/v1/pools/{id}/plan/try",
				"try-speed-plan",
				"Plan for other needs without keeping them",
			),
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *try) (*body[padwork.PlanView], error) {
			return answer(a.service.Pads.TryPlan(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		described(
			op(
				http.MethodPost,
				"/api/v1/pools/{id}/plan/slots",
				"try-slots",
				"What edited slots come to, and what they break",
			),
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *try) (*body[padwork.Programme], error) {
			return answer(a.service.Pads.TrySlots(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		described(
			op(
				http.MethodPut,
				"/api/v1/pools/{id}/plan/needs",
				"save-needs",
				"Keep what a pool's day must meet; none: the usual",
			),
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Needs   *speedplan.Needs `json:"needs,omitempty"`
				Version int              `json:"version"`
			}
		}) (*body[padwork.PlanView], error) {
			v, err := a.service.Pads.SaveNeeds(ctx, who, in.ID, in.Body.Version, in.Body.Needs)
			return changed(v, err, "api.someone-else-changed-this-pool")
		},
	)
	signedIn(
		a,
		described(
			op(http.MethodPut, "/api/v1/pools/{id}/plan/programme", "set-programme", "Record what the pump runs now"),
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Slots []padwork.PlanSlotEdit `json:"slots" maxItems:"8" nullable:"false"`
			}
		}) (*body[padwork.PlanView], error) {
			return answer(a.service.Pads.SetProgramme(ctx, who, in.ID, in.Body.Slots))
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/pools/{id}/plan/season",
			"get-plan-season",
			"What the plan should become month by month",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[[]padwork.SeasonMonth], error) {
			return answer(a.service.Pads.PlanSeason(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/pools/{id}/plan/schools",
			"get-plan-schools",
			"The schools of running a pump side by side",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[[]padwork.SchoolRow], error) {
			return answer(a.service.Pads.PlanSchools(ctx, who, in.ID))
		},
	)
	signedIn(a, op(http.MethodPost, "/api/v1/tariffs/read", "read-tariff", "Read a tariff's file"), everyone,
		func(_ context.Context, _ access.Actor, in *textFile) (*body[speedplan.Tariff], error) {
			return answer(a.service.Pads.ReadTariffFile(in.Body.Text))
		})
}
