// Package trace sends finished spans to a collector as OTLP/HTTP in JSON, the format of the OpenTelemetry protocol's
// specification 1.x ("JSON Protobuf Encoding": ids in hex, 64-bit numbers as text). The usual exporter brings gRPC
// with it, some sixty packages for one POST. It knows nothing of what the spans are about.
package trace

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"go.opentelemetry.io/otel/attribute"
	"go.opentelemetry.io/otel/codes"
	sdk "go.opentelemetry.io/otel/sdk/trace"
)

// Exporter sends spans to one address.
type Exporter struct {
	to     string
	client *http.Client
}

var _ sdk.SpanExporter = (*Exporter)(nil)

// patience is how long one sending may take, and tries how often a collector that is busy is asked.
const (
	patience = 10 * time.Second
	tries    = 3
)

// New makes an exporter for an address like http://127.0.0.1:4318/v1/traces. An address that is not one is an error.
func New(to string) (*Exporter, error) {
	u, err := url.Parse(to)
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" {
		return nil, fmt.Errorf("%q is not an address like http://127.0.0.1:4318/v1/traces", to)
	}
	return &Exporter{to: to, client: &http.Client{Timeout: patience}}, nil
}

// ExportSpans sends a batch. A collector that is busy is asked again, as the protocol wants it.
func (e *Exporter) ExportSpans(ctx context.Context, spans []sdk.ReadOnlySpan) error {
	if len(spans) == 0 {
		return nil
	}
	body, err := json.Marshal(request(spans))
	if err != nil {
		return fmt.Errorf("writing %d spans: %w", len(spans), err)
	}
	for try := 1; ; try++ {
		again, err := e.send(ctx, body)
		if err == nil || !again || try == tries {
			return err
		}
		select {
		case <-ctx.Done():
			return errors.Join(err, ctx.Err())
		case <-time.After(time.Duration(try) * time.Second):
		}
	}
}

// send posts a batch once; again tells whether another try may help.
func (e *Exporter) send(ctx context.Context, body []byte) (again bool, err error) {
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, e.to, bytes.NewReader(body))
	if err != nil {
		return false, fmt.Errorf("sending traces: %w", err)
	}
	r.Header.Set("Content-Type", "application/json")
	answer, err := e.client.Do(r)
	if err != nil {
		return true, fmt.Errorf("sending traces: %w", err)
	}
	defer answer.Body.Close()
	_, _ = io.Copy(io.Discard, io.LimitReader(answer.Body, 64<<10)) // so that the connection can serve again
	switch answer.StatusCode {
	case http.StatusTooManyRequests, http.StatusBadGateway, http.StatusServiceUnavailable, http.StatusGatewayTimeout:
		again = true
	}
	if answer.StatusCode >= http.StatusMultipleChoices {
		return again, fmt.Errorf("sending traces: the collector answered %s", answer.Status)
	}
	return false, nil
}

// Shutdown ends the exporter; nothing is kept here that would have to be sent.
func (e *Exporter) Shutdown(context.Context) error {
	e.client.CloseIdleConnections()
	return nil
}

