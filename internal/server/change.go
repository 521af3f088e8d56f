package server

import (
	"reflect"
	"strings"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
)

// door is where a change of a trial's record comes in: whose number the address has, what
// it touches, and what a verdict calls it.
type door struct {
	of       string // trial, cut, cook, ...
	kind     guard.Kind
	what     string
	corrects bool
}

// changing is the change that a request makes, while it makes it.
type changing struct {
	trialID int64
	state   guard.State
}

// within is the server within the transaction of a change.
func (s *Server) within(tx *store.Store, to changing) *Server {
	in := *s
	in.store, in.changing = tx, to
	in.planner, in.desk, in.gate = s.planner.Within(tx), settle.New(tx), gate.New(tx, s.now)
	return &in
}

// alter registers a handler that changes a trial's record: guard, check, write and answer
// are one transaction.
func alter[In, Out any](s *Server, a *api.Routes, g *gin.RouterGroup, d door, method, path, id string, status int, h func(*Server,
	*gin.Context, *In) (Out, error)) {
	s.doors[method+" "+g.BasePath()+path] = d
	api.Handle(a, g, method, path, id, status, func(c *gin.Context, in *In) (out Out, err error) {
		trialID, err := s.trialOf(c, d.of, in)
		if err != nil {
			return out, err
		}
		change := guard.Change{TrialID: trialID, Kind: d.kind, Who: who(c), What: d.what, Why: whyOf(in), Corrects: d.corrects}
		err = guard.Within(c, s.store, change, func(tx *store.Store, state guard.State) error {
			out, err = h(s.within(tx, changing{trialID, state}), c, in)
			return err
		})
		if err == nil && d.kind == guard.Record {
			err = s.desk.Anew(c, trialID)
		}
		return out, err
	})
}

// trialOf finds the trial that an input is about.
func (s *Server) trialOf(c *gin.Context, of string, in any) (int64, error) {
	switch v := in.(type) {
	case interface{ number() int64 }:
		if of == "trial" {
			return v.number(), nil
		}
		return s.store.TrialOf(c, of, v.number())
	case interface{ press() string }:
		return s.store.TrialOfPress(c, v.press())
	}
	return 0, store.ErrNotFound
}

func (b byID) number() int64    { return b.ID }
func (p pressID) press() string { return p.Press }

// whyOf is the reason that an input gives: the field Why of its body, if it has one.
func whyOf(in any) string {
	body := reflect.ValueOf(in).Elem().FieldByName("Body")
	if !body.IsValid() || body.Kind() != reflect.Struct {
		return ""
	}
	why := body.FieldByName("Why")
	if !why.IsValid() || why.Kind() != reflect.String {
		return ""
	}
	return strings.TrimSpace(why.String())
}
