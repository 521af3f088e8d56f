package server

import (
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"

	"whitebarn/internal/keeping"
)

// metrics are what this server counts.
type metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
}

func newMetrics(s *Server) *metrics {
	m := &metrics{registry: prometheus.NewRegistry()}
	m.requests = prometheus.NewHistogramVec(prometheus.HistogramOpts{
		Name: "whitebarn_request_seconds", Help: "How long requests took, by route and class of status.",
		Buckets: []float64{.005, .01, .025, .05, .1, .25, .5, 1, 2.5, 10},
	}, []string{"method", "route", "status"})
	gauge := func(name, help string, f func() float64) prometheus.Collector {
		return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, f)
	}
	m.registry.MustRegister(m.requests, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		gauge("whitebarn_disk_free_bytes", "Free room on the disk of the data.", func() float64 { return float64(s.Disk.Room().FreeBytes) }),
		gauge("whitebarn_writes_refused", "1 while nothing is written for want of room.", func() float64 {
			if stopped(s.Disk.Room()) {
				return 1
			}
			return 0
		}),
		gauge("whitebarn_database_connections", "Connections to the database in use.", func() float64 { return float64(s.Barn.Store.Pool().Stat().AcquiredConns()) }),
		gauge("whitebarn_browsers", "Browsers that follow the barn.", func() float64 { return float64(s.Hub.Followers()) }),
		gauge("whitebarn_backup_age_seconds", "Age of the newest backup; -1 without one.", func() float64 { return keeping.AgeOf(s.Backups, time.Now()).Seconds() }))
	return m
}

// counted are the methods that are told apart: what else is sent could be anything.
var counted = []string{http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodDelete, http.MethodOptions}

// count is told of every request that was answered.
func (m *metrics) count(c *gin.Context, route string, took time.Duration) {
	method := c.Request.Method
	if !slices.Contains(counted, method) {
		method = "other"
	}
	m.requests.WithLabelValues(method, route, fmt.Sprintf("%dxx", c.Writer.Status()/100)).Observe(took.Seconds())
}
