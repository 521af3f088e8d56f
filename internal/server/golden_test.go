package server

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"math"
	"net/http/httptest"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/auth"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/demo"
	"whitebarn/internal/services"
	"whitebarn/internal/testkit/demobarn"
)

var update = flag.Bool("update", false, "write the golden answers anew")

// goldenNow is when the demo of the golden answers begins.
var goldenNow = demobarn.Now

// notGolden are the GETs that are no JSON, or no answer that ends, and why.
var notGolden = map[string]string{
	"/live":               "a stream",
	"/me/devices":         "of this moment",
	"/devices/me":         "of a device, with its token",
	"/photos/:id":         "a picture, and the demo has none",
	"/cuts/:id/qr.png":    "a picture",
	"/tasters/:id/qr.png": "a picture",
	"/lan/qr.png":         "a picture",
	"/calendar/:token":    "its link is in the answer of the cook's calendar",
	"/taste/:token":       "walked by the tasters' own tests", "/taste/:token/record": "walked by the tasters' own tests",
	"/trials/:id/report.html": "a page, and the same as its JSON",
	"/records":                "what it is kept in, of this moment", "/records/barn.zip": "a file", "/trials/:id/trial.zip": "a file",
	"/openapi.json": "generated", "/schemas/report.json": "generated", "/book/versions/:id/card.md": "a file",
	"/trials/:id/door.png": "a picture", "/join/:code": "walked by the guests' own tests",
}

