package api

import (
	"context"
	"log/slog"
	"net/http"

	"github.com/google/uuid"

	"fairlap/internal/clock"
)

type requestKey struct{}

// requestURN names the request in a problem, as the log does.
func requestURN(ctx context.Context) string {
	if id, ok := ctx.Value(requestKey{}).(string); ok {
		return "urn:uuid:" + id
	}
	return ""
}

// withRequest adds to every line of the log which request it is about.
type withRequest struct{ slog.Handler }

func (h withRequest) Handle(ctx context.Context, r slog.Record) error {
	if id, ok := ctx.Value(requestKey{}).(string); ok {
		r.AddAttrs(slog.String("request", id))
	}
	return h.Handler.Handle(ctx, r)
}

func (h withRequest) WithAttrs(attrs []slog.Attr) slog.Handler {
	return withRequest{h.Handler.WithAttrs(attrs)}
}

func (h withRequest) WithGroup(name string) slog.Handler {
	return withRequest{h.Handler.WithGroup(name)}
}

type statusWriter struct {
	http.ResponseWriter
	status int
}

// Unwrap lets deadlines reach the connection.
func (s *statusWriter) Unwrap() http.ResponseWriter { return s.ResponseWriter }

func (s *statusWriter) WriteHeader(code int) {
	s.status = code
	s.ResponseWriter.WriteHeader(code)
}

// logged names the request and writes down how it ended.
func (a *API) logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := uuid.NewString()
		w.Header().Set("X-Request-Id", id)
		r = r.WithContext(context.WithValue(r.Context(), requestKey{}, id))
		sw := &statusWriter{w, http.StatusOK}
		start := clock.Now()
		next.ServeHTTP(sw, r)
		if isAPI(r.URL.Path) {
			a.log.InfoContext(
				r.Context(),
				"answered",
				"method",
				r.Method,
				"path",
				loggedPath(r.URL.Path),
				"status",
				sw.status,
				"ms",
				float64(clock.Since(start).Microseconds())/1000,
			)
		}
	})
}
