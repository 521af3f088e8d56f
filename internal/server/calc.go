package server

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/calc"
	"whitebarn/core/vocabulary"
	"whitebarn/internal/api"
	"whitebarn/internal/barn"
)

// Calculation names one calculation of the registry.
type Calculation struct {
	Name    string       `json:"name"`
	Subject string       `json:"subject"`
	Title   string       `json:"title"`
	Source  string       `json:"source"`
	Inputs  []calc.Field `json:"inputs"`
	Outputs []calc.Field `json:"outputs"`
	Example string       `json:"example"` // an input, as JSON
	Bound   string       `json:"bound"`   // from where on it is for who is signed in
}

// worked is an answer with its working.
type worked struct {
	Output  json.RawMessage `json:"output"`
	Working []calc.Step     `json:"working"`
}

// Bounds of a calculation that is asked for by itself.
const (
	mostCalcInput = 1 << 20
	longestCalc   = 10 * time.Second
)

func (s *Server) registerCalc(a *api.Routes, r *rooms) {
	api.Handle(a, r.anybody, "GET", "/vocabulary", "getVocabulary", 200, func(*gin.Context, *api.None) (vocabulary.Vocabulary, error) {
		return vocabulary.Of(), nil
	})
	api.Handle(a, r.anybody, "GET", "/calc", "listCalculations", 200, func(*gin.Context, *api.None) ([]Calculation, error) {
		out := make([]Calculation, len(calc.All))
		for i, c := range calc.All {
			example, err := c.Example()
			if err != nil {
				return nil, err
			}
			out[i] = Calculation{c.Name, c.Subject(), c.Title, c.Source, c.Inputs(), c.Outputs(), string(example), c.Bound}
		}
		return out, nil
	})
	// Every calculation has an input of its own, so these routes are not typed.
	r.anybody.Handle("POST", "/calc/:name", s.calculate)
	r.anybody.Handle("POST", "/calc/:name/working", s.working)
}

func (s *Server) calculate(c *gin.Context) {
	if _, _, out, ok := s.run(c); ok {
		c.Data(http.StatusOK, "application/json", out)
	}
}

// working answers with the formulas and the values in them, too.
func (s *Server) working(c *gin.Context) {
	calculation, input, out, ok := s.run(c)
	if !ok {
		return
	}
	steps, err := calculation.Working(input, out)
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.JSON(http.StatusOK, worked{out, steps})
}

// run computes what was asked, or answers why not.
func (s *Server) run(c *gin.Context) (calculation calc.Calculation, input, out []byte, ok bool) {
	calculation, ok = calc.Find(c.Param("name"))
	if !ok {
		api.Fail(c, api.Refuse(http.StatusNotFound, "There is no calculation "+c.Param("name")+".", "GET /api/calc lists them."))
		return calculation, nil, nil, false
	}
	input, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, mostCalcInput))
	if err != nil {
		api.Fail(c, api.Refuse(http.StatusRequestEntityTooLarge, "The input is over 1 MB.", "Send less at once."))
		return calculation, nil, nil, false
	}
	if calculation.Costly(input) {
		if s.signedIn(c); c.IsAborted() {
			return calculation, nil, nil, false
		}
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestCalc)
	defer cancel()
	if out, err = calculation.Run(ctx, input); errors.Is(err, context.DeadlineExceeded) {
		err = barn.Refuse("This takes too long to work out.", "Give less at once.")
	}
	if err != nil {
		api.Fail(c, err)
		return calculation, nil, nil, false
	}
	return calculation, input, out, true
}
