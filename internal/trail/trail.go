// Package trail follows one request through the server: an id that its answer and every line of
// the log about it carry, the route that answered it, and how. A trail has nothing of a
// household in it: the route is one of the program's ("/burns/:id"), never an address that
// somebody asked for, since a link can be a secret.
package trail

import (
	"context"
	"crypto/rand"
	"log/slog"
	"net/http"
	"time"

	"go.opentelemetry.io/otel/attribute"
	"go.opentelemetry.io/otel/codes"
	"go.opentelemetry.io/otel/propagation"
	"go.opentelemetry.io/otel/trace"
	"go.opentelemetry.io/otel/trace/noop"
)

// named is the name under which spans are made.
const named = "smolder"

// Header carries the id of a request: in its answer always, in the request itself where a proxy
// in front has given it one.
const Header = "X-Request-Id"

// longest is how many letters of an id that a proxy gives are taken; more is no id.
const longest = 64

// Other is the route of what no route of the program answers.
const Other = "other"

// A Trail is one request's.
type Trail struct{ ID, Route string }

type key struct{}

// From is the trail that a context belongs to, nil outside of a request.
func From(ctx context.Context) *Trail {
	t, _ := ctx.Value(key{}).(*Trail)
	return t
}

// Route remembers which route answers a request, from inside of it; empty: none did.
func Route(ctx context.Context, route string) {
	if t := From(ctx); t != nil && route != "" {
		t.Route = route
	}
}

// Follow begins the trail of a request and puts its id into the answer; spans are made of it and
// of what is done for it where there are traces (nil: there are none). Ids that come with a
// request, and the trace that it belongs to (W3C Trace Context), are taken from a proxy in front
// alone: anybody else could give two the same. [Answered] ends it.
func Follow(w http.ResponseWriter, r *http.Request, behindProxy bool, traces trace.TracerProvider) *http.Request {
	t := &Trail{Route: Other}
	if given := r.Header.Get(Header); behindProxy && plain(given) {
		t.ID = given
	} else {
		t.ID = rand.Text()[:13] // 65 bits
	}
	w.Header().Set(Header, t.ID)
	ctx := context.WithValue(r.Context(), key{}, t)
	if traces == nil {
		traces = noop.NewTracerProvider()
	}
	if behindProxy {
		ctx = propagation.TraceContext{}.Extract(ctx, propagation.HeaderCarrier(r.Header))
	}
	ctx, _ = traces.Tracer(named).Start(ctx, Other, trace.WithSpanKind(trace.SpanKindServer), trace.WithAttributes(attribute.String("request.id", t.ID)))
	return r.WithContext(ctx)
}

type tracesKey struct{}

// With lets spans be made of what [Begin] begins under a context; nil: there are no traces.
func With(ctx context.Context, traces trace.TracerProvider) context.Context {
	if traces == nil {
		return ctx
	}
	return context.WithValue(ctx, tracesKey{}, traces)
}

// Begin is a span of what no request asks for, such as a message of a broker: what is done, in words
// of the program. The function ends it, with what went wrong.
func Begin(ctx context.Context, what string) (context.Context, func(error)) {
	if traces, ok := ctx.Value(tracesKey{}).(trace.TracerProvider); ok {
		return step(ctx, traces, what, trace.WithNewRoot(), trace.WithSpanKind(trace.SpanKindConsumer))
	}
	return ctx, func(error) {}
}

// Step is a span within that of a request, or nothing where there is none: what is done, in words
// of the program. The function ends it, with what went wrong.
func Step(ctx context.Context, what string) (context.Context, func(error)) {
	return step(ctx, trace.SpanFromContext(ctx).TracerProvider(), what)
}

func step(ctx context.Context, traces trace.TracerProvider, what string, options ...trace.SpanStartOption) (context.Context, func(error)) {
	ctx, span := traces.Tracer(named).Start(ctx, what, options...)
	return ctx, func(err error) {
		if err != nil { // not in its own words: they may be somebody's
			span.SetStatus(codes.Error, "failed")
		}
		span.End()
	}
}

// plain tells whether an id is one: letters, digits, dashes, dots and the like.
func plain(id string) bool {
	if id == "" || len(id) > longest {
		return false
	}
	for _, c := range []byte(id) {
		if c <= ' ' || c > '~' || c == '"' || c == '\\' {
			return false
		}
	}
	return true
}

// Logs adds the id and the route to what is logged with the context of a request.
func Logs(h slog.Handler) slog.Handler { return logs{h} }

type logs struct{ slog.Handler }

func (l logs) Handle(ctx context.Context, r slog.Record) error {
	if t := From(ctx); t != nil {
		r.AddAttrs(slog.String("request", t.ID), slog.String("route", t.Route))
	}
	return l.Handler.Handle(ctx, r)
}

func (l logs) WithAttrs(a []slog.Attr) slog.Handler { return logs{l.Handler.WithAttrs(a)} }
func (l logs) WithGroup(name string) slog.Handler   { return logs{l.Handler.WithGroup(name)} }

// Answered ends the trail of a request.
func Answered(r *http.Request, status int) {
	t, span := From(r.Context()), trace.SpanFromContext(r.Context())
	span.SetName(Method(r.Method) + " " + t.Route)
	span.SetAttributes(attribute.String("http.request.method", Method(r.Method)), attribute.String("http.route", t.Route),
		attribute.Int("http.response.status_code", status))
	if status >= http.StatusInternalServerError {
		span.SetStatus(codes.Error, "")
	}
	span.End()
}

// Log logs a request that is over, with its method, its status and how long it took.
func Log(log *slog.Logger, r *http.Request, status int, took time.Duration) {
	log.InfoContext(r.Context(), "answered", "method", Method(r.Method), "status", status, "ms", took.Milliseconds())
}

// Method is one of those that are asked here; any other would be a word of whoever asks.
func Method(m string) string {
	switch m {
	case http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodDelete, http.MethodOptions, http.MethodPatch:
		return m
	}
	return Other
}

// Watched sees how a request is answered.
type Watched struct {
	http.ResponseWriter
	Status int // 200 until it is told otherwise
	told   bool
}

// Watch sees what is written to w.
func Watch(w http.ResponseWriter) *Watched { return &Watched{ResponseWriter: w, Status: http.StatusOK} }

// WriteHeader sees the status.
func (w *Watched) WriteHeader(status int) {
	if !w.told {
		w.Status, w.told = status, status >= http.StatusOK
	}
	w.ResponseWriter.WriteHeader(status)
}

// Unwrap lets whoever streams reach what is below.
func (w *Watched) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// Flush sends what was written; open pages are told so.
func (w *Watched) Flush() { _ = http.NewResponseController(w.ResponseWriter).Flush() }
