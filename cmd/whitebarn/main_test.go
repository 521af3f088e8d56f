package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"whitebarn/internal/testkit/pgtest"
)

func TestMain(m *testing.M) {
	if os.Getenv(asMain) != "" {
		main()
		return
	}
	slog.SetDefault(slog.New(slog.DiscardHandler))
	os.Exit(pgtest.Main(m))
}

func TestCommands(t *testing.T) {
	for _, c := range []struct {
		args      string
		in        string
		out, fail string
	}{
		{"", "", "whitebarn serve", ""},
		{"help", "", "whitebarn calc NAME", ""},
		{"calc", "", "units.to_grams", ""},
		{"calc units.to_grams", `{"lb": 1}`, `"grams":453.59237`, ""},
		{"calc units.to_grams", `{"lb": -1}`, "", "lb: -1 is not a weight"},
		{"calc units.to_stones", `{}`, "", "no calculation"},
		{"calc a b", `{}`, "", "one calculation"},
		{"vocabulary", "", `"letter": "W"`, ""},
		{"openapi", "", `"openapi": "3.0.3"`, ""},
		{"example-log", "", "North Drum (F)", ""},
		{"dance", "", "", `no command "dance"`},
		{"serve -bogus", "", "bogus", "bogus"},
	} {
		var out bytes.Buffer
		err := run(t.Context(), strings.Fields(c.args), strings.NewReader(c.in), &out)
		if !strings.Contains(out.String(), c.out) || (err == nil) != (c.fail == "") || err != nil && !strings.Contains(err.Error(), c.fail) {
			t.Errorf("whitebarn %s gave %.200q and %v; want %q and %q", c.args, out.String(), err, c.out, c.fail)
		}
	}
}

// running is a White Barn of this process.
type running struct {
	t      *testing.T
	site   string
	stop   context.CancelFunc
	ended  chan error
	output *lines
}

// lines collects what is printed and tells when a line holds the words.
type lines struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (l *lines) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(p)
}

func (l *lines) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.String()
}

func start(t *testing.T, args ...string) *running {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	r := &running{t: t, stop: stop, ended: make(chan error, 1), output: &lines{}}
	go func() { r.ended <- run(ctx, args, strings.NewReader(""), r.output) }()
	t.Cleanup(func() { r.stop() })
	for end := time.Now().Add(90 * time.Second); ; time.Sleep(20 * time.Millisecond) {
		select {
		case err := <-r.ended:
			t.Fatalf("whitebarn %v ended: %v", args, err)
		default:
		}
		if _, after, ok := strings.Cut(r.output.String(), "answers at "); ok && strings.Contains(after, "Ctrl-C") {
			r.site = strings.Fields(after)[0]
			return r
		}
		if time.Now().After(end) {
			t.Fatalf("whitebarn %v does not answer: %s", args, r.output)
		}
	}
}

func (r *running) end() {
	r.t.Helper()
	r.stop()
	select {
	case err := <-r.ended:
		if err != nil {
			r.t.Errorf("the end: %v", err)
		}
	case <-time.After(60 * time.Second):
		r.t.Fatal("White Barn does not stop")
	}
}

func (r *running) get(path string) string {
	r.t.Helper()
	res, err := http.Get(r.site + path)
	if err != nil {
		r.t.Fatal(err)
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(res.Body)
	return string(text)
}

func freshFolder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "white-barn-serve-")
	if err != nil {
		t.Fatal(err)
	}
	if err := os.Chmod(dir, 0o711); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	return filepath.Join(dir, "data")
}

// TestServeKeepsItsDataUntilReset starts, is visited, stops, starts again and
// starts over, as a pitmaster on a fresh machine would.
func TestServeKeepsItsDataUntilReset(t *testing.T) {
	data := freshFolder(t)
	args := []string{"serve", "-addr", "127.0.0.1:0", "-data", data}
	first := start(t, args...)
	if got := first.get("/api/session"); !strings.Contains(got, `"first_run":true`) {
		t.Errorf("a new barn answers %s, want the first run", got)
	}
	body, _ := json.Marshal(map[string]string{"barn": "Hill Barn", "time_zone": "UTC", "name": "Odalys", "sign_in": "odalys", "password": "apricot and alder"})
	if res, err := http.Post(first.site+"/api/first-run", "application/json", bytes.NewReader(body)); err != nil || res.StatusCode != 201 {
		t.Fatalf("the first run: %v %v", res, err)
	}

	// A second one on the same folder, and one on the same port, are told what to do.
	if err := run(t.Context(), args, nil, io.Discard); err == nil || !strings.Contains(err.Error(), "in use by another White Barn") {
		t.Errorf("a second instance ended with %v", err)
	}
	port := strings.TrimPrefix(first.site, "http://")
	if err := run(t.Context(), []string{"serve", "-addr", port, "-data", data}, nil, io.Discard); err == nil || !strings.Contains(err.Error(), "is taken") || !strings.Contains(err.Error(), "ADDR=") {
		t.Errorf("a busy port ended with %v", err)
	}
	first.end()
	if !strings.Contains(first.output.String(), "The data are kept") {
		t.Errorf("the last words are %s", first.output)
	}

	second := start(t, args...)
	if got := second.get("/api/session"); !strings.Contains(got, "Hill Barn") {
		t.Errorf("after a restart the barn answers %s", got)
	}
	second.end()
	third := start(t, append(args, "-reset")...)
	if got := third.get("/api/session"); !strings.Contains(got, `"first_run":true`) {
		t.Errorf("after a reset the barn answers %s", got)
	}
	third.end()
}

func TestDemoUsesTheGivenDatabase(t *testing.T) {
	t.Setenv("DATABASE_URL", pgtest.URL(t))
	demo := start(t, "demo", "-addr", "127.0.0.1:0")
	if !strings.Contains(demo.output.String(), "Sign in as odalys") || !strings.Contains(demo.output.String(), "white barn demo") {
		t.Errorf("the demo greets with %s", demo.output)
	}
	if got := demo.get("/api/session"); !strings.Contains(got, `"time_zone":"America/New_York"`) {
		t.Errorf("the demo's barn is %s", got)
	}
	demo.end()
	if err := run(t.Context(), []string{"demo", "-addr", "127.0.0.1:0", "-reset"}, nil, io.Discard); err == nil || !strings.Contains(err.Error(), "DATABASE_URL") {
		t.Errorf("RESET of a given database ended with %v", err)
	}
	t.Setenv("DATABASE_URL", "postgres://nobody@127.0.0.1:1/none")
	if err := run(t.Context(), []string{"serve", "-addr", "127.0.0.1:0"}, nil, io.Discard); err == nil || !strings.Contains(err.Error(), "connect to the database") {
		t.Errorf("a database that is not there ended with %v", err)
	}
}

func TestAddressThatIsNoneIsNamed(t *testing.T) {
	for _, addr := range []string{"nowhere", "127.0.0.1:99999"} {
		if err := run(t.Context(), []string{"serve", "-addr", addr}, nil, io.Discard); err == nil || !strings.Contains(err.Error(), addr) {
			t.Errorf("the address %s ended with %v", addr, err)
		}
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	if err := run(t.Context(), []string{"serve", "-addr", fmt.Sprint(l.Addr())}, nil, io.Discard); err == nil || !strings.Contains(err.Error(), "is taken") {
		t.Errorf("a port another program holds ended with %v", err)
	}
}
