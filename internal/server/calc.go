package server

import (
	"io"
	"net/http"

	"github.com/gin-gonic/gin"

	"whitebarn/core/calc"
	"whitebarn/internal/rest"
)

// Calculation names one calculation of the registry.
type Calculation struct {
	Name   string `json:"name"`
	Title  string `json:"title"`
	Source string `json:"source"`
}

const mostCalcInput = 1 << 20

func (s *Server) registerCalc(a *rest.API, engine *gin.Engine) {
	open := engine.Group("/api")
	rest.Handle(a, open, "GET", "/calc", "listCalculations", 200, func(*gin.Context, *rest.None) ([]Calculation, error) {
		out := make([]Calculation, len(calc.All))
		for i, c := range calc.All {
			out[i] = Calculation{c.Name, c.Title, c.Source}
		}
		return out, nil
	})
	// Every calculation has an input of its own, so this one route is not typed.
	open.POST("/calc/:name", s.calculate)
}

func (s *Server) calculate(c *gin.Context) {
	calculation, ok := calc.Find(c.Param("name"))
	if !ok {
		rest.Fail(c, rest.Refuse(http.StatusNotFound, "There is no calculation "+c.Param("name")+".", "GET /api/calc lists them."))
		return
	}
	input, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, mostCalcInput))
	if err != nil {
		rest.Fail(c, rest.Refuse(http.StatusRequestEntityTooLarge, "The input is over 1 MB.", "Send less at once."))
		return
	}
	out, err := calculation.Run(input)
	if err != nil {
		rest.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "application/json", out)
}
