// Package metrics counts what a server does, for Prometheus: how long each route took and how it was
// answered, the connections of the database. No label has anything of a household in it: routes are
// those of the program ("/burns/:id"), never an address that somebody asked for.
package metrics

import (
	"context"
	"database/sql"
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Metrics are one server's.
type Metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
	now      prometheus.Gauge
}

// New counts nothing yet; db is the database whose connections are told, nil for none.
func New(db *sql.DB) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "smolder_request_seconds", Help: "How long requests took, by route, method and status.",
			Buckets: []float64{0.005, 0.02, 0.05, 0.1, 0.3, 0.8, 2, 5, 15, 60}}, []string{"route", "method", "status"}),
		now: prometheus.NewGauge(prometheus.GaugeOpts{Name: "smolder_requests_now", Help: "Requests that are being answered; open pages hold one each."}),
	}
	m.registry.MustRegister(m.requests, m.now, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	if db != nil {
		m.registry.MustRegister(collectors.NewDBStatsCollector(db, "smolder"))
	}
	return m
}

// Handler tells them.
func (m *Metrics) Handler() http.Handler {
	return promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{})
}

type routeKey struct{}

// Route remembers which route answers a request, from inside of it.
func Route(ctx context.Context, route string) {
	if at, ok := ctx.Value(routeKey{}).(*string); ok && route != "" {
		*at = route
	}
}

// other is what no route of the program answers.
const other = "other"

// Serve answers a request, and counts it.
func (m *Metrics) Serve(next http.Handler, w http.ResponseWriter, r *http.Request) {
	route := other
	began := time.Now()
	saw := &watched{ResponseWriter: w, status: http.StatusOK}
	m.now.Inc()
	defer func() {
		m.now.Dec()
		m.requests.WithLabelValues(route, method(r.Method), strconv.Itoa(saw.status)).Observe(time.Since(began).Seconds())
	}()
	next.ServeHTTP(saw, r.WithContext(context.WithValue(r.Context(), routeKey{}, &route)))
}

// method is one of those that are asked here, so that nobody makes labels.
func method(m string) string {
	switch m {
	case http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodDelete, http.MethodOptions, http.MethodPatch:
		return m
	}
	return other
}

// watched sees how a request was answered.
type watched struct {
	http.ResponseWriter
	status int
	told   bool
}

// WriteHeader sees the status.
func (w *watched) WriteHeader(status int) {
	if !w.told {
		w.status, w.told = status, true
	}
	w.ResponseWriter.WriteHeader(status)
}

// Unwrap lets whoever streams reach what is below.
func (w *watched) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// Flush sends what was written; open pages are told so.
func (w *watched) Flush() { _ = http.NewResponseController(w.ResponseWriter).Flush() }
