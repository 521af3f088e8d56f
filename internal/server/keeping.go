package server

import (
	"context"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/keeping"
)

// Ready is what this server can do just now.
type Ready struct {
	Status   string       `json:"status"` // "ready", "reads only" or "away"
	Database string       `json:"database"`
	Room     keeping.Room `json:"room"`
}

// registerKeeping adds what those who look after the barn ask for. Whether the process
// lives is told to all; how it does, to this machine and to scripts with a token.
func (s *Server) registerKeeping(r *rooms) {
	r.site.Handle("GET", "/health", func(c *gin.Context) { c.String(http.StatusOK, "alive\n") })
	r.site.Handle("GET", "/ready", s.ready)
	metrics := promhttp.HandlerFor(s.metrics.registry, promhttp.HandlerOpts{})
	r.here.Handle("GET", "/metrics", func(c *gin.Context) {
		if !s.fromHere(c) {
			noRoute(c)
			return
		}
		metrics.ServeHTTP(c.Writer, c.Request)
	})
}

// fromHere says whether a request is of this machine itself, by no proxy, or of a script that
// may read.
func (s *Server) fromHere(c *gin.Context) bool {
	host, _, err := net.SplitHostPort(c.Request.RemoteAddr)
	if ip := net.ParseIP(host); err == nil && ip.IsLoopback() && c.GetHeader("X-Forwarded-For") == "" && c.GetHeader("Forwarded") == "" {
		return true
	}
	_, err = s.People.ByToken(c, bearer(c), true, barn.Door{})
	return err == nil
}

// ready answers 200 while the record can be read. Strangers are told no more than that.
func (s *Server) ready(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c, 2*time.Second)
	defer cancel()
	out := Ready{Status: "ready", Database: "answers", Room: s.Disk.Room()}
	status := http.StatusOK
	if _, err := s.Barn.Store.Now(ctx); err != nil {
		out.Status, out.Database, status = "away", "does not answer", http.StatusServiceUnavailable
	} else if stopped(out.Room) {
		out.Status = "reads only"
	}
	if !s.fromHere(c) {
		c.JSON(status, struct {
			Status string `json:"status"`
		}{map[bool]string{true: "ready", false: "not ready"}[status == http.StatusOK]})
		return
	}
	c.JSON(status, out)
}

func stopped(r keeping.Room) bool { return r.State == keeping.Full || r.State == keeping.ReadOnly }

// statusNoRoom is how writes are refused while the disk is full (RFC 4918).
const statusNoRoom = http.StatusInsufficientStorage

// roomFor refuses what would be written while there is no room for it: devices and photos
// first, so that the log goes on.
func (s *Server) roomFor(c *gin.Context) {
	path := c.FullPath()
	// A calculation keeps nothing, and whoever wants to read signs in: the reserve has room for that.
	if reads(c) || strings.HasPrefix(path, "/api/calc/") || path == sessionPath {
		return
	}
	room := s.Disk.Room()
	waits := room.State == keeping.Low && (path == devicesPath || path == photosPath)
	if !stopped(room) && !waits {
		return
	}
	if path == devicesPath {
		// Devices keep what they have and send it again.
		c.Header("Retry-After", "60")
		api.Fail(c, api.Refuse(http.StatusServiceUnavailable, room.Words, room.Remedy))
		return
	}
	api.Fail(c, api.Refuse(statusNoRoom, room.Words, room.Remedy))
}

// Paths of what is largest and can wait, and of signing in and out.
const (
	sessionPath = "/api/session"
	devicesPath = "/api/devices/readings"
	photosPath  = "/api/cooks/:id/photos"
)
