package server

import (
	"bytes"
	"encoding/json"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"whitebarn/internal/store"
)

// TestEveryRouteHasARule: the router and the rules name the same routes, and docs/access.md
// tells of them as they are.
func TestEveryRouteHasARule(t *testing.T) {
	t.Parallel()
	b, _ := newBarn(t)
	srv, _ := New(servicesOf(b.store), Options{})
	t.Cleanup(srv.Close)
	known := map[string]bool{}
	for _, r := range srv.engine.Routes() {
		name := r.Method + " " + r.Path
		known[name] = true
		if srv.rules[name] == "" {
			t.Errorf("%s has no rule: register it in a room", name)
		}
	}
	if len(known) < 170 {
		t.Errorf("the router has %d routes only", len(known))
	}
	for name := range srv.rules {
		if !known[name] {
			t.Errorf("there is a rule for %s, which the router has not", name)
		}
	}
	for name := range besides {
		if !known[name] {
			t.Errorf("the table says something of %s, which the router has not", name)
		}
	}
	kept, err := os.ReadFile(filepath.Join("..", "..", "docs", "access.md"))
	if err != nil || !bytes.Equal(kept, Access()) {
		t.Errorf("docs/access.md is stale: run make types (%v)", err)
	}
}

// noWalk are the routes that the walk of the roles leaves out.
var noWalk = map[string]string{
	"GET /api/live": "a stream", "DELETE /api/session": "would sign out", "POST /api/me/sign-out": "would sign out", "POST /api/session": "signs in",
	"POST /api/people/:id/sign-out": "would sign somebody out",
}

// TestEachRoleIsLetInWhereTheTableSays asks every route as everybody: who may not is refused
// by the rule before anything is read of what they sent; who may never is.
func TestEachRoleIsLetInWhereTheTableSays(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	ife, _ := b.join(odalys, "Ife", store.Crew)
	arms, _ := b.join(odalys, "Bram", store.Crew, store.TrustArms)
	pits, _ := b.join(odalys, "Joren", store.Crew, store.TrustPits)
	pantry, _ := b.join(odalys, "Tove", store.Crew, store.TrustPantry)
	crew := []Rule{Anybody, ByLink, Devices, HereAlone, WholeCrew}
	open := []Rule{Anybody, ByLink, Devices, HereAlone} // these find out themselves, below
	for name, who := range map[string]struct {
		hand
		may []Rule
	}{
		"a stranger": {b.hand(), open}, "the crew": {ife, crew},
		"who is trusted with arms": {arms, append(crew, ForArms)}, "who is trusted with pits": {pits, append(crew, ForPits)},
		"who is trusted with the pantry": {pantry, append(crew, ForPantry)},
		"a pitmaster":                    {odalys, append(crew, ForArms, ForPits, ForPantry, Pitmasters)},
	} {
		may := map[Rule]bool{}
		for _, r := range who.may {
			may[r] = true
		}
		srv, _ := New(servicesOf(b.store), Options{})
		for route, rule := range srv.rules {
			if _, skip := noWalk[route]; skip || !strings.Contains(route, " /api/") {
				continue
			}
			method, path, _ := strings.Cut(route, " ")
			path = regexp.MustCompile(`:\w+`).ReplaceAllString(path, "999999999")
			status, answer := who.send(method, path, "application/json", strings.NewReader("{"))
			refused := byRule(status, answer)
			if refused == may[rule] {
				t.Errorf("%s asks %s, whose rule is %q: answered %d %.120s", name, route, rule, status, answer)
			}
		}
		srv.Close()
	}
}

// TestLinksAndTokensThatWereMadeUpOpenNothing: a stranger, and a pitmaster without the token.
func TestLinksAndTokensThatWereMadeUpOpenNothing(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	stranger := b.hand()
	for _, path := range []string{"/api/taste/abc-defg", "/api/taste/abc-defg/record", "/api/calendar/abc-defg.ics", "/api/join/ABCDEF"} {
		if status, answer := stranger.send("GET", path, "", nil); status != http.StatusNotFound {
			t.Errorf("%s by a made-up link answered %d %.100s, want 404", path, status, answer)
		}
	}
	for _, r := range []string{"GET /api/devices/me", "POST /api/devices/readings"} {
		method, path, _ := strings.Cut(r, " ")
		if status, _ := odalys.send(method, path, "application/json", strings.NewReader("[]")); status != http.StatusUnauthorized {
			t.Errorf("%s without a token answered a pitmaster %d, want 401", r, status)
		}
	}
}

// byRule says whether an answer is the refusal of a rule.
func byRule(status int, answer []byte) bool {
	var p struct{ Title string }
	_ = json.Unmarshal(answer, &p)
	return status == http.StatusUnauthorized && strings.HasPrefix(p.Title, "You are not signed in") ||
		status == http.StatusForbidden && strings.HasPrefix(p.Title, "Only a pitmaster")
}
