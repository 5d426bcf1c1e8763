package api

import (
	"context"
	"net/http"

	"github.com/google/uuid"

	"fairlap/internal/app/access"
	"fairlap/internal/app/office"
)

// Secret is the end of a one-time address.
type Secret struct {
	Secret string `path:"secret" minLength:"20" maxLength:"100"`
}

// Agent is what a browser says of itself.
type Agent struct {
	Agent string `header:"User-Agent" maxLength:"400" required:"false"`
}

// signInRoutes are where somebody is signed in, the second step, and links that invite.
func (a *API) signInRoutes() {
	signedIn(a, op(http.MethodGet, "/api/v1/me/sign-ins", "list-sign-ins", "Where you are signed in"), everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[[]office.SignInRow], error) {
			return answer(a.service.Office.SignIns(ctx, who, a.signInOf(ctx)))
		})
	signedIn(a, op(http.MethodDelete, "/api/v1/me/sign-ins/{id}", "end-sign-in", "End one of your sign-ins"), everyone,
		func(ctx context.Context, who access.Actor, in *ByID) (*nothing, error) {
			return nil, a.service.Office.EndSignIn(ctx, who, in.ID)
		})
	signedIn(
		a,
		op(http.MethodGet, "/api/v1/me/second-step", "get-second-step", "Whether your sign-in asks for a code"),
		everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[hasStep], error) {
			on, err := a.service.Office.HasSecondStep(ctx, who)
			return answer(hasStep{on}, err)
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/me/second-step",
			"new-second-step",
			"Make a key for your authenticator; nothing holds yet",
		),
		everyone,
		func(ctx context.Context, who access.Actor, _ *nothing) (*body[office.SecondStep], error) {
			return answer(a.service.Office.NewSecondStep(ctx, who))
		},
	)
	signedIn(
		a,
		op(
			http.MethodPut,
			"/api/v1/me/second-step",
			"set-second-step",
			"Have your sign-in ask for codes of a key, or with an empty one no more",
		),
		everyone,
		func(ctx context.Context, who access.Actor, in *struct {
			Remote
			Body struct {
				Password string `json:"password" maxLength:"200"`
				Key      string `json:"key" maxLength:"100"`
				Code     string `json:"code" maxLength:"12"`
			}
		}) (*nothing, error) {
			if err := a.try(ctx, "me:"+who.ID.String(), in.address); err != nil {
				return nil, err
			}
			return nil, a.service.Office.SetSecondStep(ctx, who, in.Body.Password, in.Body.Key, in.Body.Code)
		},
	)
	signedIn(
		a,
		op(
			http.MethodPost,
			"/api/v1/people/{id}/invitation",
			"invite-person",
			"A one-time link by which somebody chooses their password",
		),
		deskAndUp,
		func(ctx context.Context, who access.Actor, in *ByID) (*body[office.Invitation], error) {
			return answer(a.service.Office.Invite(ctx, who, in.ID))
		},
	)
	open(a, op(http.MethodGet, "/api/v1/invitations/{secret}", "get-invitation", "Whom a one-time link is for"),
		func(ctx context.Context, in *Secret) (*body[office.Invited], error) {
			return answer(a.service.Office.Invitation(ctx, in.Secret))
		})
	open(
		a,
		op(
			http.MethodPost,
			"/api/v1/invitations/{secret}",
			"accept-invitation",
			"Choose a password by a one-time link, and sign in",
		),
		func(ctx context.Context, in *struct {
			Secret
			Agent
			Body struct {
				Password string `json:"password" maxLength:"200"`
			}
		}) (*body[office.Me], error) {
			actor, err := a.service.Office.Accept(ctx, in.Secret.Secret, in.Body.Password)
			if err != nil {
				return nil, err
			}
			if err := a.begin(ctx, actor, in.Agent.Agent); err != nil {
				return nil, err
			}
			return answer(a.service.Office.Me(ctx, actor))
		},
	)
}

type hasStep struct {
	On bool `json:"on"`
}

// signInOf is the sign-in of a session; nil for one of before they were written down.
func (a *API) signInOf(ctx context.Context) uuid.UUID {
	id, _ := uuid.Parse(a.sessions.GetString(ctx, sessionSignIn))
	return id
}
