package api

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"fairlap/core/guided"
	"fairlap/internal/app/access"
	"fairlap/internal/app/work"
)

// movedOn is said to whoever comes too late with a step.
const movedOn = "api.this-run-has-moved-on"

func (a *API) runRoutes() {
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/pools/{id}/work",
			"get-work",
			"The procedures that suit a pool's pad, and its runs",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Stop string `query:"stop" format:"uuid" doc:"runs of this stop only"`
		}) (*body[work.PoolWork], error) {
			var stop *uuid.UUID
			if id, err := uuid.Parse(in.Stop); err == nil {
				stop = &id
			}
			return answer(a.service.Work.Work(ctx, who, in.ID, stop))
		},
	)
	signedIn(a, op(http.MethodGet, "/api/v1/runs", "list-runs", "Guided runs of the pools you may see, newest first"),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Pages
			Find string `query:"find" maxLength:"120" doc:"words that are in what the pool or the work is called"`
		}) (*body[access.Page[work.RunLine]], error) {
			return answer(a.service.Work.Runs(ctx, who, in.Find, in.window()))
		})
	signedIn(a, op(http.MethodPost, "/api/v1/pools/{id}/runs", "start-run", "Start a guided run, once"), everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body work.NewRun
		}) (*body[guided.RunView], error) {
			return answer(a.service.Work.StartRun(ctx, who, in.ID, in.Body))
		})
	signedIn(a, op(http.MethodGet, "/api/v1/runs/{id}", "get-run", "A guided run as it stands"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[guided.RunView], error) {
			return answer(a.service.Work.RunByID(ctx, who, in.ID))
		})
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/runs/{id}/events",
			"append-run",
			"Say what was done in a run, in order; each event is taken once",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Events []work.RunEvent `json:"events" minItems:"1" maxItems:"200" nullable:"false"`
			}
		}) (*body[guided.RunView], error) {
			run, err := a.service.Work.AppendRun(ctx, who, in.ID, in.Body.Events)
			if errors.Is(err, work.ErrMovedOn) {
				return nil, huma.Error409Conflict(
					movedOn,
					&huma.ErrorDetail{Location: "body.events", Message: movedOn, Value: run},
				)
			}
			return answer(run, err)
		},
	)
}
