package server

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"whitebarn/internal/barn"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// raw sends a request line as it is, over a connection of its own, and reads the answer.
func (b *testBarn) raw(line, header string) (status int, body string) {
	b.t.Helper()
	site, err := url.Parse(b.url)
	if err != nil {
		b.t.Fatal(err)
	}
	conn, err := net.DialTimeout("tcp", site.Host, 10*time.Second)
	if err != nil {
		b.t.Fatal(err)
	}
	defer conn.Close()
	_ = conn.SetDeadline(time.Now().Add(20 * time.Second))
	if _, err := fmt.Fprintf(conn, "%s HTTP/1.1\r\nHost: %s\r\nConnection: close\r\n%s\r\n", line, site.Host, header); err != nil {
		b.t.Fatal(err)
	}
	res, err := http.ReadResponse(bufio.NewReader(conn), nil)
	if err != nil {
		b.t.Fatalf("%q is not answered: %v", line, err)
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(io.LimitReader(res.Body, 4<<10))
	return res.StatusCode, string(text)
}

// spelt are ways to write a path that leads, or could be taken to lead, to the same.
func spelt(path string) []string {
	inner := strings.TrimPrefix(path, "/api/")
	return []string{
		path, path + "/", path + "//", "//" + path[1:], "/api//" + inner, "/api%2f" + inner, "/api%2F" + inner, "/%61pi/" + inner, "/api/./" + inner,
		"/x/../api/" + inner, "/api/%2e%2e/api/" + inner, "/API/" + inner, "/api;/" + inner, "/api/" + strings.ReplaceAll(inner, "/", "%2f"), path + "%00",
		path + "%ff", path + ";a=b", path + "?a=%zz&b;c", "/api\\" + inner, "/api%5c" + inner, "http://elsewhere.test" + path, path + "#x", path + "%20",
	}
}

// TestNoSpellingOfAPathLeadsRoundTheDoor sends every route, written in every way and by methods it has and has not,
// through the listener, as a stranger: nothing is answered that is behind the door, and nothing fails.
func TestNoSpellingOfAPathLeadsRoundTheDoor(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	odalys.trialOf(lambAsk(), 1)
	srv, _ := New(servicesOf(b.store), Options{})
	t.Cleanup(srv.Close)
	open := map[string]bool{}
	for route, rule := range srv.rules {
		if rule == Anybody {
			_, path, _ := strings.Cut(route, " ")
			open[path] = true
		}
	}
	lines := make(chan string)
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() {
			for line := range lines {
				status, body := b.raw(line, "")
				if status >= 500 || status < 400 {
					t.Errorf("%q is answered %d to a stranger: %.120s", line, status, body)
				}
			}
		})
	}
	seen := map[string]bool{}
	for route, rule := range srv.rules {
		method, path, _ := strings.Cut(route, " ")
		if rule == Anybody || rule == HereAlone || open[path] || !inAPI(path) {
			continue
		}
		path = regexp.MustCompile(`:\w+`).ReplaceAllString(path, "1")
		for _, p := range spelt(path) {
			methods := []string{method}
			if p == path {
				methods = []string{method, "HEAD", "PATCH", "TRACE", "OPTIONS", "BREW", strings.ToLower(method)}
			}
			for _, m := range methods {
				if line := m + " " + p; !seen[line] {
					seen[line] = true
					lines <- line
				}
			}
		}
	}
	close(lines)
	all.Wait()
	// Encoded, a path is the same to all who look at it.
	mine, err := url.Parse(b.url)
	if err != nil {
		t.Fatal(err)
	}
	var cookies []string
	for _, c := range odalys.client.Jar.Cookies(mine) {
		cookies = append(cookies, c.Name+"="+c.Value)
	}
	if status, body := b.raw("GET /api%2ftrials", "Cookie: "+strings.Join(cookies, "; ")+"\r\n"); status != 200 || !strings.Contains(body, "question") {
		t.Errorf("to a pitmaster an encoded path is answered %d %.80s", status, body)
	}
	for _, line := range []string{"GET *", "OPTIONS *", "GET /api/", "GET /api", "POST /", "CONNECT example.test:443", "GET /%2e%2e/%2e%2e/etc/passwd", "GET /assets/..%2f..%2fx"} {
		if status, body := b.raw(line, ""); status >= 500 && !strings.Contains(body, "front end is not built") {
			t.Errorf("%q is answered %d %.80s", line, status, body)
		}
	}
}

// TestATokenOfTheLogGoesNoFurther asks every route that changes something with a token of scope log.
func TestATokenOfTheLogGoesNoFurther(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	var made people.MadeScriptToken
	odalys.must("POST", "/api/records/tokens", people.NewScriptToken{Name: "scale bridge", Scope: store.ScopeLog, Days: 30}, 201, &made)
	srv, _ := New(servicesOf(b.store), Options{})
	t.Cleanup(srv.Close)
	within := 0
	for route, rule := range srv.rules {
		method, path, _ := strings.Cut(route, " ")
		if method == "GET" || slices.Contains([]Rule{Anybody, HereAlone, ByLink, Devices}, rule) {
			continue
		}
		door := srv.doors[route]
		logs := door.Kind == barn.Record && !door.ByHand
		req, err := http.NewRequest(method, b.url+regexp.MustCompile(`:\w+`).ReplaceAllString(path, "999999999"), strings.NewReader("{"))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Authorization", "Bearer "+made.Token)
		req.Header.Set("Content-Type", "application/json")
		status, answer := b.hand().ask(req)
		if logs {
			within++
		}
		if (status == http.StatusForbidden) == logs || status == http.StatusUnauthorized || status >= 500 {
			t.Errorf("%s, of kind %q, is answered %d to a token of the log: %.120s", route, door.Kind, status, answer)
		}
	}
	if within < 10 {
		t.Errorf("%d routes are of the log", within)
	}
}

