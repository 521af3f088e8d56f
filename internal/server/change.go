package server

import (
	"context"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/trials"
)

// alter registers a change of a trial's record. It answers the parts that it touches, and
// lets all browsers know of them.
func alter[In any](s *Server, a *api.Routes, g *room, method, path, id string, status int, use barn.Case[In, barn.None], parts ...trials.Part) {
	then(s, a, g, method, path, id, status, use, func(ctx context.Context, trialID int64, _ barn.None) (trials.TrialParts, error) {
		return s.Trials.Parts(ctx, trialID, parts...)
	}, parts...)
}

// give registers a change that answers what it made.
func give[In, Out any](s *Server, a *api.Routes, g *room, method, path, id string, status int, use barn.Case[In, Out], parts ...trials.Part) {
	then(s, a, g, method, path, id, status, use, func(_ context.Context, _ int64, out Out) (Out, error) { return out, nil }, parts...)
}

// then registers a change, and what is read after it for the answer.
func then[In, Out, Answer any](s *Server, a *api.Routes, g *room, method, path, id string, status int, use barn.Case[In, Out],
	read func(context.Context, int64, Out) (Answer, error), parts ...trials.Part) {
	s.doors[method+" "+g.BasePath()+path] = use.Door
	api.Handle(a, g, method, path, id, status, func(c *gin.Context, in *In) (answer Answer, err error) {
		trialID, out, err := use.Do(sent(c), s.Barn, who(c), in)
		if err != nil {
			return answer, err
		}
		s.tell(c, trialID, parts...)
		return read(c, trialID, out)
	})
}

// own registers a change of what is the barn's own, and tells of it by that name.
func own[In, Out any](s *Server, a *api.Routes, g *room, method, path, id string, status int,
	make func(context.Context, *barn.Act, *In) (Out, error), what ...trials.Part) {
	api.Handle(a, g, method, path, id, status, func(c *gin.Context, in *In) (Out, error) {
		out, err := barn.Own(sent(c), s.Barn, who(c), in, make)
		if err == nil {
			s.tell(c, 0, what...)
		}
		return out, err
	})
}

// sent is the context of a request with the number it is sent under, if any: a client that
// got no answer sends it again, and it counts once.
func sent(c *gin.Context) context.Context {
	number, err := uuid.Parse(c.GetHeader("Barn-Request"))
	if err != nil {
		return c
	}
	return barn.Numbered(c, number.String())
}

// tell lets the browsers of all servers know what changed; at worst they see it later.
func (s *Server) tell(ctx context.Context, trialID int64, parts ...trials.Part) {
	if len(parts) > 0 {
		names := make([]string, len(parts))
		for i, p := range parts {
			names[i] = string(p)
		}
		s.Hub.Changed(ctx, trialID, names...)
	}
}

// read registers what the barn is asked for.
func read[Out any](s *Server, a *api.Routes, g *room, path, id string, f func(context.Context, *barn.Barn) (Out, error)) {
	api.Handle(a, g, "GET", path, id, 200, func(c *gin.Context, _ *api.None) (Out, error) { return f(c, s.Barn) })
}

// readBy registers what is asked for by its number.
func readBy[Out any](s *Server, a *api.Routes, g *room, path, id string, f func(context.Context, *barn.Barn, int64) (Out, error)) {
	api.Handle(a, g, "GET", path, id, 200, func(c *gin.Context, in *barn.ByID) (Out, error) { return f(c, s.Barn, in.ID) })
}

// work registers what is worked out of an input, and keeps nothing.
func work[In, Out any](s *Server, a *api.Routes, g *room, method, path, id string, f func(context.Context, *barn.Barn, *In) (Out, error)) {
	api.Handle(a, g, method, path, id, 200, func(c *gin.Context, in *In) (Out, error) { return f(c, s.Barn, in) })
}

// who is the person behind a request that passed signedIn.
func who(c *gin.Context) people.Person { return c.MustGet(personKey).(people.Person) }
