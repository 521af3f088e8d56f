// Package server answers the browser: the API under /api, and the front end.
// Handlers hold no rules: they bind, call the core and the store, and answer.
package server

import (
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io/fs"
	"log/slog"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

	"github.com/alexedwards/scs/pgxstore"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	"whitebarn/internal/lan"
	"whitebarn/internal/live"
	"whitebarn/internal/planner"
	"whitebarn/internal/rehearse"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

// Options of a server.
type Options struct {
	Dist     fs.FS     // the built front end; nil serves the API alone
	HashCost auth.Cost // of passwords
	Now      func() time.Time
	LAN      *lan.Info // how the local network comes in, over HTTPS; nil: loopback alone
}

// Server holds what the handlers need.
type Server struct {
	store    *store.Store
	engine   *gin.Engine
	sessions *scs.SessionManager
	now      func() time.Time
	cost     auth.Cost
	signIns  *auth.Limiter
	links    *auth.Limiter
	cleanup  *pgxstore.PostgresStore
	hub      *live.Hub
	ingest   live.Ingest
	player   *rehearse.Player
	watcher  *watch.Watcher
	planner  *planner.Planner
	alive    context.Context // until Close
	stop     context.CancelFunc
	lan      *lan.Info
}

// New returns a server; its Handler answers requests until Close.
func New(s *store.Store, o Options) (*Server, http.Handler) {
	if o.Now == nil {
		o.Now = time.Now
	}
	srv := &Server{
		store: s, now: o.Now, cost: o.HashCost, lan: o.LAN, sessions: scs.New(),
		signIns: auth.NewLimiter(10, 6*time.Second), links: auth.NewLimiter(30, 2*time.Second),
		cleanup: pgxstore.NewWithCleanupInterval(s.Pool(), time.Hour),
	}
	srv.hub = live.NewHub(s)
	srv.planner = planner.New(s)
	srv.watcher = watch.New(s, srv.planner)
	srv.ingest = live.Ingest{Store: s, Now: o.Now, Hub: srv.hub}
	srv.player = rehearse.NewPlayer(srv.ingest)
	srv.alive, srv.stop = context.WithCancel(context.Background())
	go srv.hub.Run(srv.alive)
	sm := srv.sessions
	sm.Store = srv.cleanup
	sm.Lifetime = 30 * 24 * time.Hour
	sm.Cookie.Name = "barn"
	sm.Cookie.SameSite = http.SameSiteLaxMode
	sm.Cookie.Secure = o.LAN != nil
	sm.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		slog.ErrorContext(r.Context(), "session failed", "error", err)
		http.Error(w, `{"status":503,"title":"The record cannot be reached just now.","remedy":"Try again in a moment.","errors":[]}`, http.StatusServiceUnavailable)
	}
	engine := gin.New()
	engine.ContextWithFallback, engine.HandleMethodNotAllowed = true, true
	_ = engine.SetTrustedProxies(nil)
	engine.Use(logRequests, gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, cause any) {
		api.Fail(c, fmt.Errorf("panic: %v", cause))
	}))
	srv.engine = engine
	srv.register(engine)
	if o.Dist != nil {
		engine.NoRoute(newSite(o.Dist).serve)
	} else {
		engine.NoRoute(noRoute)
	}
	mux := http.NewServeMux()
	mux.Handle("/api/", sm.LoadAndSave(engine))
	mux.Handle("/", engine)
	cross := http.NewCrossOriginProtection()
	cross.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/problem+json")
		w.WriteHeader(http.StatusForbidden)
		fmt.Fprint(w, `{"status":403,"title":"This came from another site.","remedy":"Open White Barn itself and try there.","errors":[]}`)
	}))
	return srv, securityHeaders(cross.Handler(mux))
}

// Play plays the cooks whose devices are simulated, and watches over all fires
// where no other server of the barn does, until Close.
func (s *Server) Play(ctx context.Context) error {
	go watch.NewMonitor(s.watcher, s.now).Run(s.alive)
	return s.player.Resume(ctx)
}

