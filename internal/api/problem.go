package api

import (
	"context"
	"encoding/json"
	"errors"
	"fairlap/core/judge"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/exchange"
	"fairlap/internal/store"
)

// Sentences that stand for what a reader can't mend.
const (
	databaseAway   = "api.the-record-can-t-be"
	somethingBroke = "api.something-broke-on-our-side"
	pleaseSignIn   = "api.sign-in-first"
	someoneElse    = "api.somebody-else-is-here"
	tooMuch        = "api.too-much-at-once"
	codeAsked      = "api.type-the-code"
)

// A refused body must not hand a password back: validation errors carry values.
func init() {
	base := huma.NewError
	huma.NewError = func(status int, msg string, errs ...error) huma.StatusError {
		for _, e := range errs {
			if d, ok := errors.AsType[*huma.ErrorDetail](e); ok && strings.Contains(d.Location, "password") {
				d.Value = nil
			}
		}
		switch {
		case status == http.StatusRequestEntityTooLarge:
			msg = "api.this-is-more-than-is"
		case msg == "validation failed":
			msg = "api.some-of-what-was-typed"
		case status == http.StatusBadRequest && msg == "request body is required":
			msg = "api.this-is-empty"
		}
		err := base(status, msg, errs...)
		if m, ok := errors.AsType[*huma.ErrorModel](err); ok {
			m.Type = problemType(status, msg)
		}
		return err
	}
}

// problemTypes name what went wrong for a program that reads it; docs/formats.md lists
// them. Those of a sentence go before those of a status.
var (
	problemOf = map[string]string{
		"api.the-login-or-the-password":      "wrong-login",
		"api.this-request-came-from-another": "cross-site",
		"api.this-id-already-stands-for":     "id-in-use",
		"api.this-pad-can-t-be":              "unsolved-pad",
		movedOn:                              "run-moved-on",
		tooMuch:                              "busy",
		codeAsked:                            "code",
	}
	problemTypes = map[int]string{
		http.StatusUnauthorized:          "sign-in",
		http.StatusForbidden:             "forbidden",
		http.StatusNotFound:              "not-found",
		http.StatusMethodNotAllowed:      "method",
		http.StatusConflict:              "changed-meanwhile",
		http.StatusRequestEntityTooLarge: "too-large",
		http.StatusUnprocessableEntity:   "invalid",
		http.StatusTooManyRequests:       "too-many-tries",
		http.StatusServiceUnavailable:    "record-away",
		http.StatusInternalServerError:   "internal",
	}
)

func problemType(status int, detail string) string {
	key := words.Message(detail).Key()
	if name, ok := problemOf[key]; ok {
		return problemURN + name
	}
	if name, ok := problemTypes[status]; ok {
		return problemURN + name
	}
	return "about:blank"
}

// problemURN begins every type.
const problemURN = "urn:fairlap:problem:"

// problem turns any error into an RFC 9457 answer. It is the only place that
// does; errors that nobody foresaw are logged and say nothing of themselves.
func (a *API) problem(ctx context.Context, err error) error {
	var fields figure.FieldErrors
	var known huma.StatusError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &fields):
		details := make([]error, len(fields))
		for i, f := range fields {
			details[i] = &huma.ErrorDetail{Location: f.Field, Message: string(f.Text)}
		}
		return huma.Error422UnprocessableEntity("api.some-of-what-was-typed", details...)
	case errors.Is(err, judge.ErrUnsolved):
		return huma.Error422UnprocessableEntity(
			string(words.Of("api.this-pad-can-t-be", "why", words.Name(err.Error()))),
		)
	case errors.Is(err, access.ErrForbidden):
		return huma.Error403Forbidden("api.this-is-not-yours-to")
	case errors.Is(err, access.ErrCode):
		return huma.Error401Unauthorized(codeAsked)
	case errors.Is(err, access.ErrSignIn):
		return huma.Error401Unauthorized("api.the-login-or-the-password")
	case errors.Is(err, store.ErrNotFound), errors.Is(err, access.ErrNoDemo):
		return huma.Error404NotFound("api.there-is-no-such-thing")
	case errors.Is(err, store.ErrVersion):
		return huma.Error409Conflict("api.someone-else-changed-this-since")
	case errors.Is(err, exchange.ErrBusy):
		return huma.ErrorWithHeaders(huma.Error503ServiceUnavailable(tooMuch), http.Header{"Retry-After": {"60"}})
	case errors.Is(err, store.ErrDifferent):
		return huma.Error409Conflict("api.this-id-already-stands-for")
	case errors.As(err, &known):
		return err
	}
	a.log.ErrorContext(ctx, "request failed", "error", err)
	probe, cancel := context.WithTimeout(context.WithoutCancel(ctx), time.Second)
	defer cancel()
	if a.service.Company.Ready(probe) != nil {
		return huma.Error503ServiceUnavailable(databaseAway)
	}
	return huma.Error500InternalServerError(somethingBroke)
}

// writeProblem answers outside Huma in the same form.
func writeProblem(ctx context.Context, w http.ResponseWriter, status int, text words.Message) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).
		Encode(huma.ErrorModel{Type: problemType(status, string(text)), Instance: requestURN(ctx), Status: status,
			Title: http.StatusText(status), Detail: readerOf(ctx).Say(text)})
}
