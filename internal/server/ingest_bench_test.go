package server

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/internal/pgrun"
	"whitebarn/internal/store"
)

// durableBarn is a barn on a database that keeps its promises: on disk, with
// every commit flushed.
func durableBarn(b *testing.B) (*store.Store, string, func(name string) string) {
	b.Helper()
	base, err := os.MkdirTemp("/var/tmp", "white-barn-bench-")
	if err != nil {
		b.Fatal(err)
	}
	if err := os.Chmod(base, 0o711); err != nil {
		b.Fatal(err)
	}
	pg, err := pgrun.Start(context.Background(), filepath.Join(base, "data"), pgrun.Options{})
	if err != nil {
		b.Fatal(err)
	}
	s, err := store.Open(b.Context(), pg.URL)
	if err != nil {
		b.Fatal(err)
	}
	srv, handler := New(servicesOf(s), Options{})
	web := httptest.NewServer(handler)
	b.Cleanup(func() {
		web.Close()
		srv.Close()
		s.Close()
		_ = pg.Stop()
		_ = os.RemoveAll(base)
	})
	who, err := s.FirstRun(b.Context(), store.Barn{Name: "White Barn", TimeZone: "UTC"}, store.Person{Name: "Odalys", Role: store.Pitmaster, SignIn: "odalys", PasswordHash: "none"})
	if err != nil {
		b.Fatal(err)
	}
	return s, web.URL, func(name string) string {
		_, token, err := s.NewDevice(b.Context(), who, name, nil)
		if err != nil {
			b.Fatal(err)
		}
		return token
	}
}

const batchSize = 500

// batchCSV is a batch of ten channels under fresh numbers.
func batchCSV(from int, at time.Time) []byte {
	var out bytes.Buffer
	for i := range batchSize {
		fmt.Fprintf(&out, "%d,core %d,%s,%.2f,C\n", from+i, i%10, at.Add(time.Duration(i-batchSize)*time.Second/10).UTC().Format(time.RFC3339Nano), 60+float64(i%80)/10)
	}
	return out.Bytes()
}

func deliver(b *testing.B, client *http.Client, url, token string, body []byte) {
	req, err := http.NewRequest("POST", url+"/api/devices/readings", bytes.NewReader(body))
	if err != nil {
		b.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+token)
	req.Header.Set("Content-Type", "text/csv")
	res, err := client.Do(req)
	if err != nil {
		b.Fatal(err)
	}
	_ = res.Body.Close()
	if res.StatusCode != http.StatusOK {
		b.Fatalf("a batch is answered with %s", res.Status)
	}
}

// BenchmarkIngest compares batches through the device interface with the same
// rows copied straight into the same table, one commit a batch.
func BenchmarkIngest(b *testing.B) {
	s, url, device := durableBarn(b)
	at := time.Now()
	b.Run("door", func(b *testing.B) {
		token := device(fmt.Sprintf("gateway %d", b.N))
		next := 1
		for b.Loop() {
			deliver(b, http.DefaultClient, url, token, batchCSV(next, at))
			next += batchSize
		}
		b.ReportMetric(float64(batchSize*b.N)/b.Elapsed().Seconds(), "readings/s")
	})
	b.Run("copy", func(b *testing.B) {
		next := 1
		for b.Loop() {
			rows := make([][]any, batchSize)
			for i := range rows {
				rows[i] = []any{int64(1_000_000 + i%10), at.Add(time.Duration(next+i) * time.Millisecond), 60.0, 60.0, "C", int64(next + i)}
			}
			err := pgx.BeginFunc(b.Context(), s.Pool(), func(tx pgx.Tx) error {
				_, err := tx.CopyFrom(b.Context(), pgx.Identifier{"readings"}, []string{"probe_id", "at", "c", "value", "scale", "sequence"}, pgx.CopyFromRows(rows))
				return err
			})
			if err != nil {
				b.Fatal(err)
			}
			next += batchSize
		}
		b.ReportMetric(float64(batchSize*b.N)/b.Elapsed().Seconds(), "readings/s")
	})
}

// BenchmarkSingleReadings has fifty devices send ten readings a second each,
// one at a time, for five seconds.
func BenchmarkSingleReadings(b *testing.B) {
	_, url, device := durableBarn(b)
	devices, each := 50, 50
	if testing.Short() {
		devices, each = 5, 10
	}
	tokens := make([]string, devices)
	for i := range tokens {
		tokens[i] = device(fmt.Sprintf("probe %d", i))
	}
	client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: devices}}
	next := 0
	for b.Loop() {
		var mu sync.Mutex
		var took []time.Duration
		var work sync.WaitGroup
		for i, token := range tokens {
			work.Go(func() {
				time.Sleep(time.Duration(i) * 2 * time.Millisecond)
				tick := time.NewTicker(100 * time.Millisecond)
				defer tick.Stop()
				for k := range each {
					<-tick.C
					start := time.Now()
					deliver(b, client, url, token, fmt.Appendf(nil, "%d,core,,60.5,C\n", next+k+1))
					d := time.Since(start)
					mu.Lock()
					took = append(took, d)
					mu.Unlock()
				}
			})
		}
		work.Wait()
		next += each
		slices.Sort(took)
		b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "p50-ms")
		b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "p99-ms")
	}
}
