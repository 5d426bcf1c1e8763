package api

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/internal/app/access"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/record"
	"fairlap/internal/store"
)

func (a *API) equipmentRoutes() {
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/pools/{id}/parts",
			"change-part",
			"Put a part in, replace, repair or remove one; each change is kept",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body equipment.PartChange
		}) (*body[record.PoolRecordView], error) {
			err := a.service.Equipment.ChangePart(ctx, who, in.ID, in.Body)
			if errors.Is(err, store.ErrVersion) {
				return nil, huma.Error409Conflict("api.somebody-took-this-part-out")
			}
			if err != nil {
				return nil, err
			}
			return answer(a.service.Record.PoolView(ctx, who, in.ID))
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/parts",
			"list-parts",
			"The parts in place at all pools, the one whose life ends first first",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Pages
			Find  string `query:"find" maxLength:"120" doc:"words that are in the part or in what its pool is called"`
			Sort  string `query:"sort" enum:"due,-due,part,-part,pool,-pool,age,-age,cost,-cost" default:"due"`
			Since string `query:"since" format:"date" doc:"parts put in on this day or later"`
		}) (*body[equipment.PartsPage], error) {
			ask := equipment.PartsAsk{Find: in.Find, Sort: in.Sort, Window: in.window()}
			if day, err := time.Parse(time.DateOnly, in.Since); err == nil {
				ask.Since = day
			}
			return answer(a.service.Equipment.PartsAcross(ctx, who, ask))
		},
	)
}
