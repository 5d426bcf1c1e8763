package api

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"fairlap/internal/app"
)

// movedOn is said to whoever comes too late with a step.
const movedOn = "api.this-run-has-moved-on"

func (a *API) runRoutes() {
	signedIn(a, op(http.MethodGet, "/api/pools/{id}/work", "get-work", "The procedures that suit a pool's pad, and its runs"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Stop string `query:"stop" format:"uuid" doc:"runs of this stop only"`
		}) (*body[app.PoolWork], error) {
			var stop *uuid.UUID
			if id, err := uuid.Parse(in.Stop); err == nil {
				stop = &id
			}
			return answer(a.service.Work(ctx, who, in.ID, stop))
		})
	signedIn(a, op(http.MethodPost, "/api/pools/{id}/runs", "start-run", "Start a guided run, once"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body app.NewRun
		}) (*body[app.RunView], error) {
			return answer(a.service.StartRun(ctx, who, in.ID, in.Body))
		})
	signedIn(a, op(http.MethodGet, "/api/runs/{id}", "get-run", "A guided run as it stands"), everyone,
		func(ctx context.Context, who app.Actor, in *ByID) (*body[app.RunView], error) {
			return answer(a.service.RunByID(ctx, who, in.ID))
		})
	signedIn(a, op(http.MethodPost, "/api/runs/{id}/events", "append-run", "Say what was done in a run, in order; each event is taken once"), everyone,
		func(ctx context.Context, who app.Actor, in *struct {
			ByID
			Body struct {
				Events []app.RunEvent `json:"events" minItems:"1" maxItems:"200" nullable:"false"`
			}
		}) (*body[app.RunView], error) {
			run, err := a.service.AppendRun(ctx, who, in.ID, in.Body.Events)
			if errors.Is(err, app.ErrMovedOn) {
				return nil, huma.Error409Conflict(movedOn, &huma.ErrorDetail{Location: "body.events", Message: movedOn, Value: run})
			}
			return answer(run, err)
		})
}
