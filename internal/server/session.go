package server

import (
	"context"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/keeping"
	"whitebarn/internal/lan"
)

// Session is what the front end knows of itself.
type Session struct {
	FirstRun bool           `json:"first_run"` // no barn yet: make one
	Person   *people.Person `json:"person"`    // nil when signed out
	Barn     *people.Barn   `json:"barn"`
	MostFile int            `json:"most_file"` // bytes of an upload
	Room     keeping.Room   `json:"room"`      // on the disk of the data; of who is signed in
}

// LanView is how phones on the local network come in.
type LanView struct {
	On bool `json:"on"`
	lan.Info
}

func (s *Server) registerSession(a *api.Routes, r *rooms) {
	r.crew.Handle("GET", "/lan/qr.png", func(c *gin.Context) {
		if s.lan == nil {
			noRoute(c)
			return
		}
		drawCode(c, s.lan.Trust[0])
	})
	api.Handle(a, r.crew, "GET", "/lan", "getLan", 200, func(*gin.Context, *api.None) (LanView, error) {
		if s.lan == nil {
			return LanView{Info: lan.Info{Sites: []string{}, Names: []string{}, Trust: []string{}, Guests: []string{}}}, nil
		}
		return LanView{On: true, Info: *s.lan}, nil
	})
	api.Handle(a, r.anybody, "GET", "/session", "getSession", 200, s.session)
	api.Handle(a, r.anybody, "POST", "/session", "signIn", 200, s.signIn)
	api.Handle(a, r.anybody, "DELETE", "/session", "signOut", 204, s.signOut)
	api.Handle(a, r.anybody, "POST", "/first-run", "firstRun", 201, s.firstRun)
	own(s, a, r.master, "PUT", "/barn", "setBarn", 204, people.SetBarn, "session")
}

// toldHeader says up to which change a page that begins now will have read.
const toldHeader = "Barn-Told"

func (s *Server) session(c *gin.Context, _ *api.None) (Session, error) {
	out := Session{MostFile: api.MostFile}
	c.Header(toldHeader, s.Hub.Told()) // before anything is read: the stream goes on from there
	var err error
	out.Barn, out.Person, err = s.People.Here(c, s.sessionOf(c.Request.Context()))
	out.FirstRun = err == nil && out.Barn == nil
	if out.Person != nil || out.FirstRun {
		out.Room = s.Disk.Room() // it is no stranger's
	}
	return out, err
}

func (s *Server) signIn(c *gin.Context, in *barn.Of[people.SignIn]) (people.Person, error) {
	if !s.mayTry(c, strings.ToLower(strings.TrimSpace(in.Body.SignIn))) {
		return people.Person{}, barn.RefuseAs(barn.TooOften, "Too many tries for this name.", "Wait a minute, then try again.")
	}
	p, err := s.People.SignIn(c, in.Body)
	if err != nil {
		slog.WarnContext(c, "sign-in refused", "address", c.ClientIP()) // the name may be a password typed in the wrong field
		return p, err
	}
	return p, s.enter(c, p, "password")
}

// mayTry counts a try of a name. A device on which its owner signed in before has tries of its own: who
// guesses from the same address does not lock them out.
func (s *Server) mayTry(c *gin.Context, name string) bool {
	if mark, err := c.Cookie(s.cookie(markCookie)); err == nil && s.People.Marked(c, mark, name) {
		return s.signIns.Allow("marked " + name)
	}
	return s.signIns.Allow(c.ClientIP() + " " + name)
}

// markCookie is kept for a year by devices on which somebody signed in.
const markCookie = "barn-device"

func (s *Server) mark(c *gin.Context, person int64) error {
	mark, err := s.People.MarkOf(c, person)
	if err == nil {
		http.SetCookie(c.Writer, &http.Cookie{Name: s.cookie(markCookie), Value: mark, Path: "/", MaxAge: 365 * 24 * 3600,
			HttpOnly: true, Secure: s.secure(), SameSite: http.SameSiteLaxMode})
	}
	return err
}

func (s *Server) firstRun(c *gin.Context, in *barn.Of[people.FirstRun]) (people.Person, error) {
	p, err := s.People.FirstRun(c, in.Body)
	if err != nil {
		return p, err
	}
	return p, s.enter(c, p, "first run")
}

// enter begins a session of somebody, under a token of its own.
func (s *Server) enter(c *gin.Context, p people.Person, by string) error {
	ctx := c.Request.Context()
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	began := people.Begin(p)
	s.sessions.Put(ctx, personKey, began.Person)
	s.sessions.Put(ctx, eraKey, began.Era)
	s.sessions.Put(ctx, sinceKey, s.Barn.Now().Unix())
	s.sessions.Put(ctx, agentKey, shortened(c.Request.UserAgent(), 200))
	if err := s.mark(c, p.ID); err != nil {
		return err
	}
	slog.InfoContext(c, "signed in", "person", p.ID, "by", by, "address", c.ClientIP())
	return nil
}

// sessionOf is what the session of a request keeps of who it is.
func (s *Server) sessionOf(ctx context.Context) people.Session {
	return people.Session{Person: s.sessions.GetInt64(ctx, personKey), Era: s.sessions.GetInt64(ctx, eraKey)}
}

// signOut ends the session, and with it the streams it opened. What the browser kept of the
// barn's answers goes too.
func (s *Server) signOut(c *gin.Context, _ *api.None) (api.None, error) {
	err := s.sessions.Destroy(c.Request.Context())
	if err == nil {
		c.Header("Clear-Site-Data", `"cache"`)
		s.Hub.SignedOut(c)
	}
	return api.None{}, err
}

// What a session keeps: who it is and of which time of theirs, since when, and on what device.
const (
	personKey = "person"
	eraKey    = "era"
	sinceKey  = "since"
	agentKey  = "agent"
)

// bearer is the token that a request carries; empty for a browser's.
func bearer(c *gin.Context) string {
	token, _ := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
	return token
}

// reads says whether a request changes nothing.
func reads(c *gin.Context) bool {
	return c.Request.Method == http.MethodGet || c.Request.Method == http.MethodHead
}

// signedIn lets through people with an account, and scripts with a token of one.
func (s *Server) signedIn(c *gin.Context) {
	if token := bearer(c); token != "" {
		p, err := s.People.ByToken(c, token, reads(c), s.doors[c.Request.Method+" "+c.FullPath()])
		if err != nil {
			api.Fail(c, err)
			return
		}
		c.Set(personKey, p)
		return
	}
	p, err := s.People.SignedIn(c, s.sessionOf(c.Request.Context()))
	if err == nil && !meant(c, p.ID) {
		err = api.Refuse(http.StatusUnauthorized, "Somebody else is signed in here.", "Sign in as the one who did this: it is kept until then.")
	}
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Set(personKey, p)
}

// onlyAs names whose a call is: a device that sends what was done a while ago may be in other
// hands by then.
const onlyAs = "Barn-Person"

// meant says whether a call may be made as a person.
func meant(c *gin.Context, id int64) bool {
	who := c.GetHeader(onlyAs)
	return who == "" || who == strconv.FormatInt(id, 10)
}
