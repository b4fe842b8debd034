package web

import (
	"net/http"
	"net/http/pprof"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// metrics are what a server counts of itself.
type metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
	records  *prometheus.CounterVec
	wrong    prometheus.Counter
}

func newMetrics(c *Config) *metrics {
	m := &metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "zealousknot_request_seconds", Help: "Time of a request, by route.", Buckets: []float64{.001, .003, .01, .03, .1, .3, 1, 3, 10},
		}, []string{"method", "route", "status"}),
		records: prometheus.NewCounterVec(prometheus.CounterOpts{Name: "zealousknot_records_total", Help: "Entries that devices sent, by what became of them."}, []string{"state"}),
		wrong:   prometheus.NewCounter(prometheus.CounterOpts{Name: "zealousknot_wrong_sign_ins_total", Help: "Wrong passwords and invitations that are not open."}),
	}
	m.registry.MustRegister(m.requests, m.records, m.wrong, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		gauge("zealousknot_listeners", "Pages that wait to receive changes.", func() int { return c.listeners.count() }),
		gauge("zealousknot_heavy_waiting", "Heavy questions that wait for their turn.", func() int { return c.turns.busy() }))
	if c.Store != nil {
		m.registry.MustRegister(
			gauge("zealousknot_connections_busy", "Connections to the database in use.", func() int { busy, _ := c.Store.Connections(); return busy }),
			gauge("zealousknot_connections_max", "Connections to the database at most.", func() int { _, most := c.Store.Connections(); return most }))
	}
	return m
}

func gauge(name, help string, value func() int) prometheus.Collector {
	return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, func() float64 { return float64(value()) })
}

// measure counts requests by the pattern of their route: a path would make a series of
// each id. The request that lasts is not counted.
func (m *metrics) measure(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		start := time.Now()
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(ww, r)
		route := chi.RouteContext(r.Context()).RoutePattern()
		if r.URL.Path == changesPath {
			return
		}
		if route == "" {
			route = "none"
		}
		m.requests.WithLabelValues(methodLabel(r.Method), route, strconv.Itoa(ww.Status())).Observe(time.Since(start).Seconds())
	})
}

// methodLabel keeps made-up methods from making series.
func methodLabel(method string) string {
	switch method {
	case http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodDelete:
		return method
	}
	return "other"
}

// Internal gives what only the machine itself may ask of a site that Handler made: metrics
// and profiles.
func (c *Config) Internal() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(c.metrics.registry, promhttp.HandlerOpts{}))
	mux.HandleFunc("/debug/pprof/", pprof.Index)
	mux.HandleFunc("/debug/pprof/cmdline", pprof.Cmdline)
	mux.HandleFunc("/debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("/debug/pprof/symbol", pprof.Symbol)
	mux.HandleFunc("/debug/pprof/trace", pprof.Trace)
	return mux
}
