package gate

import (
	"context"
	"net/http"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Metrics is what is counted for whoever keeps the server (Prometheus).
type Metrics struct {
	registry *prometheus.Registry
	seconds  *prometheus.HistogramVec
	engine   *prometheus.HistogramVec
	intake   *prometheus.CounterVec
	away     prometheus.Counter
}

// NewMetrics begins to count.
func NewMetrics() *Metrics {
	times := prometheus.ExponentialBuckets(0.001, 2, 14)
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		seconds: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{
				Name:    "fairlap_request_seconds",
				Help:    "Time to answer, by route and status.",
				Buckets: times,
			},
			[]string{"route", "method", "status"},
		),
		engine: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{
				Name:    "fairlap_engine_seconds",
				Help:    "Time that the work of heavy routes took, waiting left out.",
				Buckets: times,
			},
			[]string{"work"},
		),
		intake: prometheus.NewCounterVec(
			prometheus.CounterOpts{
				Name: "fairlap_intake_total",
				Help: "What devices sent to be kept, by what it is, whether it was kept and whether it came late.",
			},
			[]string{"what", "kept", "late"},
		),
		away: prometheus.NewCounter(
			prometheus.CounterOpts{
				Name: "fairlap_sent_away_total",
				Help: "Requests that found no place in the line before work.",
			},
		),
	}
	m.registry.MustRegister(m.seconds, m.engine, m.intake, m.away,
		collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	return m
}

// Answered counts a request.
func (m *Metrics) Answered(route, method string, status int, took time.Duration) {
	m.seconds.WithLabelValues(route, method, http.StatusText(status)).Observe(took.Seconds())
}

// Worked counts what the work of a heavy route took.
func (m *Metrics) Worked(what string, took time.Duration) {
	m.engine.WithLabelValues(what).Observe(took.Seconds())
}

// TakenIn counts what a device sent to be kept; late is that it was made without a line.
func (m *Metrics) TakenIn(what string, kept, late bool) {
	m.intake.WithLabelValues(what, yesNo(kept), yesNo(late)).Inc()
}

// SentAway counts a request that found no place.
func (m *Metrics) SentAway() { m.away.Inc() }

func yesNo(v bool) string {
	if v {
		return "yes"
	}
	return "no"
}

// mostAsked is how long a number may take that is asked for when somebody looks.
const mostAsked = 2 * time.Second

// Watch shows a number that is asked for when somebody looks; one that can't be had is left out.
func (m *Metrics) Watch(name, help string, labels prometheus.Labels, of func(context.Context) (float64, error)) {
	m.registry.MustRegister(&watched{prometheus.NewDesc(name, help, nil, labels), of})
}

type watched struct {
	desc *prometheus.Desc
	of   func(context.Context) (float64, error)
}

func (w *watched) Describe(out chan<- *prometheus.Desc) { out <- w.desc }

func (w *watched) Collect(out chan<- prometheus.Metric) {
	ctx, cancel := context.WithTimeout(context.Background(), mostAsked)
	defer cancel()
	if v, err := w.of(ctx); err == nil {
		out <- prometheus.MustNewConstMetric(w.desc, prometheus.GaugeValue, v)
	}
}

// Handler shows what was counted (Prometheus' text), to whoever asks: it belongs on a listener of
// its own.
func (m *Metrics) Handler() http.Handler {
	return promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{})
}
