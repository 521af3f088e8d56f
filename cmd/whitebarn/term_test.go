package main

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestAServerThatIsToldToEndAnswersOrAsksToWait: whoever writes while it ends is answered, or told to come again, or
// finds nobody; what was answered is there.
func TestAServerThatIsToldToEndAnswersOrAsksToWait(t *testing.T) {
	url := pgtest.URL(t)
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	token := fastDevice(t, s, time.Now())
	addr := freeAddress(t)
	server := process(t, addr, url)
	var all sync.WaitGroup
	var kept, next atomic.Int64
	var toldAt atomic.Int64
	over := func() bool { at := toldAt.Load(); return at != 0 && time.Since(time.Unix(0, at)) > 2*time.Second }
	for range 6 {
		all.Go(func() {
			client := http.Client{Timeout: 20 * time.Second}
			for !over() {
				body := fmt.Sprintf("%d,pit,,121,C\n", next.Add(1))
				req, err := http.NewRequest("POST", "http://"+addr+"/api/devices/readings", strings.NewReader(body))
				if err != nil {
					t.Error(err)
					return
				}
				req.Header.Set("Content-Type", "text/csv")
				req.Header.Set("Authorization", "Bearer "+token)
				res, err := client.Do(req)
				if err != nil {
					time.Sleep(10 * time.Millisecond)
					continue // nobody is there
				}
				res.Body.Close()
				switch {
				case res.StatusCode == http.StatusOK:
					kept.Add(1)
				case res.StatusCode != http.StatusServiceUnavailable || res.Header.Get("Retry-After") == "":
					t.Errorf("while it ends a writer is answered %d", res.StatusCode)
				}
			}
		})
	}
	heard(t, s, 200)
	if err := server.Process.Signal(syscall.SIGTERM); err != nil {
		t.Fatal(err)
	}
	toldAt.Store(time.Now().UnixNano())
	ended := make(chan error, 1)
	go func() { ended <- server.Wait() }()
	select {
	case err := <-ended:
		if err != nil {
			t.Errorf("it ends with %v", err)
		}
	case <-time.After(15 * time.Second):
		t.Error("it does not end within fifteen seconds")
	}
	all.Wait()
	if n := int64(count(t, s, "select count(*) from readings")); n < kept.Load() || n > kept.Load()+6 {
		t.Errorf("%d readings were acknowledged, %d are there", kept.Load(), n)
	}
}
