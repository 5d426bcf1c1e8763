package main

import (
	"context"
	"fmt"

	"go.opentelemetry.io/otel"
	"go.opentelemetry.io/otel/propagation"
	"go.opentelemetry.io/otel/sdk/resource"
	sdktrace "go.opentelemetry.io/otel/sdk/trace"
	semconv "go.opentelemetry.io/otel/semconv/v1.43.0"

	"fairlap/internal/trace"
)

// traced sends traces of requests and what they ask of the database to an address (OTLP over
// HTTP); end sends what is left.
func traced(address string) (end func(context.Context) error, err error) {
	out, err := trace.New(address)
	if err != nil {
		return nil, fmt.Errorf("--trace-to: %w", err)
	}
	about, err := resource.Merge(
		resource.Default(),
		resource.NewSchemaless(semconv.ServiceName("fairlap"), semconv.ServiceVersion(version)),
	)
	if err != nil {
		return nil, fmt.Errorf("naming the traces: %w", err)
	}
	p := sdktrace.NewTracerProvider(sdktrace.WithBatcher(out), sdktrace.WithResource(about))
	otel.SetTracerProvider(p)
	otel.SetTextMapPropagator(propagation.TraceContext{})
	return p.Shutdown, nil
}
