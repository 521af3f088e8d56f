package server

import (
	"crypto/rand"
	"net/http"
	"time"

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

type answered struct {
	tasteLink
	Body table.AnswerInput
}

type toldOf struct {
	tasteLink
	Body table.ToldInput
}

type doorCode struct {
	Code string `uri:"code" binding:"max=12"`
}

func (s *Server) registerTaste(a *api.Routes, r *rooms) {
	api.Handle(a, r.link, "GET", "/taste/:token", "getPlate", 200, func(c *gin.Context, in *tasteLink) (table.TasteView, error) {
		return s.atPlate(c, in.Token, func(t table.Taster, _ int64) (table.TasteView, error) { return table.Plate(c, s.Barn, t) })
	})
	api.Handle(a, r.link, "GET", "/taste/:token/record", "getGuestRecord", 200, func(c *gin.Context, in *tasteLink) (table.TasterRecord, error) {
		t, err := s.tasterOf(c, in.Token)
		if err == nil {
			_, err = table.PhoneOf(c, s.Barn, t, s.caller(c))
		}
		if err != nil {
			return table.TasterRecord{}, err
		}
		return table.GuestRecord(c, s.Barn, t)
	})
	api.Handle(a, r.link, "POST", "/taste/:token/open", "openPlate", 200, func(c *gin.Context, in *tasteLink) (table.TasteView, error) {
		t, err := s.tasterOf(c, in.Token)
		if err != nil {
			return table.TasteView{}, err
		}
		v, err := table.Open(c, s.Barn, t, s.caller(c))
		if err == nil && !t.Bound {
			s.tell(c, t.TrialID, trials.Table)
		}
		return v, err
	})
	api.Handle(a, r.link, "POST", "/taste/:token/consent", "consent", 200, func(c *gin.Context, in *tasteLink) (table.TasteView, error) {
		return s.atPlate(c, in.Token, func(t table.Taster, _ int64) (table.TasteView, error) { return table.Consent(c, s.Barn, t) })
	})
	api.Handle(a, r.link, "POST", "/taste/:token/samples/:code/seal", "seal", 200, func(c *gin.Context, in *sealed) (table.TasteView, error) {
		return s.changePlate(c, in.Token, func(t table.Taster, phone int64) (table.TasteView, error) {
			return table.Seal(c, s.Barn, t, phone, in.Code, in.Body)
		})
	})
	api.Handle(a, r.link, "POST", "/taste/:token/answer", "answerPlate", 200, func(c *gin.Context, in *answered) (table.TasteView, error) {
		return s.changePlate(c, in.Token, func(t table.Taster, phone int64) (table.TasteView, error) {
			return table.Answer(c, s.Barn, t, phone, in.Body)
		})
	})
	api.Handle(a, r.link, "POST", "/taste/:token/told", "tellTaster", 200, func(c *gin.Context, in *toldOf) (table.TasteView, error) {
		return s.atPlate(c, in.Token, func(t table.Taster, _ int64) (table.TasteView, error) { return table.Tell(c, s.Barn, t, in.Body) })
	})
	api.Handle(a, r.link, "GET", "/join/:code", "getDoor", 200, func(c *gin.Context, in *doorCode) (table.Doorway, error) {
		d, err := s.doorOf(c, in.Code)
		if err != nil {
			return table.Doorway{}, err
		}
		return table.Welcome(c, s.Barn, d, s.keyIn(c, guestCookie))
	})
	api.Handle(a, r.link, "POST", "/join", "joinTable", 201, func(c *gin.Context, in *barn.Of[table.JoinInput]) (table.Joined, error) {
		d, err := s.doorOf(c, in.Body.Code)
		if err != nil {
			return table.Joined{}, err
		}
		guest := ""
		if in.Body.Remember {
			guest = s.keyOf(c, guestCookie)
		}
		out, err := table.Join(c, s.Barn, d, in.Body, s.caller(c), guest)
		if err == nil {
			s.tell(c, d.TrialID, trials.Table, trials.Steps)
		}
		return out, err
	})
}

// tasterOf finds the taster behind a link; whoever tries many wrong ones has to wait.
func (s *Server) tasterOf(c *gin.Context, token string) (table.Taster, error) {
	t, signed, err := table.TasterOf(c, s.Barn, token)
	if !signed && !s.links.Allow(c.ClientIP()) {
		err = barn.RefuseAs(barn.TooOften, "Too many wrong links.", "Wait a minute, then scan your code again.")
	}
	return t, err
}

// doorOf finds the table behind a code; whoever tries many wrong ones has to wait.
func (s *Server) doorOf(c *gin.Context, code string) (table.GuestDoor, error) {
	d, known, err := table.Door(c, s.Barn, code)
	if !known && !s.links.Allow(c.ClientIP()) {
		err = barn.RefuseAs(barn.TooOften, "Too many wrong codes.", "Wait a minute, then read the code again.")
	}
	return d, err
}

// atPlate finds the taster behind a link, on their own phone.
func (s *Server) atPlate(c *gin.Context, token string, do func(table.Taster, int64) (table.TasteView, error)) (table.TasteView, error) {
	t, err := s.tasterOf(c, token)
	if err != nil {
		return table.TasteView{}, err
	}
	phone, err := table.PhoneOf(c, s.Barn, t, s.caller(c))
	if err != nil {
		return table.TasteView{}, err
	}
	return do(t, phone)
}

// changePlate is atPlate for what others at the table see the progress of.
func (s *Server) changePlate(c *gin.Context, token string, do func(table.Taster, int64) (table.TasteView, error)) (table.TasteView, error) {
	return s.atPlate(c, token, func(t table.Taster, phone int64) (table.TasteView, error) {
		v, err := do(t, phone)
		if err == nil {
			s.tell(c, t.TrialID, trials.Table)
		}
		return v, err
	})
}

// The cookies of a phone at the table: the key its page is bound to, and that by which a
// guest is known again.
const (
	phoneCookie = "plate"
	guestCookie = "guest"
	keptFor     = 400 * 24 * time.Hour // as long as browsers keep one
)

// caller is the phone that asks.
func (s *Server) caller(c *gin.Context) table.Caller {
	out := table.Caller{Key: s.keyOf(c, phoneCookie), Agent: shortened(c.Request.UserAgent(), 200), Address: c.ClientIP()}
	if of := s.sessionOf(c.Request.Context()); of.Person != 0 {
		if p, err := s.People.SignedIn(c, of); err == nil {
			out.Person = &p
		}
	}
	return out
}

func shortened(text string, most int) string { return text[:min(len(text), most)] }

// keyIn is the key that a phone keeps; empty while it keeps none.
func (s *Server) keyIn(c *gin.Context, name string) string {
	key, err := c.Cookie(s.phoneKey(c, name).Name)
	if err != nil || len(key) < 20 || len(key) > 64 {
		return ""
	}
	return key
}

// keyOf is the key that a phone keeps; it is given one if it has none.
func (s *Server) keyOf(c *gin.Context, name string) string {
	if key := s.keyIn(c, name); key != "" {
		return key
	}
	cookie := s.phoneKey(c, name)
	cookie.Value = rand.Text()
	http.SetCookie(c.Writer, cookie)
	return cookie.Value
}

// phoneKey is the cookie of a phone at the table, without its value: on the plain port it is
// another one than over HTTPS.
func (s *Server) phoneKey(c *gin.Context, name string) *http.Cookie {
	out := &http.Cookie{Name: name, Path: "/api/", MaxAge: int(keptFor.Seconds()), HttpOnly: true, SameSite: http.SameSiteLaxMode}
	if c.Request.TLS != nil || s.lan == nil && s.secure() {
		out.Name, out.Path, out.Secure = s.cookie(name), "/", true
	}
	return out
}
