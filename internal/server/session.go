package server

import (
	"net/http"
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
	Room     keeping.Room   `json:"room"`      // on the disk of the data
}

// LanView is how phones on the local network come in.
type LanView struct {
	On bool `json:"on"`
	lan.Info
}

func (s *Server) registerSession(a *api.Routes, open, crew, master *gin.RouterGroup) {
	crew.GET("/lan/qr.png", func(c *gin.Context) {
		if s.lan == nil {
			noRoute(c)
			return
		}
		drawCode(c, s.lan.Trust[0])
	})
	api.Handle(a, crew, "GET", "/lan", "getLan", 200, func(*gin.Context, *api.None) (LanView, error) {
		if s.lan == nil {
			return LanView{Info: lan.Info{Sites: []string{}, Trust: []string{}, Guests: []string{}}}, nil
		}
		return LanView{On: true, Info: *s.lan}, nil
	})
	api.Handle(a, open, "GET", "/session", "getSession", 200, s.session)
	api.Handle(a, open, "POST", "/session", "signIn", 200, s.signIn)
	api.Handle(a, open, "DELETE", "/session", "signOut", 204, s.signOut)
	api.Handle(a, open, "POST", "/first-run", "firstRun", 201, s.firstRun)
	read(s, a, crew, "/people", "getPeople", people.List)
	api.Handle(a, master, "POST", "/people", "addPerson", 201, s.addPerson)
	own(s, a, master, "PUT", "/barn", "setBarn", 204, people.SetBarn, "session")
}

// toldHeader says up to which change a page that begins now will have read.
const toldHeader = "Barn-Told"

func (s *Server) session(c *gin.Context, _ *api.None) (Session, error) {
	out := Session{MostFile: api.MostFile, Room: s.Disk.Room()}
	c.Header(toldHeader, s.Hub.Told()) // before anything is read: the stream goes on from there
	var err error
	out.Barn, out.Person, err = s.People.Here(c, s.sessions.GetInt64(c.Request.Context(), personKey))
	out.FirstRun = err == nil && out.Barn == nil
	return out, err
}

func (s *Server) signIn(c *gin.Context, in *barn.Of[people.SignIn]) (people.Person, error) {
	if !s.signIns.Allow(c.ClientIP() + " " + strings.ToLower(in.Body.SignIn)) {
		return people.Person{}, barn.RefuseAs(barn.TooOften, "Too many tries for this name.", "Wait a minute, then try again.")
	}
	p, err := s.People.SignIn(c, in.Body)
	if err != nil {
		return p, err
	}
	return p, s.enter(c, p.ID)
}

func (s *Server) firstRun(c *gin.Context, in *barn.Of[people.FirstRun]) (people.Person, error) {
	p, err := s.People.FirstRun(c, in.Body)
	if err != nil {
		return p, err
	}
	return p, s.enter(c, p.ID)
}

func (s *Server) enter(c *gin.Context, id int64) error {
	if err := s.sessions.RenewToken(c.Request.Context()); err != nil {
		return err
	}
	s.sessions.Put(c.Request.Context(), personKey, id)
	return nil
}

// signOut ends the session, and with it the streams it opened.
func (s *Server) signOut(c *gin.Context, _ *api.None) (api.None, error) {
	err := s.sessions.Destroy(c.Request.Context())
	if err == nil {
		s.Hub.SignedOut(c)
	}
	return api.None{}, err
}

func (s *Server) addPerson(c *gin.Context, in *barn.Of[people.NewPerson]) (people.Person, error) {
	p, err := s.People.Add(c, in.Body)
	if err == nil {
		s.tell(c, 0, "people")
	}
	return p, err
}

// personKey is under which a session and a request keep who it is.
const personKey = "person"

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
		p, err := s.People.ByToken(c, token, reads(c), s.doors[c.Request.Method+" "+c.FullPath()].Kind)
		if err != nil {
			api.Fail(c, err)
			return
		}
		c.Set(personKey, p)
		return
	}
	p, err := s.People.SignedIn(c, s.sessions.GetInt64(c.Request.Context(), personKey))
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Set(personKey, p)
}

func pitmasterOnly(c *gin.Context) {
	if !c.IsAborted() && who(c).Role != people.Pitmaster {
		api.Fail(c, barn.RefuseAs(barn.NotYours, "Only a pitmaster may do this.", "Ask one to do it, or to sign in here."))
	}
}
