package server

import (
	"bytes"
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/services"
)

// Rule says who may ask for a route. What is refused besides, as somebody else's own, its use
// case says.
type Rule string

// The rules, from the widest.
const (
	Anybody    Rule = "anybody"
	HereAlone  Rule = "this machine"
	ByLink     Rule = "holder of a link"
	Devices    Rule = "device"
	WholeCrew  Rule = "crew"
	ForArms    Rule = "trusted with arms"
	ForPits    Rule = "trusted with pits"
	ForPantry  Rule = "trusted with pantry"
	Pitmasters Rule = "pitmaster"
)

// trustOf is what the pitmaster trusts those with who may ask beside him.
var trustOf = map[Rule]people.Trust{ForArms: people.Arms, ForPits: people.Pits, ForPantry: people.Pantry}

// room registers routes that the same people may ask.
type room struct {
	of    *gin.RouterGroup
	rule  Rule
	rules map[string]Rule
}

// BasePath is what its paths begin with.
func (r *room) BasePath() string { return r.of.BasePath() }

// Handle registers a route under the room's rule.
func (r *room) Handle(method, path string, h ...gin.HandlerFunc) gin.IRoutes {
	base := r.of.BasePath()
	if base == "/" {
		base = ""
	}
	r.rules[method+" "+base+path] = r.rule
	return r.of.Handle(method, path, h...)
}

// rooms are all routes, by who may ask for them.
type rooms struct {
	site, here               *room // outside the API
	anybody, link, device    *room // who asks is found out by each route
	crew, arms, pits, pantry *room
	master                   *room
}

func (s *Server) roomsOf(engine *gin.Engine) *rooms {
	s.rules = map[string]Rule{}
	under := func(base string, rule Rule, checks ...gin.HandlerFunc) *room {
		return &room{engine.Group(base, checks...), rule, s.rules}
	}
	signedIn := func(rule Rule) *room { return under("/api", rule, s.signedIn, allowed(rule)) }
	return &rooms{
		site: under("/", Anybody), here: under("/", HereAlone),
		anybody: under("/api", Anybody), link: under("/api", ByLink), device: under("/api", Devices),
		crew: signedIn(WholeCrew), arms: signedIn(ForArms), pits: signedIn(ForPits), pantry: signedIn(ForPantry), master: signedIn(Pitmasters),
	}
}

// allowed lets those of the signed in through who may by a rule.
func allowed(rule Rule) gin.HandlerFunc {
	return func(c *gin.Context) {
		if c.IsAborted() || rule == WholeCrew {
			return
		}
		var err error
		if trust, some := trustOf[rule]; some {
			err = barn.MayWith(who(c), trust)
		} else if who(c).Role != people.Pitmaster {
			err = barn.RefuseAs(barn.NotYours, "Only a pitmaster may do this.", "Ask one to do it, or to sign in here.")
		}
		if err != nil {
			api.Fail(c, err)
		}
	}
}