// The messages of the protocol, as far as a span of ours fills them.
type (
	traces struct {
		ResourceSpans []resourceSpans `json:"resourceSpans"`
	}
	resourceSpans struct {
		Resource   resource     `json:"resource"`
		ScopeSpans []scopeSpans `json:"scopeSpans"`
		SchemaURL  string       `json:"schemaUrl,omitempty"`
	}
	resource struct {
		Attributes []keyValue `json:"attributes"`
	}
	scopeSpans struct {
		Scope scope  `json:"scope"`
		Spans []span `json:"spans"`
	}
	scope struct {
		Name    string `json:"name"`
		Version string `json:"version,omitempty"`
	}
	span struct {
		TraceID           string     `json:"traceId"`
		SpanID            string     `json:"spanId"`
		ParentSpanID      string     `json:"parentSpanId,omitempty"`
		TraceState        string     `json:"traceState,omitempty"`
		Name              string     `json:"name"`
		Kind              int        `json:"kind"`
		StartTimeUnixNano string     `json:"startTimeUnixNano"`
		EndTimeUnixNano   string     `json:"endTimeUnixNano"`
		Attributes        []keyValue `json:"attributes,omitempty"`
		Events            []event    `json:"events,omitempty"`
		Links             []link     `json:"links,omitempty"`
		Status            status     `json:"status"`
	}
	event struct {
		TimeUnixNano string     `json:"timeUnixNano"`
		Name         string     `json:"name"`
		Attributes   []keyValue `json:"attributes,omitempty"`
	}
	link struct {
		TraceID    string     `json:"traceId"`
		SpanID     string     `json:"spanId"`
		Attributes []keyValue `json:"attributes,omitempty"`
	}
	status struct {
		Code    int    `json:"code,omitempty"`
		Message string `json:"message,omitempty"`
	}
	keyValue struct {
		Key   string `json:"key"`
		Value value  `json:"value"`
	}
	value struct {
		String *string  `json:"stringValue,omitempty"`
		Bool   *bool    `json:"boolValue,omitempty"`
		Int    *string  `json:"intValue,omitempty"`
		Double *float64 `json:"doubleValue,omitempty"`
		Array  *array   `json:"arrayValue,omitempty"`
	}
	array struct {
		Values []value `json:"values"`
	}
)

// request puts a batch together: all spans of a program have one resource, and each scope's stand together.
func request(spans []sdk.ReadOnlySpan) traces {
	about := spans[0].Resource()
	out := resourceSpans{Resource: resource{pairs(about.Attributes())}, SchemaURL: about.SchemaURL()}
	at := map[scope]int{}
	for _, s := range spans {
		by := scope{s.InstrumentationScope().Name, s.InstrumentationScope().Version}
		i, known := at[by]
		if !known {
			i = len(out.ScopeSpans)
			at[by] = i
			out.ScopeSpans = append(out.ScopeSpans, scopeSpans{Scope: by})
		}
		out.ScopeSpans[i].Spans = append(out.ScopeSpans[i].Spans, written(s))
	}
	return traces{[]resourceSpans{out}}
}

// statusCodes are the protocol's numbers; the library's own differ.
var statusCodes = map[codes.Code]int{codes.Unset: 0, codes.Ok: 1, codes.Error: 2}

func written(s sdk.ReadOnlySpan) span {
	of := s.SpanContext()
	out := span{
		TraceID:           of.TraceID().String(),
		SpanID:            of.SpanID().String(),
		TraceState:        of.TraceState().String(),
		Name:              s.Name(),
		Kind:              int(s.SpanKind()),
		StartTimeUnixNano: nano(s.StartTime()),
		EndTimeUnixNano:   nano(s.EndTime()),
		Attributes:        pairs(s.Attributes()),
		Status:            status{statusCodes[s.Status().Code], s.Status().Description},
	}
	if s.Parent().SpanID().IsValid() {
		out.ParentSpanID = s.Parent().SpanID().String()
	}
	for _, e := range s.Events() {
		out.Events = append(out.Events, event{nano(e.Time), e.Name, pairs(e.Attributes)})
	}
	for _, l := range s.Links() {
		to := l.SpanContext
		out.Links = append(out.Links, link{to.TraceID().String(), to.SpanID().String(), pairs(l.Attributes)})
	}
	return out
}

func nano(t time.Time) string { return strconv.FormatInt(t.UnixNano(), 10) }

func pairs(of []attribute.KeyValue) []keyValue {
	out := make([]keyValue, len(of))
	for i, a := range of {
		out[i] = keyValue{string(a.Key), valueOf(a.Value)}
	}
	return out
}

func valueOf(v attribute.Value) value {
	switch v.Type() {
	case attribute.BOOL:
		b := v.AsBool()
		return value{Bool: &b}
	case attribute.INT64:
		n := strconv.FormatInt(v.AsInt64(), 10)
		return value{Int: &n}
	case attribute.FLOAT64:
		f := v.AsFloat64()
		return value{Double: &f}
	case attribute.STRINGSLICE:
		all := &array{Values: []value{}}
		for _, s := range v.AsStringSlice() {
			all.Values = append(all.Values, value{String: &s})
		}
		return value{Array: all}
	}
	text := v.Emit() // a list of numbers, which nothing here writes, goes as its text
	return value{String: &text}
}
