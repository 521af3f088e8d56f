package server

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"whitebarn/internal/lan"
)

// TestGuestsComeInByThePlainPort has it off, then on: ballots alone are answered, whoever
// asks with whatever cookie, and a taster's code leads there.
func TestGuestsComeInByThePlainPort(t *testing.T) {
	t.Parallel()
	b, _ := newBarn(t)
	srv, all := New(servicesOf(b.store), Options{
		Dist: fstest.MapFS{"index.html": {Data: []byte("<html>barn")}, "assets/app.js": {Data: []byte("js")}},
		LAN:  &lan.Info{Guests: []string{"http://192.168.1.7:8081"}},
	})
	t.Cleanup(srv.Close)
	plain := httptest.NewServer(srv.Guests(all))
	t.Cleanup(plain.Close)
	ask := func(method, path string) (int, string) {
		t.Helper()
		r, _ := http.NewRequest(method, plain.URL+path, nil)
		r.Header.Set("Cookie", "barn=stolen")
		res, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		if c := res.Header.Get("Set-Cookie"); c != "" {
			t.Errorf("%s sets a cookie: %s", path, c)
		}
		text, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(text)
	}
	if status, text := ask("GET", "/taste/abc"); status != http.StatusForbidden || !strings.Contains(text, "has not let guests in") {
		t.Errorf("while it is off a ballot is answered %d %q", status, text)
	}
	if site, err := srv.guestSite(t.Context()); site != "" || err != nil {
		t.Errorf("while it is off a code leads to %q (%v)", site, err)
	}
	house, err := b.store.Barn(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	house.Guests = true
	if err := b.store.SetBarn(t.Context(), 1, house); err != nil {
		t.Fatal(err)
	}
	if site, err := srv.guestSite(t.Context()); site != "http://192.168.1.7:8081" || err != nil {
		t.Errorf("a code leads to %q (%v), want the plain port", site, err)
	}
	for _, c := range []struct {
		method, path string
		status       int
	}{
		{"GET", "/taste/abc", 200}, {"GET", "/assets/app.js", 200}, {"GET", "/api/taste/abc", 404}, // there is no such link
		{"GET", "/", 404}, {"GET", "/trials/1/fire", 404}, {"GET", "/api/session", 404}, {"POST", "/api/session", 404}, {"GET", "/api/trials", 404},
		{"GET", "/taste/../api/trials", 404}, {"GET", "/api/live", 404}, {"POST", "/api/devices/readings", 404},
	} {
		if status, text := ask(c.method, c.path); status != c.status || (c.status == 404 && strings.Contains(text, "barn</")) {
			t.Errorf("%s %s is answered %d %q, want %d", c.method, c.path, status, text, c.status)
		}
	}
}
