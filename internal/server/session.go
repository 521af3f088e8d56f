package server

import (
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	"whitebarn/internal/lan"
	"whitebarn/internal/store"
)

// Session is what the front end knows of itself.
type Session struct {
	FirstRun bool          `json:"first_run"` // no barn yet: make one
	Person   *store.Person `json:"person"`    // nil when signed out
	Barn     *store.Barn   `json:"barn"`
	MostFile int           `json:"most_file"` // bytes of an upload
}

// SignIn is a name and a password.
type SignIn struct {
	SignIn   string `json:"sign_in" binding:"required,max=60"`
	Password string `json:"password" binding:"required,max=200"`
}

// FirstRun makes the barn and its pitmaster.
type FirstRun struct {
	Barn     string `json:"barn" binding:"required,max=60"`
	TimeZone string `json:"time_zone" binding:"required,max=60"`
	Name     string `json:"name" binding:"required,max=60"`
	SignIn   string `json:"sign_in" binding:"required,max=60"`
	Password string `json:"password" binding:"required,max=200"`
}

// NewPerson is an account to be made.
type NewPerson struct {
	Name     string     `json:"name" binding:"required,max=60"`
	Role     store.Role `json:"role" binding:"oneof=pitmaster crew"`
	SignIn   string     `json:"sign_in" binding:"required,max=60"`
	Password string     `json:"password" binding:"required,max=200"`
}

const leastPassword = 10

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
			return LanView{Info: lan.Info{Sites: []string{}, Trust: []string{}}}, nil
		}
		return LanView{On: true, Info: *s.lan}, nil
	})
	api.Handle(a, open, "GET", "/session", "getSession", 200, s.session)
	api.Handle(a, open, "POST", "/session", "signIn", 200, s.signIn)
	api.Handle(a, open, "DELETE", "/session", "signOut", 204, s.signOut)
	api.Handle(a, open, "POST", "/first-run", "firstRun", 201, s.firstRun)
	api.Handle(a, crew, "GET", "/people", "getPeople", 200, s.people)
	api.Handle(a, master, "POST", "/people", "addPerson", 201, s.addPerson)
	api.Handle(a, master, "PUT", "/barn", "setBarn", 204, s.setBarn)
}

func (s *Server) session(c *gin.Context, _ *api.None) (Session, error) {
	out := Session{MostFile: api.MostFile}
	barn, err := s.store.Barn(c)
	if errors.Is(err, store.ErrNotFound) {
		out.FirstRun = true
		return out, nil
	}
	if err != nil {
		return out, err
	}
	out.Barn = &barn
	if id := s.sessions.GetInt64(c.Request.Context(), "person"); id != 0 {
		p, err := s.store.Person(c, id)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return out, err
		}
		if err == nil {
			out.Person = &p
		}
	}
	return out, nil
}

func (s *Server) signIn(c *gin.Context, in *struct{ Body SignIn }) (store.Person, error) {
	if !s.signIns.Allow(c.ClientIP() + " " + strings.ToLower(in.Body.SignIn)) {
		return store.Person{}, api.Refuse(http.StatusTooManyRequests, "Too many tries for this name.", "Wait a minute, then try again.")
	}
	p, err := s.store.PersonBySignIn(c, in.Body.SignIn)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return p, err
	}
	if err != nil || !auth.Matches(in.Body.Password, p.PasswordHash) {
		return p, api.Refuse(http.StatusUnauthorized, "Name and password do not go together.", "Check both; a pitmaster can make a new account.")
	}
	return p, s.enter(c, p.ID)
}

func (s *Server) enter(c *gin.Context, id int64) error {
	if err := s.sessions.RenewToken(c.Request.Context()); err != nil {
		return err
	}
	s.sessions.Put(c.Request.Context(), "person", id)
	return nil
}

func (s *Server) signOut(c *gin.Context, _ *api.None) (api.None, error) {
	return api.None{}, s.sessions.Destroy(c.Request.Context())
}

