package main

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.opentelemetry.io/otel"
)

// Traces go where they are asked to go, under our name, and an address that is none is refused
// in a sentence.
func TestTracesGoWhereTheyAreAskedTo(t *testing.T) {
	var got atomic.Int64
	var body atomic.Value
	to := httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		text, _ := io.ReadAll(r.Body)
		body.Store(string(text))
		got.Add(1)
	}))
	defer to.Close()
	end, err := traced(to.URL + "/v1/traces")
	require.NoError(t, err)
	_, span := otel.Tracer("test").Start(context.Background(), "a visit")
	span.End()
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	require.NoError(t, end(ctx))
	assert.Positive(t, got.Load())
	text, _ := body.Load().(string)
	assert.True(t, strings.Contains(text, "fairlap") && strings.Contains(text, "a visit"))
}
