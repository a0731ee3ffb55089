// Package metrics counts what a server does, for Prometheus: how long each route took and how it was
// answered, the connections of the database. No label has anything of a household in it: routes are
// those of the program ("/burns/:id"), never an address that somebody asked for.
package metrics

import (
	"database/sql"
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"smolder/internal/trail"
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

// Answered counts a request that is over.
func (m *Metrics) Answered(r *http.Request, status int, took time.Duration) {
	route := trail.Other
	if t := trail.From(r.Context()); t != nil {
		route = t.Route
	}
	m.requests.WithLabelValues(route, trail.Method(r.Method), strconv.Itoa(status)).Observe(took.Seconds())
}

// Asked counts a request that begins; what it returns, that it is over.
func (m *Metrics) Asked() (over func()) {
	m.now.Inc()
	return m.now.Dec
}
