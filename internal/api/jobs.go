package api

import (
	"context"
	"net/http"

	"fairlap/internal/app/access"
	"fairlap/internal/queue"
	"fairlap/internal/store"
)

// jobRoutes show the owner what the servers do beside.
func (a *API) jobRoutes() {
	owner := []access.Role{access.Owner}
	signedIn(a, op(http.MethodGet, "/api/v1/jobs", "list-jobs", "What is done beside, newest first"), owner,
		func(ctx context.Context, _ access.Actor, _ *nothing) (*body[[]queue.Job], error) {
			if a.jobs == nil {
				return answer([]queue.Job{}, nil)
			}
			return answer(a.jobs.List(ctx))
		})
	signedIn(a, op(http.MethodPost, "/api/v1/jobs/{id}/again", "job-again", "Try a job that failed at once"), owner,
		func(ctx context.Context, _ access.Actor, in *struct {
			ID int64 `path:"id" minimum:"1"`
		}) (*nothing, error) {
			if a.jobs == nil {
				return nil, a.problem(ctx, store.ErrNotFound)
			}
			return nil, a.jobs.Again(ctx, in.ID)
		})
}
