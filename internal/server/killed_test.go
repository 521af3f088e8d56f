package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/internal/barn/table"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestNoSealIsLostOrDoubledWhenTheServerIsKilled has twelve phones seal six samples each while
// the server is killed three times in the middle of answers. A phone sends a seal again until
// it is answered; in the end each is kept once, as it was sealed.
func TestNoSealIsLostOrDoubledWhenTheServerIsKilled(t *testing.T) {
	t.Parallel()
	const phones, samples = 12, 6
	s := pgtest.Store(t)
	links := tableOfPhones(t, s, phones, samples)
	var site atomic.Pointer[string]
	kill := beginAt(s, &site)
	var refused, sealed atomic.Int64
	var all sync.WaitGroup
	for i, link := range links {
		all.Go(func() {
			jar, _ := cookiejar.New(nil)
			phone := http.Client{Jar: jar, Timeout: 10 * time.Second}
			send := func(path string, body, out any) {
				text, _ := json.Marshal(body)
				for range 400 {
					at := *site.Load()
					if of, _ := url.Parse(at + "/api/"); len(jar.Cookies(of)) == 0 {
						jar.SetCookies(of, []*http.Cookie{{Name: phoneCookie, Value: fmt.Sprintf("the key of phone number %d", i)}})
					}
					res, err := phone.Post(at+path, "application/json", bytes.NewReader(text))
					if err == nil {
						answer, readErr := io.ReadAll(res.Body)
						res.Body.Close()
						if res.StatusCode == 200 && readErr == nil {
							if out != nil {
								_ = json.Unmarshal(answer, out)
							}
							return
						}
						if res.StatusCode < 500 && readErr == nil {
							t.Errorf("%s answered %d %s", path, res.StatusCode, answer)
							return
						}
					}
					refused.Add(1)
					time.Sleep(5 * time.Millisecond)
				}
				t.Errorf("%s was never answered", path)
			}
			var v table.TasteView
			send(link+"/open", nil, &v)
			if len(v.Plates) == 0 {
				return
			}
			for n, x := range v.Plates[0].Samples {
				send(link+"/samples/"+x.Code+"/seal", table.SealInput{Flight: 1, Scores: map[string]int{"overall": 1 + (i+n)%9}}, nil)
				sealed.Add(1)
			}
		})
	}
	for range 3 {
		grows(&sealed, 8)
		kill()
		kill = beginAt(s, &site)
	}
	all.Wait()
	kill()
	var kept, doubled int
	err := s.Pool().QueryRow(t.Context(), `select count(*), count(*) filter (where n > 1) from
		(select count(*) as n from scores where voided_at is null group by ballot_id, sample_id, attribute) k`).Scan(&kept, &doubled)
	if err != nil || kept != phones*samples || doubled != 0 {
		t.Errorf("of %d seals %d are kept, %d twice (%v)", phones*samples, kept, doubled, err)
	}
	if refused.Load() == 0 {
		t.Error("no answer was cut off: the test did not kill anything")
	}
}

// TestWhatIsSentAgainCountsOnceWhenTheServerIsKilled has four people weigh, plan and serve while
// the server is killed in the middle of answers. Each sends a change again, under its number,
// until it is answered; in the end each was made once.
func TestWhatIsSentAgainCountsOnceWhenTheServerIsKilled(t *testing.T) {
	t.Parallel()
	s := pgtest.Store(t)
	var site atomic.Pointer[string]
	kill := beginAt(s, &site)
	b := &testBarn{t: t, store: s, url: *site.Load()}
	odalys := b.hand()
	odalys.setUp()
	v := odalys.trialOf(lambAsk(), 4)
	var cut, made atomic.Int64
	send := func(method, path, number string, body any) {
		text, _ := json.Marshal(body)
		for range 400 {
			req, _ := http.NewRequest(method, *site.Load()+path, bytes.NewReader(text))
			req.Header.Set("Content-Type", "application/json")
			req.Header.Set("Barn-Request", number)
			for _, c := range odalys.client.Jar.Cookies(mustURL(b.url)) {
				req.AddCookie(c)
			}
			res, err := http.DefaultClient.Do(req)
			if err == nil {
				answer, readErr := io.ReadAll(res.Body)
				res.Body.Close()
				switch {
				case readErr == nil && res.StatusCode < 300:
					made.Add(1)
					return
				case readErr == nil && res.StatusCode < 500:
					t.Errorf("%s answered %d %s", path, res.StatusCode, answer)
					return
				case readErr == nil && (res.StatusCode != 503 || res.Header.Get("Retry-After") == ""):
					t.Errorf("%s answered %d %s, want 503 with Retry-After", path, res.StatusCode, answer)
				}
			}
			cut.Add(1)
			time.Sleep(5 * time.Millisecond)
		}
		t.Errorf("%s was never answered", path)
	}
	const each = 12
	var all sync.WaitGroup
	for w := range 3 {
		all.Go(func() {
			for n := range each {
				body := map[string]any{"stage": "trimmed", "weight": fmt.Sprintf("%d.%d kg", 2+w, n), "resolution": "1/4 oz"}
				send("POST", fmt.Sprintf("/api/cuts/%d/weighings", v.Cuts[w].ID), uuid.NewString(), body)
			}
		})
	}
	all.Go(func() {
		in := draft(v).Cook
		for n := range each {
			in.ServeAt = in.ServeAt.Add(time.Duration(n+1) * time.Minute)
			send("PUT", fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID), uuid.NewString(), in)
		}
	})
	count := func(sql string, args ...any) (n int) {
		t.Helper()
		if err := s.Pool().QueryRow(t.Context(), sql, args...).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	for range 4 {
		grows(&made, 6)
		kill()
		kill = beginAt(s, &site)
	}
	all.Wait()
	kill()
	if n := count("select count(*) from weighings where cut_id = any($1) and stage = 'trimmed'", []int64{v.Cuts[0].ID, v.Cuts[1].ID, v.Cuts[2].ID}); n != 3*each+3 {
		t.Errorf("%d weighings stand in the record, want %d and the three from before", n, 3*each)
	}
	if n := count("select count(*) from changes where subject = 'cook' and subject_id = $1", v.Cooks[0].ID); n != each {
		t.Errorf("the plan has %d changes, want %d", n, each)
	}
	if cut.Load() == 0 {
		t.Error("no answer was cut off: the test did not kill anything")
	}
}

