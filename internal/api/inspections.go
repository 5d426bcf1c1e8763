package api

import (
	"context"
	"net/http"

	"fairlap/internal/app/access"
	"fairlap/internal/app/inspect"
)

// inspectionRoutes are readings of an installation: begun, kept as they go, closed.
func (a *API) inspectionRoutes() {
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/pools/{id}/inspections", "list-inspections", "A pool's inspections, newest first"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[[]inspect.InspectionLine], error) {
			return answer(a.service.Inspect.Inspections(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/inspections",
			"start-inspection",
			"Begin one, or take up the one left open",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body inspect.NewInspection
		}) (*body[inspect.InspectionView], error) {
			return answer(a.service.Inspect.StartInspection(ctx, who, in.ID, in.Body))
		},
	)
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/inspections/{id}", "get-inspection", "An inspection as it stands"),
		everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[inspect.InspectionView], error) {
			return answer(a.service.Inspect.Inspection(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		described(
			op(http.MethodPut, "/api/v1/inspections/{id}", "save-inspection", "Keep its answers; close it for good"),
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body inspect.InspectionEdit
		}) (*body[inspect.InspectionView], error) {
			v, err := a.service.Inspect.SaveInspection(ctx, who, in.ID, in.Body)
			return changed(v, err, "api.this-inspection-was-closed-or")
		},
	)
}