func (s *Server) firstRun(c *gin.Context, in *struct{ Body FirstRun }) (store.Person, error) {
	var p store.Person
	if err := checkZone(in.Body.TimeZone); err != nil {
		return p, err
	}
	// Before the password is hashed, which is dear: this door is open to all.
	if _, err := s.store.Barn(c); !errors.Is(err, store.ErrNotFound) {
		if err == nil {
			err = api.Refuse(http.StatusConflict, "This barn has its pitmaster already.", "Sign in instead.")
		}
		return p, err
	}
	p, err := s.account(NewPerson{Name: in.Body.Name, Role: store.Pitmaster, SignIn: in.Body.SignIn, Password: in.Body.Password})
	if err != nil {
		return p, err
	}
	p.ID, err = s.store.FirstRun(c, store.Barn{Name: strings.TrimSpace(in.Body.Barn), TimeZone: in.Body.TimeZone}, p)
	if errors.Is(err, store.ErrConflict) {
		return p, api.Refuse(http.StatusConflict, "This barn has its pitmaster already.", "Sign in instead.")
	}
	if err != nil {
		return p, err
	}
	return p, s.enter(c, p.ID)
}

func checkZone(name string) error {
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		return fault.New("time_zone", "\""+name+"\" is not a time zone", "give a place like Europe/Oslo or America/New_York")
	}
	return nil
}

// account checks and hashes the password of a new account.
func (s *Server) account(n NewPerson) (store.Person, error) {
	if len([]rune(n.Password)) < leastPassword {
		return store.Person{}, fault.New("password", "the password is too short", "use 10 letters or more; three words do well")
	}
	hash, err := auth.Hash(n.Password, s.cost)
	return store.Person{Name: strings.TrimSpace(n.Name), Role: n.Role, SignIn: strings.TrimSpace(n.SignIn), PasswordHash: hash}, err
}

func (s *Server) people(c *gin.Context, _ *api.None) ([]store.Person, error) {
	return s.store.People(c)
}

func (s *Server) addPerson(c *gin.Context, in *struct{ Body NewPerson }) (store.Person, error) {
	p, err := s.account(in.Body)
	if err != nil {
		return p, err
	}
	p.ID, err = s.store.AddPerson(c, p)
	if errors.Is(err, store.ErrConflict) {
		return p, fault.New("sign_in", "that name or sign-in is taken", "add a letter of the family name")
	}
	return p, err
}

func (s *Server) setBarn(c *gin.Context, in *struct{ Body store.Barn }) (api.None, error) {
	b := in.Body
	if strings.TrimSpace(b.Name) == "" {
		return api.None{}, fault.New("name", "nothing is written", "give the barn a name")
	}
	if err := checkZone(b.TimeZone); err != nil {
		return api.None{}, err
	}
	if b.ElevationM < -430 || b.ElevationM > 5500 {
		return api.None{}, fault.New("elevation_m", "nobody smokes meat at that height", "give metres above the sea, -430 to 5500")
	}
	return api.None{}, s.store.SetBarn(c, who(c).ID, b)
}

const personKey = "person"

// signedIn lets through people with an account.
func (s *Server) signedIn(c *gin.Context) {
	id := s.sessions.GetInt64(c.Request.Context(), "person")
	p, err := s.store.Person(c, id)
	switch {
	case errors.Is(err, store.ErrNotFound):
		api.Fail(c, api.Refuse(http.StatusUnauthorized, "You are not signed in.", "Sign in and do it again; what you typed is still there."))
	case err != nil:
		api.Fail(c, err)
	default:
		c.Set(personKey, p)
	}
}

func pitmasterOnly(c *gin.Context) {
	if !c.IsAborted() && who(c).Role != store.Pitmaster {
		api.Fail(c, api.Refuse(http.StatusForbidden, "Only a pitmaster may do this.", "Ask one to do it, or to sign in here."))
	}
}

// who is the person behind a request that passed signedIn.
func who(c *gin.Context) store.Person {
	return c.MustGet(personKey).(store.Person)
}
