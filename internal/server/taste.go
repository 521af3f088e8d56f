package server

import (
	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
)

// tasteLink is the path of a taster's page.
type tasteLink struct {
	Token string `uri:"token" binding:"max=80"`
}

type sealed struct {
	tasteLink
	Code string `uri:"code" binding:"len=3"`
	Body table.SealInput
}

type toldOf struct {
	tasteLink
	Body table.ToldInput
}

func (s *Server) registerTaste(a *api.Routes, open *gin.RouterGroup) {
	api.Handle(a, open, "GET", "/taste/:token", "getPlate", 200, func(c *gin.Context, in *tasteLink) (v table.TasteView, err error) {
		return s.atPlate(c, in.Token, func(t table.Taster) (table.TasteView, error) { return table.Plate(c, s.Barn, t) })
	})
	api.Handle(a, open, "POST", "/taste/:token/samples/:code/seal", "seal", 200, func(c *gin.Context, in *sealed) (table.TasteView, error) {
		return s.atPlate(c, in.Token, func(t table.Taster) (table.TasteView, error) {
			v, err := table.Seal(c, s.Barn, t, in.Code, in.Body)
			if err == nil {
				s.tell(c, t.TrialID, trials.Table)
			}
			return v, err
		})
	})
	api.Handle(a, open, "POST", "/taste/:token/told", "tellTaster", 200, func(c *gin.Context, in *toldOf) (table.TasteView, error) {
		return s.atPlate(c, in.Token, func(t table.Taster) (table.TasteView, error) { return table.Tell(c, s.Barn, t, in.Body) })
	})
}

// atPlate finds the taster behind a link; whoever tries many wrong ones has to wait.
func (s *Server) atPlate(c *gin.Context, token string, do func(table.Taster) (table.TasteView, error)) (table.TasteView, error) {
	t, signed, err := table.TasterOf(c, s.Barn, token)
	if !signed && !s.links.Allow(c.ClientIP()) {
		err = barn.RefuseAs(barn.TooOften, "Too many wrong links.", "Wait a minute, then scan your code again.")
	}
	if err != nil {
		return table.TasteView{}, err
	}
	return do(t)
}
