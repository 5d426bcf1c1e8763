package api

import (
	"context"
	"errors"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/office"
	"fairlap/internal/clock"
)

const (
	sessionUser  = "user"
	sessionBegan = "began"
	// sessionSignIn is which sign-in a session is.
	sessionSignIn = "sign-in"
)

// madeBy is the header in which a device says whose what it sends is: nothing is recorded
// under the session of somebody else, who signed in on the same device meanwhile.
const madeBy = "Made-By"

// madeAt is the header in which it says when that was made, by the server's clock as far as the
// device knows it.
const madeAt = "Made-At"

// rolesKey is where an operation of the contract keeps its roles.
const rolesKey = "roles"

// Roles that a route may ask for.
var (
	everyone  = []access.Role{access.Technician, access.Office, access.Owner}
	deskAndUp = []access.Role{access.Office, access.Owner}
)

// signedIn registers a route that needs a session with one of the roles. Whose
// data may be seen is decided in app; which role may call at all, here, before any of the
// body is read.
func signedIn[I, O any](
	a *API,
	op huma.Operation,
	roles []access.Role,
	handle func(context.Context, access.Actor, *I) (*O, error),
) {
	op.Metadata = map[string]any{rolesKey: roles}
	op.Security = []map[string][]string{{sessionScheme: {}}}
	op.Errors = append(op.Errors, http.StatusUnauthorized, http.StatusForbidden)
	declare(&op)
	op.Middlewares = append(op.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		actor, err := a.actor(ctx.Context())
		if made := ctx.Header(madeBy); err == nil && made != "" && made != actor.ID.String() {
			err = huma.Error401Unauthorized(someoneElse)
		}
		if err == nil {
			actor.Made, err = a.made(ctx.Header(madeAt))
		}
		if err == nil && !slices.Contains(roles, actor.Role) {
			err = access.ErrForbidden
		}
		if err == nil {
			next(huma.WithValue(ctx, actorKey{}, actor))
			if sentIn[op.OperationID] {
				a.metrics.TakenIn(op.OperationID, ctx.Status() < http.StatusBadRequest, !actor.Made.IsZero())
			}
			return
		}
		a.refuse(ctx, err)
	})
	a.sized(&op)
	a.queued(&op)
	huma.Register(a.huma, op, func(ctx context.Context, in *I) (*O, error) {
		actor, _ := ctx.Value(actorKey{}).(access.Actor)
		out, err := handle(ctx, actor, in)
		return out, a.problem(ctx, err)
	})
}

// sentIn are the routes that a device sends what it kept to.
var sentIn = map[string]bool{
	"save-visit": true, "append-run": true, "start-run": true, "add-note": true, "add-photo": true, "mark-due": true, "move-visit": true,
	"change-part": true, "start-inspection": true, "save-inspection": true, "save-clean-line": true, "keep-practice": true,
}

// made reads when something was made. A device's clock may be far off: it is asked about then,
// not believed.
func (a *API) made(header string) (time.Time, error) {
	if header == "" {
		return time.Time{}, nil
	}
	at, err := time.Parse(time.RFC3339, header)
	if err != nil {
		return time.Time{}, figure.Wrong("madeAt", "api.refused.expects-time")
	}
	return at, access.Believable("madeAt", at, a.service.Company.Now())
}

// actorKey is where a request keeps who asks.
type actorKey struct{}

// refuse answers before a route's own handler.
func (a *API) refuse(ctx huma.Context, err error) {
	var known huma.StatusError
	if err = a.problem(ctx.Context(), err); !errors.As(err, &known) {
		known = huma.Error500InternalServerError(somethingBroke)
	}
	var details []error
	if model := (*huma.ErrorModel)(nil); errors.As(err, &model) {
		for _, d := range model.Errors {
			details = append(details, d)
		}
	}
	_ = huma.WriteErr(a.huma, ctx, known.GetStatus(), known.Error(), details...) // it has told what it could not write
}

// largestBody is far above any visit, and larger what some routes take besides.
const (
	largestBody   = 256 << 10
	largestPhoto  = 13 << 20 // a picture that was not made small on the device
	largestImport = 64 << 20 // a spreadsheet
)