// TestWhoGuessesLocksNobodyOut: after many wrong passwords from one address the right one is taken from a device
// that signed in before, and from no other; and that device has no more tries than another.
func TestWhoGuessesLocksNobodyOut(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	odalys.must("DELETE", "/api/session", nil, 204, nil)
	guess := func(h hand, name string, want int) (tries int) {
		for range 12 {
			status, _ := h.send("POST", "/api/session", "application/json", encoded(t, people.SignIn{SignIn: name, Password: "wrong as can be"}))
			if status == http.StatusTooManyRequests {
				return tries
			}
			if tries++; status != want {
				t.Errorf("a wrong password is answered %d", status)
			}
		}
		return tries
	}
	stranger := b.hand()
	if n := guess(stranger, "odalys", 401); n != 10 {
		t.Errorf("a stranger has %d tries, want 10", n)
	}
	stranger.refused("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: password}, 429, "Too many tries")
	odalys.must("POST", "/api/session", people.SignIn{SignIn: " Odalys ", Password: password}, 200, nil)
	odalys.must("GET", "/api/trials", nil, 200, nil)
	if n := guess(odalys, "odalys", 401); n != 9 {
		t.Errorf("her own device has %d tries more, want 9", n)
	}
	// Its mark is of no other name.
	if n := guess(stranger, "tove", 401); n != 10 {
		t.Errorf("of another name there are %d tries, want 10", n)
	}
	odalys.refused("POST", "/api/session", people.SignIn{SignIn: "tove", Password: password}, 429, "Too many tries")
}

// TestStrangersAreToldWhetherItIsReadyAlone and a machine its own.
func TestStrangersAreToldWhetherItIsReadyAlone(t *testing.T) {
	t.Parallel()
	b, _ := newBarn(t)
	if _, body := b.raw("GET /ready", ""); !strings.Contains(body, `"room"`) || !strings.Contains(body, `"database":"answers"`) {
		t.Errorf("this machine is told %s", body)
	}
	if status, body := b.raw("GET /ready", "X-Forwarded-For: 203.0.113.9\r\n"); status != 200 || !strings.HasSuffix(strings.TrimSpace(body), `{"status":"ready"}`) {
		t.Errorf("a stranger is told %d %s", status, body)
	}
	if status, _ := b.raw("GET /metrics", "X-Forwarded-For: 203.0.113.9\r\n"); status != 404 {
		t.Errorf("a stranger's metrics are answered %d", status)
	}
	for i := range 50 {
		b.raw(fmt.Sprintf("BREW%d /api/trials/%d", i, i), "")
	}
	_, body := b.raw("GET /metrics", "")
	if strings.Contains(body, "BREW") {
		t.Error("methods that anybody makes up are counted by their names")
	}
}

// TestTwoServersStartOnOneEmptyDatabase at the same moment.
func TestTwoServersStartOnOneEmptyDatabase(t *testing.T) {
	t.Parallel()
	url := pgtest.Empty(t)
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() {
			s, err := store.Open(t.Context(), url)
			if err != nil {
				t.Errorf("a server does not start: %v", err)
				return
			}
			defer s.Close()
			if _, err := s.Now(t.Context()); err != nil {
				t.Error(err)
			}
		})
	}
	all.Wait()
}

// TestStrangersWorkOutWhatIsQuick: beyond the bound that a calculation states it asks for a signing in.
func TestStrangersWorkOutWhatIsQuick(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	stranger := b.hand()
	long := `{"factors":["` + strings.Repeat("x", 5000) + `"],"arms":[["1"],["2"]]}`
	for _, c := range []struct {
		name, input    string
		stranger, crew int
	}{
		{"design.factorial", `{"k":7}`, 200, 200}, {"design.factorial", `{"k":8}`, 401, 200}, {"design.confounding", long, 401, 200},
		{"plan.start", `{}`, 401, 422},
	} {
		for _, working := range []string{"", "/working"} {
			if status, body := stranger.send("POST", "/api/calc/"+c.name+working, "application/json", strings.NewReader(c.input)); status != c.stranger {
				t.Errorf("%s %.20s of a stranger is answered %d %.100s, want %d", c.name, c.input, status, body, c.stranger)
			}
		}
		if status, body := odalys.send("POST", "/api/calc/"+c.name, "application/json", strings.NewReader(c.input)); status != c.crew {
			t.Errorf("%s %.20s of the crew is answered %d %.100s, want %d", c.name, c.input, status, body, c.crew)
		}
	}
}
