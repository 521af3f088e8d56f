package server

import (
	"bytes"
	"context"
	"net/http"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/book"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/exchange"
)

// registerBook adds the House Book: cards, what is known, and what to try next.
func (s *Server) registerBook(a *api.Routes, r *rooms) {
	read(s, a, r.crew, "/book/cards", "getCards", s.Book.Cards)
	readBy(s, a, r.crew, "/book/cards/:id", "getCard", s.Book.Card)
	read(s, a, r.crew, "/book/map", "getMap", s.Book.Map)
	work(s, a, r.crew, "GET", "/book/know", "getKnown", s.Book.Know)
	own(s, a, r.master, "POST", "/book/versions", "writeVersion", 201, s.Book.Write, "book")
	own(s, a, r.master, "POST", "/book/versions/:id/fail", "failVersion", 200, s.Book.Fail, "book")
	own(s, a, r.crew, "POST", "/book/versions/:id/sign", "signVersion", 200, s.Book.Sign, "book")
	own(s, a, r.master, "POST", "/book/versions/:id/unsign", "unsignVersion", 200, s.Book.Unsign, "book")
	readBy(s, a, r.crew, "/book/versions/:id/against", "getAgainst", s.Book.Against)
	starts(s, a, r.master, "/book/cards/:id/reopen", "reopenCard", s.Book.Reopen)
	starts(s, a, r.master, "/book/versions/:id/cook", "cookVersion", s.Book.Cook)
	starts(s, a, r.master, "/trials/:id/next", "startNext", s.Book.Start)
	work(s, a, r.crew, "GET", "/trials/:id/next", "getNext", s.Book.Proposed)
	work(s, a, r.crew, "POST", "/trials/:id/simulate", "simulateTrials", s.Book.Simulate)
	readBy(s, a, r.crew, "/trials/:id/ghosts", "getGhosts", s.Book.Ghosts)
	readBy(s, a, r.crew, "/cooks/:id/shape", "getShape", s.Book.Shape)
	readBy(s, a, r.crew, "/trials/:id/report.json", "getReport", s.Book.Report)
	r.crew.Handle("GET", "/trials/:id/report.html", s.report)
	alter(s, a, r.crew, "POST", "/trials/:id/simulated-tasters", "simulateTasters", 200, book.Taste, trials.Table, trials.Steps)
}

// starts registers what makes a trial of something else.
func starts[In any](s *Server, a *api.Routes, g *room, path, id string, make func(context.Context, *barn.Act, *In) (book.Cooking, error)) {
	api.Handle(a, g, "POST", path, id, 201, func(c *gin.Context, in *In) (book.Cooking, error) {
		out, err := barn.Own(c, s.Barn, who(c), in, make)
		if err == nil {
			s.tell(c, out.TrialID, trials.All...)
		}
		return out, err
	})
}

// report answers with a settled trial as one page that needs nothing else.
func (s *Server) report(c *gin.Context) {
	id, ok := numbered(c)
	if !ok {
		return
	}
	r, err := s.Book.Report(c, s.Barn, id)
	var page bytes.Buffer
	if err == nil {
		err = exchange.WriteReport(&page, r, s.fonts)
	}
	if err != nil {
		api.Fail(c, err)
		return
	}
	// Its own style and pictures are in it, and nothing else may be.
	c.Header("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; base-uri 'none'; "+
		"form-action 'none'; frame-ancestors 'none'")
	c.Data(http.StatusOK, "text/html; charset=utf-8", page.Bytes())
}
