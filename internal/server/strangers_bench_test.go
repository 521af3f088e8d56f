package server

import (
	"io"
	"maps"
	"net/http"
	"net/http/httptest"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/calc"
	"whitebarn/internal/testkit/demobarn"
)

// BenchmarkStrangers asks what anybody may ask, by requests under a kilobyte, each calculation by its example
// and by what makes the dearest of those that its bound leaves free: none is to take half a second.
func BenchmarkStrangers(b *testing.B) {
	s := demobarn.Store(b)
	srv, handler := New(servicesOf(s), Options{})
	site := httptest.NewServer(handler)
	defer func() { site.Close(); srv.Close() }()
	type request struct{ method, path, body string }
	var all []request
	for route, rule := range srv.rules {
		if rule != Anybody || strings.Contains(route, "/calc/") {
			continue
		}
		method, path, _ := strings.Cut(route, " ")
		path = regexp.MustCompile(`:\w+`).ReplaceAllString(path, "1-abcd")
		body := ""
		if path == sessionPath && method == http.MethodPost {
			body = `{"sign_in":"odalys","password":"not the one that it is"}`
		}
		all = append(all, request{method, path, body})
	}
	dear := map[string]string{
		"design.factorial":          `{"k":7}`,
		"panel.williams":            `{"k":[` + strings.Repeat("20,", 19) + `20]}`,
		"panel.probability_correct": `{"method":"triangle","d_prime":[` + strings.Repeat("2.5,", 230) + `1]}`,
		"panel.forced_choice":       `{"method":"duotrio","correct":2500,"n":5000}`,
		"panel.forced_choice_power": `{"method":"duotrio","alpha":0.05,"d_prime":0.01,"n":2000,"power":0.99}`,
	}
	for _, c := range calc.All {
		example, err := c.Example()
		if err != nil {
			b.Fatal(err)
		}
		all = append(all, request{"POST", "/api/calc/" + c.Name, string(example)})
		if input, is := dear[c.Name]; is {
			all = append(all, request{"POST", "/api/calc/" + c.Name, input}, request{"POST", "/api/calc/" + c.Name + "/working", input})
		}
	}
	slices.SortFunc(all, func(x, y request) int { return strings.Compare(x.method+x.path, y.method+y.path) })
	took := map[string]time.Duration{}
	for b.Loop() {
		for _, r := range all {
			if len(r.body) > 1000 {
				continue
			}
			best := time.Hour // of three: what the machine does beside is not the request's
			for range 3 {
				req, err := http.NewRequest(r.method, site.URL+r.path, strings.NewReader(r.body))
				if err != nil {
					b.Fatal(err)
				}
				req.Header.Set("Content-Type", "application/json")
				began := time.Now()
				res, err := http.DefaultClient.Do(req)
				if err != nil {
					b.Fatal(err)
				}
				_, _ = io.Copy(io.Discard, res.Body)
				res.Body.Close()
				best = min(best, time.Since(began))
				if res.StatusCode >= 500 {
					b.Errorf("%s %s is answered %d", r.method, r.path, res.StatusCode)
				}
			}
			name := r.method + " " + r.path
			took[name] = max(took[name], best)
		}
	}
	names := slices.SortedFunc(maps.Keys(took), func(x, y string) int { return int(took[y] - took[x]) })
	b.ReportMetric(float64(took[names[0]].Microseconds())/1000, "worst-ms")
	for _, name := range names[:3] {
		b.Logf("%s takes %v", name, took[name].Round(time.Millisecond))
	}
}