// demoAt is the demo at a time that stands still, with Odalys signed in.
func demoAt(t *testing.T, now time.Time) (odalys hand, srv *Server) {
	t.Helper()
	s := demobarn.Store(t)
	srv, handler := New(services.New(s, func() time.Time { return now }, auth.Cheap, &plans), Options{})
	web := httptest.NewServer(handler)
	t.Cleanup(func() { web.Close(); srv.Close() })
	odalys = (&testBarn{t: t, store: s, url: web.URL}).hand()
	odalys.must("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: demo.Password}, 200, nil)
	return odalys, srv
}

// TestEveryAnswerOfTheDemoIsAsItWas asks the demo, at a fixed time, for all that
// can be asked for, and compares it with the golden files: code that moves must
// not change what is said. -update writes them anew.
func TestEveryAnswerOfTheDemoIsAsItWas(t *testing.T) {
	odalys, srv := demoAt(t, goldenNow)
	s := odalys.store

	ids := map[string][]int64{}
	for subject, sql := range map[string]string{"trials": "select id from trials where id <= 7 order by id",
		"cooks":   "select id from cooks where trial_id <= 7 order by id",
		"flights": "select id from flights where trial_id <= 7 order by id", "holders": "select id from holders " +
			"order by id", "people": "select id from people order by id",
		"devices": "select id from devices where kind = 'live' order by id"} {
		rows, err := s.Pool().Query(t.Context(), sql)
		if err != nil {
			t.Fatal(err)
		}
		for rows.Next() {
			var id int64
			if err := rows.Scan(&id); err != nil {
				t.Fatal(err)
			}
			ids[subject] = append(ids[subject], id)
		}
	}
	var asked []string
	for _, path := range gets(srv) {
		switch _, skip := notGolden[path]; {
		case skip:
		case path == "/trials/:id/draft":
			for _, as := range []string{"copy", "follow"} {
				asked = append(asked, fmt.Sprintf("/trials/%d/draft?as=%s", ids["trials"][2], as))
			}
		case path == "/trials/:id/parts":
			asked = append(asked, fmt.Sprintf("/trials/%d/parts?of=log&of=steps", ids["trials"][2]))
		case path == "/trials/:id/tells":
			asked = append(asked, fmt.Sprintf("/trials/%d/tells?format=scores&tasters=5&per_arm=2", ids["trials"][2]))
		case path == "/trials/:id/working":
			for _, reach := range []string{"pieces", "cooks", "next"} {
				asked = append(asked, fmt.Sprintf("/trials/%d/working?outcome=juiciness&a=0&b=1&reach=%s", ids["trials"][2], reach))
			}
		case strings.HasPrefix(path, "/book/cards/:id"):
			asked = append(asked, "/book/cards/1")
		case strings.HasPrefix(path, "/book/versions/:id"):
			asked = append(asked, strings.Replace(path, ":id", "2", 1))
		case path == "/book/know":
			asked = append(asked, path+"?text=paper+lamb+juiciness", path+"?text=hold+time")
		case path == "/cooks/:id/traces":
			for _, id := range ids["cooks"] {
				asked = append(asked, fmt.Sprintf("/cooks/%d/traces?columns=50", id))
			}
		case strings.Contains(path, ":id"):
			subject := strings.Split(path, "/")[1]
			if len(ids[subject]) == 0 {
				t.Errorf("no %s of the demo to ask %s of", subject, path)
			}
			for _, id := range ids[subject] {
				asked = append(asked, strings.Replace(path, ":id", fmt.Sprint(id), 1))
			}
		default:
			asked = append(asked, path)
		}
	}
	// When the rows were written: the demo was, before, by the wall's clock.
	var written time.Time
	if err := s.Pool().QueryRow(t.Context(), "select min(received_at) from readings").Scan(&written); err != nil {
		t.Fatal(err)
	}
	for _, path := range asked {
		status, text := odalys.send("GET", "/api"+path, "", nil)
		got := golden(t, path, status, text, written)
		file := filepath.Join("testdata", "golden", regexp.MustCompile(`[^a-z0-9]+`).ReplaceAllString(path[1:], "-")+".json")
		if *update {
			if err := os.WriteFile(file, got, 0o644); err != nil {
				t.Fatal(err)
			}
			continue
		}
		want, err := os.ReadFile(file)
		if err != nil {
			t.Errorf("no golden answer for %s: run make golden and read it", path)
			continue
		}
		if !bytes.Equal(got, want) {
			t.Errorf("%s answers otherwise than in %s: %s", path, file, firstDifference(got, want))
		}
	}
}

// gets are the paths of all GETs, without /api.
func gets(s *Server) []string {
	var out []string
	for _, r := range s.engine.Routes() {
		if r.Method == "GET" && strings.HasPrefix(r.Path, "/api/") {
			out = append(out, strings.TrimPrefix(r.Path, "/api"))
		}
	}
	slices.Sort(out)
	return out
}

var (
	moment = regexp.MustCompile(`"20\d\d-\d\d-\d\dT[0-9:.]+(Z|[+-]\d\d:\d\d)"`)
	secret = regexp.MustCompile(`\b([0-9a-z]{1,2}-)[A-Za-z0-9_-]{16,}`)
	number = regexp.MustCompile(`-?\d+\.\d+(e[+-]?\d+)?`)
	press  = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}`)
	// What devices sent by the wall's clock.
	lastMinute = regexp.MustCompile(`("readings": )\d+`)
	flat       = regexp.MustCompile(`\[\s*(?:-?[0-9.e+-]+,?\s*)+\]`)
)

// golden is an answer as its golden file has it: indented, without what differs
// from run to run (when a row was written, secrets, the site's port), and with
// numbers to six figures, which is what all machines agree on.
func golden(t *testing.T, path string, status int, text []byte, written time.Time) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := json.Indent(&b, bytes.TrimSpace(text), "", " "); err != nil {
		t.Fatalf("%s answers no JSON: %d %.200s", path, status, text)
	}
	out := moment.ReplaceAllStringFunc(b.String(), func(m string) string {
		if at, err := time.Parse(time.RFC3339Nano, strings.Trim(m, `"`)); err == nil && at.After(written.Add(-time.Hour)) && time.Until(at) < time.Hour {
			return `"(when it was recorded)"`
		}
		return m
	})
	out = regexp.MustCompile(`http://127\.0\.0\.1:\d+`).ReplaceAllString(out, "http://barn")
	if path == "/devices" {
		out = lastMinute.ReplaceAllString(out, `${1}"(of the last minute)"`)
	}
	out = press.ReplaceAllString(out, "(press)")
	out = secret.ReplaceAllString(out, "${1}(secret)")
	out = number.ReplaceAllStringFunc(out, func(n string) string {
		v, err := strconv.ParseFloat(n, 64)
		if err != nil || math.Abs(v) >= 1e6 {
			return n
		}
		return strconv.FormatFloat(v, 'g', 6, 64)
	})
	out = flat.ReplaceAllStringFunc(out, func(list string) string { return strings.Join(strings.Fields(list), " ") })
	return []byte(fmt.Sprintf("%d %s\n", status, out))
}

// firstDifference shows the first line at which two answers part.
func firstDifference(got, want []byte) string {
	g, w := strings.Split(string(got), "\n"), strings.Split(string(want), "\n")
	for i := range min(len(g), len(w)) {
		if g[i] != w[i] {
			return fmt.Sprintf("line %d is %q, was %q", i+1, g[i], w[i])
		}
	}
	return fmt.Sprintf("%d lines, %d before", len(g), len(w))
}
