package api

import (
	"context"
	"net/http"

	"github.com/google/uuid"

	"fairlap/core/practice"
	"fairlap/internal/app/access"
	"fairlap/internal/app/learn"
)

// practiceRoutes are made-up pads: worked by anybody, asked for by the desk.
func (a *API) practiceRoutes() {
	s := a.service.Learn
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/practice/cases",
			"list-practice-cases",
			"The written practice cases, easiest first",
		),
		everyone,
		func(_ context.Context, _ access.Actor, _ *nothing) (*body[[]practice.CaseRow], error) {
			return answer(practice.Rows(), nil)
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/practice/work",
			"work-practice",
			"Work a practice case as far as the events go; nothing is kept",
		),
		everyone,
		func(_ context.Context, _ access.Actor, in *body[practice.Ask]) (*body[*practice.Answer], error) {
			return answer(s.Work(in.Body))
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/practice",
			"get-practice",
			"Where you stand in practice, and what you were asked to work",
		),
		everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[learn.Standing], error) {
			return answer(s.Mine(ctx, who))
		},
	)
	signedIn(a, op(http.MethodDelete, "/api/v1/practice", "erase-practice", "Erase all that you practised"), everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*nothing, error) {
			return nil, s.Erase(ctx, who)
		})
	signedIn(
		a,
		op(
			http.MethodPut,
			"/api/v1/practice/attempts/{id}",
			"keep-practice",
			"Keep an attempt as far as it is; what was done in it is added to, never changed",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			ByID
			Body struct {
				Task *uuid.UUID   `json:"task,omitempty" format:"uuid"`
				Ask  practice.Ask `json:"ask"`
			}
		}) (*body[learn.AttemptRow], error) {
			return answer(s.Keep(ctx, who, in.ID, in.Body.Task, in.Body.Ask))
		},
	)
	signedIn(a, op(http.MethodPost, "/api/v1/practice/tasks", "ask-practice", "Ask people to work a case"), deskAndUp,
		func(ctx context.Context, who access.Actor, in *body[learn.Task]) (*nothing, error) {
			return nil, s.Ask(ctx, who, in.Body)
		})
	signedIn(
		a,
		op(http.MethodDelete, "/api/v1/practice/tasks/{id}", "drop-practice", "Take such a wish back"),
		deskAndUp,
		func(ctx context.Context, _ access.Actor, in *ByID) (*nothing, error) {
			return nil, s.Drop(ctx, in.ID)
		},
	)
	signedIn(
		a,
		op(
			http.MethodGet,
			"/api/v1/practice/people",
			"list-practice-people",
			"What your people tell apart; by name, no ranks",
		),
		deskAndUp,
		func(ctx context.Context, _ access.Actor, _ *nothing) (*body[[]learn.PersonRow], error) {
			return answer(s.Progress(ctx))
		},
	)
}
