package server

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/skip2/go-qrcode"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/table"
)

// CalendarLink is the address a calendar can subscribe to.
type CalendarLink struct {
	URL string `json:"url"`
}

// numbered is the number in the address of what is no JSON; false: it was answered.
func numbered(c *gin.Context) (int64, bool) {
	var in barn.ByID
	if err := c.ShouldBindUri(&in); err != nil {
		noRoute(c)
		return 0, false
	}
	return in.ID, true
}

func (s *Server) photo(c *gin.Context) {
	id, ok := numbered(c)
	if !ok {
		return
	}
	p, err := fire.Photo(c, s.Barn, id)
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, p.Media, p.Bytes)
}

// cutQR draws the address of a cut's slip, for its label.
func (s *Server) cutQR(c *gin.Context) {
	if id, ok := numbered(c); ok {
		path, err := match.SlipPath(c, s.Barn, id)
		s.drawQR(c, path, err)
	}
}

// tasterQR draws the link of a taster for a phone's camera.
func (s *Server) tasterQR(c *gin.Context) {
	if id, ok := numbered(c); ok {
		path, err := table.TasterPath(c, s.Barn, who(c), id)
		s.drawGuestQR(c, path, err)
	}
}

// doorQR draws the page on which guests seat themselves.
func (s *Server) doorQR(c *gin.Context) {
	if id, ok := numbered(c); ok {
		path, err := table.DoorPath(c, s.Barn, id)
		s.drawGuestQR(c, path, err)
	}
}

// drawGuestQR draws a path where guests come in.
func (s *Server) drawGuestQR(c *gin.Context, path string, err error) {
	site := ""
	if err == nil {
		site, err = s.guestSite(c)
	}
	s.drawQR(c, site+path, err)
}

// drawQR answers with the code of an address, one of this site where it is a path alone.
func (s *Server) drawQR(c *gin.Context, to string, err error) {
	if err != nil {
		api.Fail(c, err)
		return
	}
	if strings.HasPrefix(to, "/") {
		to = s.address(c) + to
	}
	drawCode(c, to)
}

func drawCode(c *gin.Context, text string) {
	png, err := codeOf(text)
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "image/png", png)
}

// codeOf draws a text for a phone's camera.
func codeOf(text string) ([]byte, error) { return qrcode.Encode(text, qrcode.Medium, 240) }

func (s *Server) calendarLink(c *gin.Context, in *barn.ByID) (CalendarLink, error) {
	token, err := plan.CalendarToken(c, s.Barn, in.ID)
	return CalendarLink{fmt.Sprintf("%s/api/calendar/%s.ics", s.address(c), token)}, err
}

// calendar answers with a cook's tasks to whoever has its link: a calendar
// program cannot sign in.
func (s *Server) calendar(c *gin.Context) {
	if !s.links.Allow(c.ClientIP()) {
		api.Fail(c, barn.RefuseAs(barn.TooOften, "Too many tries.", "Wait a minute."))
		return
	}
	out, err := s.Planner.Calendar(c, s.Barn, strings.TrimSuffix(c.Param("token"), ".ics"), s.address(c))
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="cook.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", out)
}
