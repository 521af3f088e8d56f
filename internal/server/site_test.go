package server

import (
	"bytes"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gin-gonic/gin"
)

func TestSiteServesPagesAndParts(t *testing.T) {
	t.Parallel()
	engine := gin.New()
	engine.NoRoute(newSite(fstest.MapFS{"index.html": {Data: []byte("<html>barn")}, "assets/app-1a2b.js": {Data: []byte("js")}, "favicon.svg": {Data: []byte("<svg>")}}).serve)
	for _, c := range []struct {
		method, path string
		status       int
		body, cache  string
	}{
		{"GET", "/", 200, "barn", "no-cache"},
		{"GET", "/trials/3/fire", 200, "barn", "no-cache"},
		{"GET", "/assets/app-1a2b.js", 200, "js", "immutable"},
		{"GET", "/assets/gone-0000.js", 404, "gone", "no-store"},
		{"GET", "/favicon.svg", 200, "<svg>", "no-cache"},
		{"GET", "/api/nothing", 404, "nothing at this address", ""},
		{"POST", "/trials/3/fire", 404, "nothing at this address", ""},
		{"GET", "/../../etc/passwd", 200, "barn", "no-cache"},
	} {
		w := httptest.NewRecorder()
		engine.ServeHTTP(w, httptest.NewRequest(c.method, c.path, nil))
		if w.Code != c.status || !strings.Contains(w.Body.String(), c.body) || !strings.Contains(w.Header().Get("Cache-Control"), c.cache) {
			t.Errorf("%s %s answered %d %q (%s), want %d with %q (%s)", c.method, c.path, w.Code, w.Body, w.Header().Get("Cache-Control"), c.status, c.body, c.cache)
		}
	}
	w := httptest.NewRecorder()
	r := httptest.NewRequest(http.MethodGet, "/", nil)
	r.Header.Set("Accept-Encoding", "gzip")
	engine.ServeHTTP(w, r)
	if w.Header().Get("Content-Encoding") != "gzip" {
		t.Error("a page is not compressed for a browser that takes it")
	}
}

func TestGeneratedTypesAreFresh(t *testing.T) {
	t.Parallel()
	description, err := OpenAPI()
	if err != nil {
		t.Fatal(err)
	}
	web := filepath.Join("..", "..", "web")
	tool := filepath.Join(web, "node_modules", ".bin", "openapi-typescript")
	if _, err := os.Stat(tool); err != nil {
		t.Fatal("web/node_modules is not there: run make build first")
	}
	dir := t.TempDir()
	in, out := filepath.Join(dir, "openapi.json"), filepath.Join(dir, "schema.gen.ts")
	if err := os.WriteFile(in, description, 0o644); err != nil {
		t.Fatal(err)
	}
	// As in package.json, where `make types` takes it from.
	cmd := exec.Command(tool, in, "--root-types", "--root-types-no-schema-prefix", "--enum-values", "--alphabetize", "-o", out)
	if text, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, text)
	}
	fresh, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	committed, err := os.ReadFile(filepath.Join(web, "src", "api", "schema.gen.ts"))
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(fresh, committed) {
		t.Error("web/src/api/schema.gen.ts is stale: run make types")
	}
	words, err := Vocabulary()
	if err != nil {
		t.Fatal(err)
	}
	if committed, err = os.ReadFile(filepath.Join(web, "src", "api", "vocabulary.gen.ts")); err != nil || !bytes.Equal(words, committed) {
		t.Errorf("web/src/api/vocabulary.gen.ts is stale: run make types (%v)", err)
	}
}

func TestABodyThatTricklesIsCutOff(t *testing.T) {
	t.Parallel()
	b, _ := newBarn(t)
	srv, handler := New(servicesOf(b.store), Options{BodyWithin: 100 * time.Millisecond})
	web := httptest.NewServer(handler)
	t.Cleanup(func() { web.Close(); srv.Close() })
	line, err := net.Dial("tcp", web.Listener.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer line.Close()
	fmt.Fprint(line, "POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 500\r\n\r\n{")
	_ = line.SetReadDeadline(time.Now().Add(20 * time.Second))
	answer, err := io.ReadAll(line)
	if err != nil || !bytes.HasPrefix(answer, []byte("HTTP/1.1 408 ")) || !bytes.Contains(answer, []byte("too slowly")) {
		t.Errorf("a body that stays out is answered %q (%v), want 408 and the connection ended", answer, err)
	}
}
