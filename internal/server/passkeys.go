package server

import (
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
)

// What a session keeps of a passkey that was asked for, once.
const (
	askedKey = "asked"
	askedFor = 10 * time.Minute // how long a stranger's is kept; who comes in has one of the usual length
)

func (s *Server) registerPasskeys(a *api.Routes, r *rooms) {
	api.Handle(a, r.crew, "GET", "/me/passkeys", "getPasskeys", 200, func(c *gin.Context, _ *api.None) ([]people.Passkey, error) {
		return s.People.Passkeys(c, who(c))
	})
	api.Handle(a, r.crew, "POST", "/me/passkeys/begin", "startPasskey", 200,
		func(c *gin.Context, in *barn.Of[people.PasskeyStart]) (people.PasskeyAsk, error) {
			if err := s.tryOwn(c); err != nil {
				return people.PasskeyAsk{}, err
			}
			ask, kept, err := s.People.StartPasskey(c, who(c), in.Body, s.opened(c))
			s.sessions.Put(c.Request.Context(), askedKey, kept)
			return ask, err
		})
	api.Handle(a, r.crew, "POST", "/me/passkeys", "finishPasskey", 204, func(c *gin.Context, in *barn.Of[people.PasskeyMade]) (api.None, error) {
		return api.None{}, s.People.FinishPasskey(c, who(c), in.Body, s.sessions.PopString(c.Request.Context(), askedKey), s.opened(c))
	})
	own(s, a, r.crew, "DELETE", "/me/passkeys/:id", "endPasskey", 204, people.EndPasskey, "people")
	api.Handle(a, r.anybody, "POST", "/passkeys/begin", "askPasskey", 200,
		func(c *gin.Context, _ *api.None) (people.PasskeyAsk, error) {
			if err := s.tryLink(c); err != nil {
				return people.PasskeyAsk{}, err
			}
			ask, kept, err := s.People.AskPasskey(s.opened(c))
			if err != nil {
				return ask, err
			}
			s.sessions.Put(c.Request.Context(), askedKey, kept)
			if s.sessionOf(c.Request.Context()).Person == 0 {
				s.sessions.SetDeadline(c.Request.Context(), time.Now().Add(askedFor))
			}
			return ask, nil
		})
	api.Handle(a, r.anybody, "POST", "/passkeys", "signInByPasskey", 200,
		func(c *gin.Context, in *barn.Of[people.PasskeyGiven]) (people.Person, error) {
			if err := s.tryLink(c); err != nil {
				return people.Person{}, err
			}
			p, err := s.People.ByPasskey(c, in.Body, s.sessions.PopString(c.Request.Context(), askedKey), s.opened(c))
			if err != nil {
				return p, err
			}
			return p, s.enter(c, p, "passkey")
		})
}

// opened is what the page that asks was opened by.
func (s *Server) opened(c *gin.Context) people.Site {
	return people.Site{Scheme: s.scheme(c), Host: c.Request.Host}
}
