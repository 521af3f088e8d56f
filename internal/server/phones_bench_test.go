package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"slices"
	"sync"
	"testing"
	"time"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// BenchmarkSixtyPhones seals six samples on each of sixty phones at once: how long a touch
// waits for its answer, where everybody presses again within a second, and where nobody
// waits at all, which no table does.
func BenchmarkSixtyPhones(b *testing.B) {
	b.Run("within a second", func(b *testing.B) { sixtyPhones(b, time.Second) })
	b.Run("without a pause", func(b *testing.B) { sixtyPhones(b, 0) })
}

func sixtyPhones(b *testing.B, pause time.Duration) {
	const samples = 6
	phones := 60
	if testing.Short() {
		phones = 10
	}
	var waits []time.Duration
	for b.Loop() {
		b.StopTimer()
		s := pgtest.Store(b)
		links := tableOfPhones(b, s, phones, samples)
		srv, handler := New(servicesOf(s), Options{})
		web := httptest.NewServer(handler)
		b.StartTimer()
		wires := &http.Transport{MaxIdleConnsPerHost: phones} // each phone keeps its own
		var mu sync.Mutex
		var all sync.WaitGroup
		for _, link := range links {
			all.Go(func() {
				jar, _ := cookiejar.New(nil)
				phone := http.Client{Jar: jar, Transport: wires}
				timed := func(path string, body, out any) {
					text, _ := json.Marshal(body)
					began := time.Now()
					res, err := phone.Post(web.URL+path, "application/json", bytes.NewReader(text))
					if err != nil {
						b.Error(err)
						return
					}
					defer res.Body.Close()
					text, _ = io.ReadAll(res.Body)
					if res.StatusCode != 200 {
						b.Errorf("%s answered %d %s", path, res.StatusCode, text)
						return
					}
					mu.Lock()
					waits = append(waits, time.Since(began))
					mu.Unlock()
					if out != nil {
						_ = json.Unmarshal(text, out)
					}
				}
				var v table.TasteView
				time.Sleep(time.Duration(rand.Float64() * float64(pause)))
				timed(link+"/open", nil, &v)
				for i, x := range v.Plates[0].Samples {
					time.Sleep(time.Duration(rand.Float64() * float64(pause)))
					timed(link+"/samples/"+x.Code+"/seal", table.SealInput{Flight: 1, Scores: map[string]int{"overall": 1 + i}}, nil)
				}
			})
		}
		all.Wait()
		b.StopTimer()
		var sealed int
		if err := s.Pool().QueryRow(b.Context(), "select count(*) from servings where sealed_at is not null").Scan(&sealed); err != nil || sealed != phones*samples {
			b.Fatalf("%d of %d seals are kept (%v)", sealed, phones*samples, err)
		}
		web.Close()
		srv.Close()
		b.StartTimer()
	}
	slices.Sort(waits)
	at := func(share float64) float64 {
		return float64(waits[int(share*float64(len(waits)-1))].Microseconds()) / 1000
	}
	b.ReportMetric(at(0.5), "p50-ms")
	b.ReportMetric(at(0.95), "p95-ms")
	b.ReportMetric(at(1), "max-ms")
}

// tableOfPhones serves so many samples to so many tasters, and returns their pages.
func tableOfPhones(b testing.TB, s *store.Store, phones, samples int) (links []string) {
	ctx := b.Context()
	check := func(err error) {
		b.Helper()
		if err != nil {
			b.Fatal(err)
		}
	}
	who, err := s.FirstRun(ctx, store.Barn{Name: "White Barn", TimeZone: "UTC"}, store.Person{Name: "Odalys", Role: store.Pitmaster, SignIn: "odalys"})
	check(err)
	house, err := s.Barn(ctx)
	check(err)
	ask := lambAsk()
	ask.Outcomes = []trial.Chosen{{Key: trial.Overall, SmallestDifference: 0.5}}
	id, err := s.CreateTrial(ctx, who, ask.Tidy())
	check(err)
	t, err := s.Trial(ctx, id)
	check(err)
	f := store.NewFlight{TrialID: id, Format: panel.ByScores, CarverID: &who, Bites: 2}
	order := make([]int, samples)
	for i := range samples {
		cut, err := s.AddCut(ctx, who, id, store.Cut{Name: fmt.Sprint(i), ArmID: &t.Ask.Arms[i%2].ID})
		check(err)
		f.Samples = append(f.Samples, store.NewSample{CutID: cut, Place: "blade", Code: fmt.Sprint(311 + i)})
		order[i] = i
	}
	for i := range phones {
		taster, err := s.AddTaster(ctx, who, store.NewTaster{TrialID: id, Name: fmt.Sprint("Guest ", i)})
		check(err)
		f.Ballots = append(f.Ballots, store.NewBallot{TasterID: taster, Order: order})
		links = append(links, "/api"+trials.TastePath(house.Secret, taster))
	}
	_, err = s.Serve(ctx, who, f)
	check(err)
	return links
}
