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

	"whitebarn/internal/barn/table"
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
	begin := func() (kill func()) {
		srv, handler := New(servicesOf(s), Options{})
		web := httptest.NewServer(handler)
		site.Store(&web.URL)
		return func() {
			web.CloseClientConnections() // in the middle of what is asked
			web.Close()
			srv.Close()
		}
	}
	kill := begin()
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
		before := sealed.Load()
		for sealed.Load() < before+8 {
			time.Sleep(2 * time.Millisecond)
		}
		kill()
		kill = begin()
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
