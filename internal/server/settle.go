package server

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"whitebarn/core/settle"
	"whitebarn/internal/api"
)

func (s *Server) settle(c *gin.Context, in *byID) (settle.Result, error) {
	t, err := s.store.Trial(c, in.ID)
	if err != nil {
		return settle.Result{}, err
	}
	if t.RevealedAt == nil {
		return settle.Result{}, api.Refuse(http.StatusConflict, "The codes are still closed.", "Lock every ballot and open them on the Table.")
	}
	return s.desk.Of(c, in.ID)
}
