package api

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/internal/app"
	"fairlap/internal/store"
)

// Sentences that stand for what a reader can't mend.
const (
	databaseAway   = "The record can't be reached right now. What you typed is kept on this device; try again in a moment."
	somethingBroke = "Something broke on our side. What you typed is kept on this device."
	pleaseSignIn   = "Sign in first."
)

// A refused body must not hand a password back: validation errors carry values.
func init() {
	base := huma.NewError
	huma.NewError = func(status int, msg string, errs ...error) huma.StatusError {
		for _, e := range errs {
			if d, ok := e.(*huma.ErrorDetail); ok && strings.Contains(d.Location, "password") {
				d.Value = nil
			}
		}
		switch {
		case status == http.StatusRequestEntityTooLarge:
			msg = "This is more than is taken at once. Pictures may have 12 MB, spreadsheets 64 MB."
		case status == http.StatusBadRequest && msg == "request body is required":
			msg = "This is empty."
		}
		return base(status, msg, errs...)
	}
}

// problem turns any error into an RFC 9457 answer. It is the only place that
// does; errors that nobody foresaw are logged and say nothing of themselves.
func (a *API) problem(ctx context.Context, err error) error {
	var fields app.FieldErrors
	var known huma.StatusError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &fields):
		details := make([]error, len(fields))
		for i, f := range fields {
			details[i] = &huma.ErrorDetail{Location: f.Field, Message: f.Says}
		}
		return huma.Error422UnprocessableEntity("Some of what was typed needs another look.", details...)
	case errors.Is(err, app.ErrUnsolved):
		return huma.Error422UnprocessableEntity("This pad can't be computed as it is described. " + err.Error())
	case errors.Is(err, app.ErrForbidden):
		return huma.Error403Forbidden("This is not yours to see or change.")
	case errors.Is(err, app.ErrSignIn):
		return huma.Error401Unauthorized("The login or the password is wrong.")
	case errors.Is(err, store.ErrNotFound), errors.Is(err, app.ErrNoDemo):
		return huma.Error404NotFound("There is no such thing on record.")
	case errors.Is(err, store.ErrVersion):
		return huma.Error409Conflict("Someone else changed this since you read it.")
	case errors.Is(err, store.ErrDifferent):
		return huma.Error409Conflict("This id already stands for another record.")
	case errors.As(err, &known):
		return err
	}
	a.log.ErrorContext(ctx, "request failed", "error", err)
	probe, cancel := context.WithTimeout(context.WithoutCancel(ctx), time.Second)
	defer cancel()
	if a.service.Ready(probe) != nil {
		return huma.Error503ServiceUnavailable(databaseAway)
	}
	return huma.Error500InternalServerError(somethingBroke)
}

// writeProblem answers outside Huma in the same form.
func writeProblem(w http.ResponseWriter, status int, says string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: says})
}