// A server whose record goes away answers that it cannot be reached just now, and for how long.
func TestAServerThatEndsSaysToTryAgain(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	var all sync.WaitGroup
	var away atomic.Int64
	for w := range 6 {
		all.Go(func() {
			for range 60 {
				method, path, body := "GET", fmt.Sprintf("/api/trials/%d", v.ID), ""
				if w%2 == 0 {
					method, path, body = "PUT", fmt.Sprintf("/api/trials/%d/positions", v.ID), "{}"
				}
				req, _ := http.NewRequest(method, b.url+path, bytes.NewBufferString(body))
				req.Header.Set("Content-Type", "application/json")
				res, err := odalys.client.Do(req)
				if err != nil {
					continue
				}
				answer, _ := io.ReadAll(res.Body)
				res.Body.Close()
				if res.StatusCode == 503 && res.Header.Get("Retry-After") != "" {
					away.Add(1)
				} else if res.StatusCode >= 500 {
					t.Errorf("%s %s answered %d %s", method, path, res.StatusCode, answer)
					return
				}
			}
		})
	}
	time.Sleep(60 * time.Millisecond)
	b.store.Close()
	all.Wait()
	if away.Load() == 0 {
		t.Error("nothing was asked of a barn that was away")
	}
}

// beginAt starts a server, says where, and answers with what kills it in the middle of what is asked.
func beginAt(s *store.Store, site *atomic.Pointer[string]) (kill func()) {
	srv, handler := New(servicesOf(s), Options{})
	web := httptest.NewServer(handler)
	site.Store(&web.URL)
	return func() {
		web.CloseClientConnections()
		web.Close()
		srv.Close()
	}
}

// grows waits until a count has grown by so much.
func grows(n *atomic.Int64, by int64) {
	for before := n.Load(); n.Load() < before+by; {
		time.Sleep(2 * time.Millisecond)
	}
}

// A token that is shown once is not kept for who asks again.
func TestNoTokenIsKeptToBeAnsweredAgain(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	kept := func(path string, body any) (n int) {
		t.Helper()
		text, _ := json.Marshal(body)
		number := uuid.NewString()
		req, _ := http.NewRequest("POST", b.url+path, bytes.NewReader(text))
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Barn-Request", number)
		if status, answer := odalys.ask(req); status != 201 {
			t.Fatalf("%s answered %d %s", path, status, answer)
		}
		if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from requests where number = $1", number).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	for path, c := range map[string]struct {
		body any
		want int
	}{
		"/api/pits":           {map[string]string{"name": "Second Pit"}, 1},
		"/api/devices":        {map[string]string{"name": "hill logger"}, 0},
		"/api/records/tokens": {map[string]any{"name": "a script", "scope": "read", "days": 1}, 0},
	} {
		if got := kept(path, c.body); got != c.want {
			t.Errorf("of POST %s %d answers are kept, want %d", path, got, c.want)
		}
	}
}

func mustURL(s string) *url.URL {
	u, err := url.Parse(s)
	if err != nil {
		panic(err)
	}
	return u
}
