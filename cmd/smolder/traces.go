package main

import (
	"context"
	"fmt"
	"log/slog"
	"net/url"
	"time"

	"go.opentelemetry.io/otel"
	"go.opentelemetry.io/otel/exporters/otlp/otlptrace/otlptracehttp"
	"go.opentelemetry.io/otel/sdk/resource"
	sdk "go.opentelemetry.io/otel/sdk/trace"
	semconv "go.opentelemetry.io/otel/semconv/v1.37.0"
	"go.opentelemetry.io/otel/trace"
)

// flushTakes is how long a server that stops waits for its last spans to arrive.
const flushTakes = 5 * time.Second

// tracesTo makes spans and sends them to a collector in the background (OTLP over HTTP); flush sends
// what is left. No collector: no spans. One that is away costs nothing but its spans: they are
// dropped, and the log says so.
func tracesTo(collector string, log *slog.Logger) (spans trace.TracerProvider, flush func(), err error) {
	if collector == "" {
		return nil, func() {}, nil
	}
	at, err := url.Parse(collector)
	if err != nil || at.Scheme != "http" && at.Scheme != "https" || at.Host == "" {
		return nil, nil, usageError{fmt.Errorf("--traces is %q: an address such as http://127.0.0.1:4318/v1/traces would do", collector)}
	}
	exporter, err := otlptracehttp.New(context.Background(), otlptracehttp.WithEndpointURL(collector))
	if err != nil {
		return nil, nil, fmt.Errorf("traces to %s: %w", collector, err)
	}
	otel.SetErrorHandler(otel.ErrorHandlerFunc(func(err error) { log.Warn("traces", "error", err) }))
	p := sdk.NewTracerProvider(sdk.WithBatcher(exporter), sdk.WithResource(resource.NewWithAttributes(semconv.SchemaURL, semconv.ServiceName("smolder"))))
	return p, func() {
		ctx, cancel := context.WithTimeout(context.Background(), flushTakes)
		defer cancel()
		_ = p.Shutdown(ctx) // the collector may be away
	}, nil
}