// besides is what a route's use case asks for more than its rule.
var besides = map[string]string{
	"GET /api/flights/:id/key":                  "the flight's carver alone",
	"GET /api/tasters/:id/qr.png":               "not who carves for the taster",
	"GET /api/trials/:id/links":                 "not those of whom one carves for",
	"GET /api/people/:id/record":                "one's own; the pitmaster everybody's",
	"GET /api/people":                           "sign-in names: one's own; the pitmaster everybody's",
	"GET /api/history":                          "passwords, links and passkeys: one's own; the pitmaster everybody's",
	"GET /api/trials/:id/panel":                 "names of tasters: the pitmaster",
	"POST /api/trials/:id/cuts":                 "into an arm: who is trusted with arms",
	"PUT /api/cuts/:id":                         "into another arm: who is trusted with arms; under the fire the pitmaster, with a reason",
	"POST /api/cuts/:id/void":                   "out of an arm: who is trusted with arms",
	"POST /api/trials/:id/paste/cuts":           "into arms: who is trusted with arms",
	"POST /api/trials/:id/unvoid":               "a cut of an arm: who is trusted with arms; a flight: the pitmaster; within ten minutes",
	"PUT /api/trials/:id/meat":                  "milder: the pitmaster, with a reason",
	"POST /api/pending-changes/:id/sign":        "another than who asked",
	"POST /api/book/versions/:id/sign":          "another than who wrote it, where the crew has two",
	"POST /api/taste/:token/open":               "binds the link to the phone that opens it first",
	"GET /api/taste/:token":                     "on the phone the link is bound to",
	"GET /api/taste/:token/record":              "on the phone the link is bound to",
	"POST /api/taste/:token/answer":             "on the phone the link is bound to",
	"POST /api/taste/:token/consent":            "on the phone the link is bound to",
	"POST /api/taste/:token/told":               "on the phone the link is bound to",
	"POST /api/taste/:token/samples/:code/seal": "on the phone the link is bound to",
	"GET /metrics":                              "or a script that may read",
	"POST /api/first-run":                       "while there is no barn yet",
	"POST /api/calc/:name":                      "beyond the bound that each states: who is signed in",
	"POST /api/calc/:name/working":              "beyond the bound that each states: who is signed in",
	"PUT /api/me/password":                      "with the password one has",
	"POST /api/me/passkeys/begin":               "with one's password",
	"DELETE /api/me/passkeys/:id":               "one's own",
	"POST /api/session":                         "ten tries of a name at once, then one in six seconds",
	"GET /ready":                                "more than whether it is: this machine, or a script that may read",
}

// roles are the columns of the table of Access, and what each may by a rule.
var roles = []struct {
	name string
	may  map[Rule]string
}{
	{"stranger", map[Rule]string{Anybody: "yes"}},
	{"holder of a link", map[Rule]string{Anybody: "yes", ByLink: "by link"}},
	{"device", map[Rule]string{Anybody: "yes", Devices: "by token"}},
	{"crew", map[Rule]string{Anybody: "yes", ByLink: "by link", WholeCrew: "yes"}},
	{"trusted", map[Rule]string{Anybody: "yes", ByLink: "by link", WholeCrew: "yes", ForArms: "arms", ForPits: "pits", ForPantry: "pantry"}},
	{"pitmaster", map[Rule]string{Anybody: "yes", ByLink: "by link", WholeCrew: "yes",
		ForArms: "yes", ForPits: "yes", ForPantry: "yes", Pitmasters: "yes"}},
}

// Access is the table of all routes by role, in Markdown, from the router.
func Access() []byte {
	gin.SetMode(gin.ReleaseMode)
	s := &Server{Services: &services.Services{}, metrics: &metrics{registry: prometheus.NewRegistry()}}
	engine := gin.New()
	r := s.roomsOf(engine)
	s.register(r)
	s.registerKeeping(r)
	var b bytes.Buffer
	b.WriteString("# Who may ask for what\n\nGenerated from the router by `make types`; " +
		"a test fails while a route has no rule, or another one than here. " +
		"A script asks in the name of who made its token: with scope *read* what is got, " +
		"with *log* what is recorded of cooks, with *all* what its person may. None signs or gives a reason.\n\n")
	b.WriteString("| Route |")
	for _, role := range roles {
		b.WriteString(" " + role.name + " |")
	}
	b.WriteString(" besides |\n|---|" + strings.Repeat("---|", len(roles)+1) + "\n")
	routes := engine.Routes()
	slices.SortFunc(routes, func(a, b gin.RouteInfo) int {
		return cmp.Or(strings.Compare(a.Path, b.Path), strings.Compare(a.Method, b.Method))
	})
	for _, route := range routes {
		name := route.Method + " " + route.Path
		fmt.Fprintf(&b, "| `%s` |", name)
		rule := s.rules[name]
		for _, role := range roles {
			may := role.may[rule]
			if rule == HereAlone {
				may = "on this machine"
			}
			fmt.Fprintf(&b, " %s |", cmp.Or(may, "–"))
		}
		fmt.Fprintf(&b, " %s |\n", besides[name])
	}
	return b.Bytes()
}
