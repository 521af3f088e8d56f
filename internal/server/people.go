package server

import (
	"context"
	"encoding/base64"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
)

// OwnDevice is where somebody is signed in.
type OwnDevice struct {
	Since time.Time `json:"since"`
	Agent string    `json:"agent"` // as the browser names itself
	Here  bool      `json:"here"`  // it is this one
}

// registerPeople adds who works here: invitations, roles, leaving, and what each does of their
// own account.
func (s *Server) registerPeople(a *api.Routes, r *rooms) {
	api.Handle(a, r.crew, "GET", "/people", "getPeople", 200, func(c *gin.Context, _ *api.None) ([]people.Member, error) {
		return people.Members(c, s.Barn, who(c))
	})
	links(s, a, r.master, "/people", "invite", people.Invite)
	links(s, a, r.master, "/people/:id/link", "makeLink", people.MakeLink)
	own(s, a, r.master, "PUT", "/people/:id", "setPlace", 204, people.SetPlace, "people", "session")
	ends(s, a, r.master, "/people/:id/leave", "leaveCrew", people.Go)
	ends(s, a, r.master, "/people/:id/sign-out", "signOutPerson", people.SignOutAll)
	api.Handle(a, r.link, "POST", "/enter/look", "lookAtLink", 200, func(c *gin.Context, in *barn.Of[people.EntryToken]) (people.Entering, error) {
		if err := s.tryLink(c); err != nil {
			return people.Entering{}, err
		}
		return s.People.LookAt(c, in.Body.Token)
	})
	api.Handle(a, r.link, "POST", "/enter", "enter", 200, func(c *gin.Context, in *barn.Of[people.EnterInput]) (people.Person, error) {
		if err := s.tryLink(c); err != nil {
			return people.Person{}, err
		}
		p, err := s.People.Enter(c, in.Body)
		if err == nil {
			s.ended(c) // their other sessions, if this was a reset
			err = s.enter(c, p, "link")
		}
		return p, err
	})
	own(s, a, r.crew, "PUT", "/me/units", "setUnits", 204, people.SetUnits, "session")
	api.Handle(a, r.crew, "PUT", "/me/password", "changePassword", 200, func(c *gin.Context, in *barn.Of[people.NewPassword]) (people.Person, error) {
		if err := s.tryOwn(c); err != nil {
			return people.Person{}, err
		}
		p, err := s.People.ChangePassword(c, who(c), in.Body)
		return p, s.another(c, p, err)
	})
	api.Handle(a, r.crew, "POST", "/me/sign-out", "signOutOthers", 200, func(c *gin.Context, _ *api.None) (people.Person, error) {
		p, err := s.People.EndOthers(c, who(c))
		return p, s.another(c, p, err)
	})
	api.Handle(a, r.crew, "GET", "/me/devices", "getOwnDevices", 200, func(c *gin.Context, _ *api.None) ([]OwnDevice, error) { return s.devicesOf(c) })
	api.Handle(a, r.crew, "GET", "/history", "getHistory", 200, func(c *gin.Context, in *people.HistoryQuery) (people.Deeds, error) {
		return people.History(c, s.Barn, who(c), in)
	})
	read(s, a, r.master, "/guests", "getGuests", people.Guests)
	own(s, a, r.master, "POST", "/guests/:id/forget", "forgetGuest", 204, people.Forget, "people")
}

// another begins this session anew after all of the person's were ended.
func (s *Server) another(c *gin.Context, p people.Person, err error) error {
	if err != nil {
		return err
	}
	s.ended(c)
	if bearer(c) != "" {
		return nil // a script has none
	}
	return s.enter(c, p, "anew")
}

// ended lets the pages of ended sessions ask who they are, then ends their streams.
func (s *Server) ended(c *gin.Context) {
	s.tell(c, 0, "people", "session")
	s.Hub.SignedOut(c)
}

// tryLink slows down who tries links.
func (s *Server) tryLink(c *gin.Context) error {
	if !s.links.Allow(c.ClientIP()) {
		return barn.RefuseAs(barn.TooOften, "Too many links were tried.", "Wait a minute, then open the link again.")
	}
	return nil
}

// tryOwn slows down who tries passwords in somebody's open session.
func (s *Server) tryOwn(c *gin.Context) error {
	if !s.signIns.Allow(c.ClientIP() + " " + who(c).SignIn) {
		return barn.RefuseAs(barn.TooOften, "Too many tries.", "Wait a minute, then try again.")
	}
	return nil
}

// links registers what makes a link for somebody, and draws it.
func links[In any](s *Server, a *api.Routes, g *room, path, id string, make func(context.Context, *barn.Act, *In) (people.Entry, error)) {
	api.Handle(a, g, "POST", path, id, 201, func(c *gin.Context, in *In) (people.Entry, error) {
		e, err := barn.Own(c, s.Barn, who(c), in, make)
		if err != nil {
			return e, err
		}
		s.tell(c, 0, "people")
		e.Link = s.siteOf(c) + "/enter#" + e.Token
		png, err := codeOf(e.Link)
		e.Code = base64.StdEncoding.EncodeToString(png)
		return e, err
	})
}

// ends registers what ends somebody's sessions.
func ends[In any](s *Server, a *api.Routes, g *room, path, id string, f func(context.Context, *barn.Act, *In) (barn.None, error)) {
	api.Handle(a, g, "POST", path, id, 204, func(c *gin.Context, in *In) (barn.None, error) {
		out, err := barn.Own(c, s.Barn, who(c), in, f)
		if err == nil {
			s.ended(c)
		}
		return out, err
	})
}

// devicesOf lists where one is signed in, the latest first.
func (s *Server) devicesOf(c *gin.Context) ([]OwnDevice, error) {
	out := []OwnDevice{}
	mine := people.Begin(who(c))
	here := c.Request.Context()
	err := s.sessions.Iterate(c, func(ctx context.Context) error {
		if s.sessionOf(ctx) == mine {
			d := OwnDevice{Since: time.Unix(s.sessions.GetInt64(ctx, sinceKey), 0).UTC(), Agent: s.sessions.GetString(ctx, agentKey)}
			d.Here = s.sessions.GetInt64(here, sinceKey) == d.Since.Unix() && s.sessions.GetString(here, agentKey) == d.Agent
			out = append(out, d)
		}
		return nil
	})
	slices.SortFunc(out, func(a, b OwnDevice) int { return b.Since.Compare(a.Since) })
	return out, err
}
