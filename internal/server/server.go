// Package server answers the browser: the API under /api, and the front end.
// Handlers hold no rules: they bind, call a use case, and answer.
package server

import (
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"runtime/debug"
	"strings"
	"sync"
	"time"

	"github.com/CAFxX/httpcompression"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"whitebarn/core/vocabulary"
	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/records"
	"whitebarn/internal/exchange"
	"whitebarn/internal/keeping"
	"whitebarn/internal/lan"
	"whitebarn/internal/services"
)

// Options of a server.
type Options struct {
	Dist fs.FS     // the built front end; nil serves the API alone
	LAN  *lan.Info // how the local network comes in, over HTTPS; nil: loopback alone
	// BodyWithin is how long a body may take to come in whole; 0 is two minutes, in
	// which a file of the largest size comes over a poor mobile line.
	BodyWithin time.Duration
	Hosts      []string         // names that browsers ask for it by over HTTPS, beside its addresses and localhost
	Disk       *keeping.Disk    // of the data; nil is one that is not ours to see
	Backups    *keeping.Backups // by the clock; nil takes none
	About      records.Build    // what program this is
}

// Server holds what the handlers need.
type Server struct {
	*services.Services
	engine   *gin.Engine
	sessions *scs.SessionManager
	signIns  *auth.Limiter
	links    *auth.Limiter
	cleanup  func()          // ends the upkeep of the sessions
	alive    context.Context // until Close
	stop     context.CancelFunc
	lan      *lan.Info
	hosts    []string // it is asked for by, beside its addresses and localhost
	metrics  *metrics
	// Disk and Backups are what the barn's ground is looked after by.
	Disk    *keeping.Disk
	Backups *keeping.Backups
	build   records.Build
	// described is the description of the API, made when it is first asked for.
	described func() ([]byte, error)
	fonts     exchange.Fonts       // that a report carries with it
	doors     map[string]barn.Door // by method and path: where a trial's record changes
	rules     map[string]Rule      // by method and path: who may
}

// New returns a server; its Handler answers requests until Close.
func New(v *services.Services, o Options) (*Server, http.Handler) {
	if o.BodyWithin == 0 {
		o.BodyWithin = 2 * time.Minute
	}
	srv := &Server{
		Services: v, lan: o.LAN, hosts: o.Hosts, Disk: o.Disk, Backups: o.Backups, build: o.About, sessions: scs.New(), fonts: exchange.FontsOf(o.Dist),
		signIns: auth.NewLimiter(10, 6*time.Second), links: auth.NewLimiter(30, 2*time.Second),
	}
	if srv.Disk == nil {
		srv.Disk = &keeping.Disk{Store: v.Barn.Store}
	}
	srv.metrics = newMetrics(srv)
	srv.alive, srv.stop = context.WithCancel(context.Background())
	srv.Disk.Changed = func() { srv.tell(srv.alive, 0, "session") } // which says what room there is
	go srv.Hub.Run(srv.alive)
	sm := srv.sessions
	sm.Store, srv.cleanup = srv.People.Sessions()
	sm.Lifetime = 30 * 24 * time.Hour
	sm.HashTokenInStore = true
	sm.Cookie.Secure = srv.secure()
	sm.Cookie.Name = srv.cookie("barn")
	sm.Cookie.SameSite = http.SameSiteLaxMode
	sm.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		slog.ErrorContext(r.Context(), "session failed", "error", err)
		api.Away(w)
	}
	engine := gin.New()
	engine.ContextWithFallback, engine.HandleMethodNotAllowed = true, true
	var proxies []string // none, but one on this machine that answers for our names
	if len(o.Hosts) > 0 {
		proxies = []string{"127.0.0.1", "::1"}
	}
	_ = engine.SetTrustedProxies(proxies)
	engine.Use(srv.logRequests, gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, cause any) {
		api.Fail(c, fmt.Errorf("panic: %v\n%s", cause, debug.Stack()))
	}), srv.roomFor)
	srv.engine = engine
	r := srv.roomsOf(engine)
	a := srv.register(r)
	srv.registerKeeping(r)
	srv.described = sync.OnceValues(func() ([]byte, error) { return a.OpenAPI("White Barn") })
	if o.Dist != nil {
		engine.NoRoute(newSite(o.Dist).serve)
	} else {
		engine.NoRoute(noRoute)
	}
	engine.RedirectTrailingSlash = false // a path is one thing to all who look at it
	withSession := sm.LoadAndSave(engine)
	rooms := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if inAPI(r.URL.Path) {
			withSession.ServeHTTP(w, r)
			return
		}
		engine.ServeHTTP(w, r)
	})
	cross := http.NewCrossOriginProtection()
	cross.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/problem+json")
		w.WriteHeader(http.StatusForbidden)
		fmt.Fprint(w, `{"status":403,"title":"This came from another site.","remedy":"Open White Barn itself and try there.","errors":[]}`)
	}))
	return srv, srv.securityHeaders(srv.knownHosts(cutOffSlow(o.BodyWithin, compressed(cross.Handler(rooms)))))
}

