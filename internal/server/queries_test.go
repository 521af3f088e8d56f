package server

import (
	"context"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"whitebarn/internal/demo"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
	"whitebarn/internal/testkit/house"
)

// counter counts the queries of a store.
type counter struct{ n atomic.Int64 }

func (c *counter) TraceQueryStart(ctx context.Context, _ *pgx.Conn, _ pgx.TraceQueryStartData) context.Context {
	c.n.Add(1)
	return ctx
}
func (c *counter) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}

// grown is the demo with so many more settled trials, read by Odalys.
func grown(tb testing.TB, more int) (get func(path string) (bytes int), post func(path, body string) (bytes int), queries *counter) {
	tb.Helper()
	queries = &counter{}
	s, err := store.OpenTraced(tb.Context(), demobarn.URL(tb), queries)
	if err != nil {
		tb.Fatal(err)
	}
	tb.Cleanup(s.Close)
	if more > 0 {
		if err := house.Grow(tb.Context(), s.Pool(), 3, more); err != nil {
			tb.Fatal(err)
		}
		if err := house.Cards(tb.Context(), s.Pool(), 1, more/10); err != nil {
			tb.Fatal(err)
		}
		if _, err := s.Pool().Exec(tb.Context(), "analyze"); err != nil {
			tb.Fatal(err)
		}
	}
	srv, handler := New(servicesOf(s), Options{})
	tb.Cleanup(srv.Close)
	// Straight to the handler: the session's own query is one each time.
	var cookies []*http.Cookie
	do := func(method, path string, body string) *httptest.ResponseRecorder {
		req := httptest.NewRequest(method, path, strings.NewReader(body))
		req.Host = "127.0.0.1"
		for _, c := range cookies {
			req.AddCookie(c)
		}
		w := httptest.NewRecorder()
		handler.ServeHTTP(w, req)
		return w
	}
	cookies = do("POST", "/api/session", fmt.Sprintf(`{"sign_in":"odalys","password":%q}`, demo.Password)).Result().Cookies()
	return func(path string) int {
			w := do("GET", path, "")
			if w.Code != http.StatusOK {
				tb.Fatalf("%s answered %d: %.200s", path, w.Code, w.Body)
			}
			return w.Body.Len()
		}, func(path, body string) int {
			w := do("POST", path, body)
			if w.Code != http.StatusCreated {
				tb.Fatalf("%s answered %d: %.200s", path, w.Code, w.Body)
			}
			return w.Body.Len()
		}, queries
}

// TestQueriesDoNotGrowWithTheHouse asks a barn with one settled trial and one with
// sixty more: each page costs the same number of queries.
func TestQueriesDoNotGrowWithTheHouse(t *testing.T) {
	paths := []string{"/api/trials", "/api/home", "/api/trials/4", "/api/trials/3/settle", "/api/trials/4/prep", "/api/cooks/3/due",
		"/api/book/cards", "/api/book/cards/1", "/api/book/map", "/api/book/know?text=paper+juiciness"}
	count := func(more int) map[string]int64 {
		get, _, queries := grown(t, more)
		out := map[string]int64{}
		get("/api/trials") // those that have no line yet are judged once
		for _, path := range paths {
			before := queries.n.Load()
			get(path)
			out[path] = queries.n.Load() - before
		}
		return out
	}
	few, many := count(0), count(60)
	if !maps.Equal(few, many) {
		t.Errorf("with one settled trial the queries are %v, with 61 %v", few, many)
	}
	for path, n := range many {
		if n > 70 {
			t.Errorf("%s costs %d queries", path, n)
		}
	}
	t.Logf("queries: %v", many)
}

// TestAPressCostsFewQueries and answers what it made, not the trial.
func TestAPressCostsFewQueries(t *testing.T) {
	_, post, queries := grown(t, 0)
	before := queries.n.Load()
	bytes := post("/api/cooks/4/events", fmt.Sprintf(`{"act":"spritz","note":"","cut_ids":[27,28],"pit_run_ids":[],"press":%q}`, uuid.NewString()))
	if n := queries.n.Load() - before; n > 21 || bytes > 2000 {
		t.Errorf("a press of two cuts costs %d queries and answers %d bytes", n, bytes)
	} else {
		t.Logf("%d queries, %d bytes", n, bytes)
	}
}

// BenchmarkPagesOfAGrownHouse reads the pages of a barn with 500 settled trials.
func BenchmarkPagesOfAGrownHouse(b *testing.B) {
	settled := 500
	if testing.Short() {
		settled = 20
	}
	get, _, _ := grown(b, settled)
	get("/api/trials")
	for _, path := range []string{"/api/trials", "/api/home", "/api/trials/4", "/api/trials/3/settle", "/api/book/cards", "/api/book/cards/1", "/api/book/map",
		"/api/book/know?text=paper+juiciness", "/api/trials/3/next", "/api/trials/3/report.json"} {
		b.Run(path[5:], func(b *testing.B) {
			for b.Loop() {
				get(path)
			}
		})
	}
}