var larger = map[string]int64{"add-photo": largestPhoto, "start-import": largestImport}

// slowestBody is how long a large body may take to arrive.
const slowestBody = 2 * time.Minute

// sized bounds a route's body: one that says it is larger is refused before any of it is
// read.
func (a *API) sized(op *huma.Operation) {
	op.MaxBodyBytes = largestBody
	if most, ok := larger[op.OperationID]; ok {
		op.MaxBodyBytes, op.BodyReadTimeout = most, slowestBody
	}
	most := op.MaxBodyBytes
	op.Middlewares = append(op.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		if size, err := strconv.ParseInt(ctx.Header("Content-Length"), 10, 64); err == nil && size > most {
			a.refuse(ctx, huma.NewError(http.StatusRequestEntityTooLarge, ""))
			return
		}
		next(ctx)
	})
}

// sessionScheme is the contract's name of the session's cookie.
const sessionScheme = "session"

// declare names what a route may answer besides what it is for, and which part of the
// work it belongs to.
func declare(op *huma.Operation) {
	op.Tags = []string{strings.Split(strings.TrimPrefix(strings.TrimPrefix(op.Path, "/api/"), "v1/"), "/")[0]}
	if strings.Contains(op.Path, "{") {
		op.Errors = append(op.Errors, http.StatusNotFound)
	}
	if op.Method != http.MethodGet {
		op.Errors = append(op.Errors, http.StatusConflict, http.StatusRequestEntityTooLarge)
	}
	op.Errors = append(op.Errors, http.StatusInternalServerError, http.StatusServiceUnavailable)
}

// open registers a route that needs no session.
func open[I, O any](a *API, op huma.Operation, handle func(context.Context, *I) (*O, error)) {
	declare(&op)
	a.sized(&op)
	huma.Register(a.huma, op, func(ctx context.Context, in *I) (*O, error) {
		out, err := handle(ctx, in)
		return out, a.problem(ctx, err)
	})
}

func (a *API) actor(ctx context.Context) (access.Actor, error) {
	id := a.sessions.GetString(ctx, sessionUser)
	if id == "" {
		return access.Actor{}, huma.Error401Unauthorized(pleaseSignIn)
	}
	actor, err := a.service.Company.ActorByID(ctx, id, time.UnixMicro(a.sessions.GetInt64(ctx, sessionBegan)))
	if err != nil {
		return actor, err
	}
	if in := a.signInOf(ctx); in != uuid.Nil {
		fresh, err := a.service.Office.StillSigned(ctx, in)
		if errors.Is(err, access.ErrSignIn) {
			return access.Actor{}, huma.Error401Unauthorized(pleaseSignIn)
		}
		if err != nil {
			return access.Actor{}, err
		}
		if fresh { // its life begins anew with use
			a.sessions.SetDeadline(ctx, clock.Now().Add(office.SignInLife))
		}
	}
	*readerOf(ctx) = reader{actor.Printer, true}
	return actor, nil
}

// begin starts a session for an actor under a new token, with the device that agent tells of.
func (a *API) begin(ctx context.Context, actor access.Actor, agent string) error {
	if err := a.sessions.RenewToken(ctx); err != nil {
		return err
	}
	in, err := a.service.Office.Signed(ctx, actor, agent)
	if err != nil {
		return err
	}
	a.sessions.Put(ctx, sessionSignIn, in.String())
	a.sessions.Put(ctx, sessionUser, actor.ID.String())
	a.sessions.Put(ctx, sessionBegan, a.service.Company.Now().UnixMicro())
	return nil
}

// try counts a try at a password; refused, it says how long to wait.
func (a *API) try(ctx context.Context, account, address string) error {
	err := a.service.Office.MayTry(ctx, account, address)
	var soon access.TooSoon
	if errors.As(err, &soon) {
		seconds := int(math.Ceil(soon.Wait.Seconds()))
		text := string(words.Of("api.too-many-tries", "wait", words.Q("s", float64(seconds))))
		return huma.ErrorWithHeaders(
			huma.Error429TooManyRequests(text),
			http.Header{"Retry-After": {strconv.Itoa(seconds)}},
		)
	}
	return err
}
