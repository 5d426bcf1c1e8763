package api

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/internal/app"
	"fairlap/internal/store"
)

func (a *API) equipmentRoutes() {
	signedIn(a, op(http.MethodPost, "/api/pools/{id}/parts", "change-part", "Put a part in, replace, repair or remove one; each change is kept"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body app.PartChange
		}) (*body[app.PoolRecordView], error) {
			view, err := a.service.ChangePart(ctx, who, in.ID, in.Body)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.somebody-took-this-part-out")
			}
			return answer(view, err)
		})
	signedIn(a, op(http.MethodGet, "/api/parts", "list-parts", "The parts in place at all pools, the one whose life ends first first"), everyone,
		func(ctx context.Context, who app.Actor, _ *nothing) (*body[[]app.PartLine], error) {
			return answer(a.service.PartsAcross(ctx, who))
		})
}
