package api

import (
	"context"
	"net/http"

	"fairlap/core/speedplan"
	"fairlap/internal/app"
)

// planSpeedRoutes are how long, how fast and when a pool's pump runs.
func (a *API) speedPlanRoutes() {
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/plan", "get-speed-plan", "The cheapest day of a pool's pump beside its present one"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[app.PlanView], error) {
			return answer(a.service.SpeedPlan(ctx, who, in.ID))
		})
	type try struct {
		ByID
		Body app.PlanTry
	}
	signedIn(a, described(op(http.MethodPost, "/api/pools/{id}/plan/try", "try-speed-plan", "Plan for other needs without keeping them")), everyone,
		func(ctx context.Context, who app.Actor, in *try) (*body[app.PlanView], error) {
			return answer(a.service.TryPlan(ctx, who, in.ID, in.Body))
		})
	signedIn(a, described(op(http.MethodPost, "/api/pools/{id}/plan/slots", "try-slots", "What edited slots come to, and what they break")), everyone,
		func(ctx context.Context, who app.Actor, in *try) (*body[app.Programme], error) {
			return answer(a.service.TrySlots(ctx, who, in.ID, in.Body))
		})
	signedIn(a, described(op(http.MethodPut, "/api/pools/{id}/plan/needs", "save-needs", "Keep what a pool's day must meet; none: the usual")), deskAndUp,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body struct {
				Needs   *speedplan.Needs `json:"needs,omitempty"`
				Version int              `json:"version"`
			}
		}) (*body[app.PlanView], error) {
			v, err := a.service.SaveNeeds(ctx, who, in.ID, in.Body.Version, in.Body.Needs)
			return changed(v, err, "api.someone-else-changed-this-pool")
		})
	signedIn(a, described(op(http.MethodPut, "/api/pools/{id}/plan/programme", "set-programme", "Record what the pump runs now")), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body struct {
				Slots []app.PlanSlotEdit `json:"slots" maxItems:"8" nullable:"false"`
			}
		}) (*body[app.PlanView], error) {
			return answer(a.service.SetProgramme(ctx, who, in.ID, in.Body.Slots))
		})
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/plan/season", "get-plan-season", "What the plan should become month by month"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[[]app.SeasonMonth], error) {
			return answer(a.service.PlanSeason(ctx, who, in.ID))
		})
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/plan/schools", "get-plan-schools", "The schools of running a pump side by side"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[[]app.SchoolRow], error) {
			return answer(a.service.PlanSchools(ctx, who, in.ID))
		})
	signedIn(a, op(http.MethodPost, "/api/tariffs/read", "read-tariff", "Read a tariff's file"), everyone,
		func(_ context.Context, _ app.Actor, in *textFile) (*body[speedplan.Tariff], error) {
			return answer(a.service.ReadTariffFile(in.Body.Text))
		})
}
