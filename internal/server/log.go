package server

import (
	"context"
	"log/slog"
	"regexp"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// requestKey is under which the context of a request keeps its number.
type requestKey struct{}

// requestHeader carries a request's number there and back.
const requestHeader = "X-Request-Id"

var goodID = regexp.MustCompile(`^[A-Za-z0-9._-]{8,64}$`)

// LogHandler has every line that is written for a request say its number.
func LogHandler(next slog.Handler) slog.Handler { return numbering{next} }

type numbering struct{ slog.Handler }

func (h numbering) Handle(ctx context.Context, r slog.Record) error {
	if id, ok := ctx.Value(requestKey{}).(string); ok {
		r.AddAttrs(slog.String("request", id))
	}
	return h.Handler.Handle(ctx, r)
}

func (h numbering) WithAttrs(attrs []slog.Attr) slog.Handler {
	return numbering{h.Handler.WithAttrs(attrs)}
}

func (h numbering) WithGroup(name string) slog.Handler { return numbering{h.Handler.WithGroup(name)} }

// logRequests numbers each request, by the number it came with or a new one, logs it, and
// has it counted.
func (s *Server) logRequests(c *gin.Context) {
	start := time.Now()
	id := c.GetHeader(requestHeader)
	if !goodID.MatchString(id) {
		id = uuid.NewString()
	}
	c.Header(requestHeader, id)
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), requestKey{}, id))
	c.Next()
	route := c.FullPath() // the pattern: a taster's link stays out of the log
	if route == "" {
		route = "page"
	}
	took := time.Since(start)
	if s.metrics != nil {
		s.metrics.count(c, route, took)
	}
	slog.InfoContext(c, "request", "method", c.Request.Method, "route", route, "status", c.Writer.Status(), "bytes", c.Writer.Size(), "took",
		took.Round(10*time.Microsecond))
}