// inAPI says whether a path, as the router reads it, is of the API.
func inAPI(path string) bool { return strings.HasPrefix(path, "/api/") }

// compressed answers in what the browser reads of brotli and gzip. Streams are never
// compressed, as their lines must not wait for more; what is short is not worth it.
func compressed(next http.Handler) http.Handler {
	adapt, err := httpcompression.DefaultAdapter(httpcompression.MinSize(700),
		httpcompression.ContentTypes([]string{"application/json", "application/problem+json", "text/calendar", "text/csv", "text/plain"}, false))
	if err != nil {
		panic(err) // its options are fixed above
	}
	small := adapt(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/live") {
			next.ServeHTTP(w, r)
			return
		}
		small.ServeHTTP(w, r)
	})
}

// Play plays the cooks whose devices are simulated, and watches over all fires
// where no other server of the barn does, until Close.
func (s *Server) Play(ctx context.Context) error {
	go s.Monitor.Run(s.alive)
	go s.Disk.Run(s.alive)
	if s.Backups != nil {
		go s.Backups.Run(s.alive)
	}
	if err := s.Desk.ReadAnew(ctx); err != nil {
		slog.Warn("settled trials are not read by the rules of today", "error", err)
	}
	return s.Player.Resume(ctx)
}

// Close ends the server's own upkeep.
func (s *Server) Close() {
	s.Player.Close()
	s.stop()
	s.cleanup()
}

// OpenAPI describes the API without a database.
func OpenAPI() ([]byte, error) {
	gin.SetMode(gin.ReleaseMode)
	s := &Server{Services: &services.Services{}}
	return s.register(s.roomsOf(gin.New())).OpenAPI("White Barn")
}

// Vocabulary is the keys and their words as a module of the front end, which has
// them built in: pages that open offline know them too.
func Vocabulary() ([]byte, error) {
	text, err := json.MarshalIndent(vocabulary.Of(), "", "  ")
	if err != nil {
		return nil, err
	}
	const head = "// Generated by make types from core/vocabulary. DO NOT EDIT.\nimport type { Vocabulary } from './schema.gen'\n\nexport const vocabulary: Vocabulary = "
	return append(append([]byte(head), text...), '\n'), nil
}

// register adds all routes.
func (s *Server) register(r *rooms) *api.Routes {
	a := &api.Routes{}
	s.doors = map[string]barn.Door{}
	s.registerSession(a, r)
	s.registerPeople(a, r)
	s.registerPasskeys(a, r)
	s.registerTrials(a, r)
	s.registerAsk(a, r)
	s.registerMatch(a, r)
	s.registerPlan(a, r)
	s.registerPrep(a, r)
	s.registerFire(a, r)
	s.registerRest(a, r)
	s.registerTable(a, r)
	s.registerTaste(a, r)
	s.registerSettle(a, r)
	s.registerBook(a, r)
	s.registerPits(a, r)
	s.registerWatch(a, r)
	s.registerRehearsals(a, r)
	s.registerLive(r)
	s.registerCalc(a, r)
	s.registerRecords(a, r)
	return a
}

// cutOffSlow ends a request whose body takes too long; a stream has none.
func cutOffSlow(within time.Duration, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			// A writer that knows no deadline is no connection.
			_ = http.NewResponseController(w).SetReadDeadline(time.Now().Add(within))
		}
		next.ServeHTTP(w, r)
	})
}

func noRoute(c *gin.Context) {
	api.Fail(c, barn.RefuseAs(barn.NotThere, "There is nothing at this address.", "Check the spelling."))
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