// Close ends the server's own upkeep.
func (s *Server) Close() {
	s.player.Close()
	s.stop()
	s.cleanup.StopCleanup()
}

// OpenAPI describes the API without a database.
func OpenAPI() ([]byte, error) {
	gin.SetMode(gin.ReleaseMode)
	return (&Server{}).register(gin.New()).OpenAPI("White Barn")
}

// register adds all routes.
func (s *Server) register(engine *gin.Engine) *api.Routes {
	a := &api.Routes{}
	open := engine.Group("/api")
	crew := engine.Group("/api", s.signedIn, s.broadcastChange)
	master := engine.Group("/api", s.signedIn, pitmasterOnly, s.broadcastChange)
	s.registerSession(a, open, crew, master)
	s.registerTrials(a, crew, master)
	s.registerDesign(a, crew, master)
	s.registerCuts(a, crew, master)
	s.registerMatch(a, crew)
	s.registerCooks(a, crew, master)
	s.registerEvents(a, crew)
	s.registerHome(a, crew)
	s.registerPlan(a, engine, crew, master)
	s.registerPrep(a, crew)
	s.registerDue(a, crew)
	s.registerLogs(a, crew)
	s.registerLive(a, engine, crew, master)
	s.registerRehearsals(a, crew, master)
	s.registerFamilies(a, crew, master)
	s.registerTable(a, crew, master)
	s.registerTaste(a, open)
	s.registerCalc(a, engine)
	return a
}

func logRequests(c *gin.Context) {
	start := time.Now()
	c.Next()
	route := c.FullPath() // the pattern: a taster's link stays out of the log
	if route == "" {
		route = "page"
	}
	slog.InfoContext(c, "request", "method", c.Request.Method, "route", route, "status", c.Writer.Status(), "bytes", c.Writer.Size(), "took", time.Since(start).Round(10*time.Microsecond))
}

func securityHeaders(next http.Handler) http.Handler {
	const csp = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", csp)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

func noRoute(c *gin.Context) {
	api.Fail(c, api.Refuse(http.StatusNotFound, "There is nothing at this address.", "Check the spelling."))
}

// site is the built front end, compressed once.
type site struct{ files map[string]asset }

type asset struct {
	kind         string
	plain, small []byte
}

func newSite(dist fs.FS) *site {
	s := &site{files: map[string]asset{}}
	_ = fs.WalkDir(dist, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := fs.ReadFile(dist, name)
		if err != nil {
			return err
		}
		a := asset{kind: mime.TypeByExtension(path.Ext(name)), plain: data}
		if path.Ext(name) == ".woff2" {
			a.kind = "font/woff2"
		} else {
			var b bytes.Buffer
			z := gzip.NewWriter(&b)
			_, _ = z.Write(data)
			_ = z.Close()
			a.small = b.Bytes()
		}
		s.files[name] = a
		return nil
	})
	return s
}

func (s *site) serve(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	file, there := s.files[name]
	hashed := strings.HasPrefix(name, "assets/")
	switch {
	case strings.HasPrefix(name, "api/"), c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead:
		noRoute(c)
		return
	case there && hashed:
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	case there:
		c.Header("Cache-Control", "no-cache")
	case hashed: // an old page asking for a gone part must not get HTML
		c.Header("Cache-Control", "no-store")
		c.String(http.StatusNotFound, "gone")
		return
	default:
		if file, there = s.files["index.html"]; !there {
			c.String(http.StatusServiceUnavailable, "The front end is not built. Run make.")
			return
		}
		c.Header("Cache-Control", "no-cache")
	}
	c.Header("Vary", "Accept-Encoding")
	if file.small != nil && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		c.Header("Content-Encoding", "gzip")
		c.Data(http.StatusOK, file.kind, file.small)
		return
	}
	c.Data(http.StatusOK, file.kind, file.plain)
}

// Serve answers on the address until ctx ends, then lets open requests finish.
func Serve(ctx context.Context, srv *http.Server, listen func() error) error {
	failed := make(chan error, 1)
	go func() { failed <- listen() }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	stop, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return srv.Shutdown(stop)
}
