package trace

import (
	"context"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.opentelemetry.io/otel/attribute"
	"go.opentelemetry.io/otel/codes"
	about "go.opentelemetry.io/otel/sdk/resource"
	sdk "go.opentelemetry.io/otel/sdk/trace"
	"go.opentelemetry.io/otel/trace"
	official "go.opentelemetry.io/proto/otlp/trace/v1"
	"google.golang.org/protobuf/encoding/protojson"
)

// What is sent is read back with the protocol's own messages (opentelemetry-proto, trace/v1), strictly: a field that
// they don't know fails.
func TestSpansAreTheProtocols(t *testing.T) {
	var got []byte
	answers := []int{http.StatusServiceUnavailable, http.StatusOK}
	to := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		got, _ = io.ReadAll(r.Body)
		assert.Equal(t, "application/json", r.Header.Get("Content-Type"))
		w.WriteHeader(answers[0])
		answers = answers[1:]
	}))
	defer to.Close()
	out, err := New(to.URL + "/v1/traces")
	require.NoError(t, err)
	p := sdk.NewTracerProvider(
		sdk.WithSyncer(out),
		sdk.WithResource(about.NewSchemaless(attribute.String("service.name", "fairlap"))),
	)
	began := time.Date(2026, 12, 31, 23, 59, 59, 123456789, time.UTC)
	tracer := p.Tracer("yard", trace.WithInstrumentationVersion("7"))
	remote := trace.NewSpanContext(
		trace.SpanContextConfig{TraceID: trace.TraceID{1}, SpanID: trace.SpanID{2}, TraceFlags: trace.FlagsSampled},
	)
	ctx := trace.ContextWithSpanContext(context.Background(), remote)
	_, s := tracer.Start(
		ctx,
		"a visit",
		trace.WithTimestamp(began),
		trace.WithSpanKind(trace.SpanKindServer),
		trace.WithLinks(trace.Link{SpanContext: remote}),
		trace.WithAttributes(
			attribute.Int64("rows", 1<<60),
			attribute.Bool("late", true),
			attribute.Float64("psi", 14.5),
			attribute.StringSlice("seen", []string{"drip", "hum"}),
			attribute.Int64Slice("at", []int64{1, 2}),
		),
	)
	s.RecordError(errors.New("no room"), trace.WithTimestamp(began))
	s.SetStatus(codes.Error, "the disk is full")
	s.End(trace.WithTimestamp(began.Add(time.Second)))
	require.NoError(t, p.Shutdown(context.Background()))

	var read official.TracesData
	require.NoError(t, protojson.Unmarshal(got, &read), string(got))
	require.Len(t, read.ResourceSpans, 1)
	assert.Equal(t, "fairlap", read.ResourceSpans[0].Resource.Attributes[0].Value.GetStringValue())
	scope := read.ResourceSpans[0].ScopeSpans[0]
	assert.Equal(t, []string{"yard", "7"}, []string{scope.Scope.Name, scope.Scope.Version})
	is := scope.Spans[0]
	assert.Equal(t, "a visit", is.Name)
	assert.Equal(t, official.Span_SPAN_KIND_SERVER, is.Kind)
	assert.Equal(t, uint64(began.UnixNano()), is.StartTimeUnixNano)
	assert.Equal(t, uint64(time.Second), is.EndTimeUnixNano-is.StartTimeUnixNano)
	assert.Equal(t, official.Status_STATUS_CODE_ERROR, is.Status.Code)
	assert.Equal(t, "the disk is full", is.Status.Message)
	assert.Equal(t, "exception", is.Events[0].Name)
	assert.Len(t, is.Links, 1)
	values := map[string]any{}
	for _, a := range is.Attributes {
		switch {
		case a.Value.GetArrayValue() != nil:
			values[a.Key] = len(a.Value.GetArrayValue().Values)
		case a.Value.GetIntValue() != 0:
			values[a.Key] = a.Value.GetIntValue()
		case a.Value.GetDoubleValue() != 0:
			values[a.Key] = a.Value.GetDoubleValue()
		case a.Value.GetBoolValue():
			values[a.Key] = true
		default:
			values[a.Key] = a.Value.GetStringValue()
		}
	}
	assert.Equal(t, map[string]any{"rows": int64(1 << 60), "late": true, "psi": 14.5, "seen": 2, "at": "[1,2]"}, values)
	assert.Empty(t, answers, "a busy collector is asked again")
}

func TestWhatIsNoAddressOrNoCollectorIsSaid(t *testing.T) {
	for _, bad := range []string{"", "127.0.0.1:4318", "ftp://here/v1", "http://"} {
		_, err := New(bad)
		assert.Error(t, err, bad)
	}
	to := httptest.NewServer(http.NotFoundHandler())
	defer to.Close()
	out, err := New(to.URL)
	require.NoError(t, err)
	p := sdk.NewTracerProvider()
	_, s := p.Tracer("").Start(context.Background(), "x")
	err = out.ExportSpans(context.Background(), []sdk.ReadOnlySpan{s.(sdk.ReadOnlySpan)})
	assert.ErrorContains(t, err, "404")
	assert.NoError(t, out.ExportSpans(context.Background(), nil))
}
