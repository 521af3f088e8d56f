package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestNoPressIsLostOrDoubledUnderKills kills the server or PostgreSQL at random while four
// hands press and send again what was not acknowledged, as an outbox does. KILLS says how
// often; make chaos kills oftener.
func TestNoPressIsLostOrDoubledUnderKills(t *testing.T) {
	kills := 3
	if n, err := strconv.Atoi(os.Getenv("KILLS")); err == nil {
		kills = n
	}
	url := pgtest.URL(t)
	addr := freeAddress(t)
	server := process(t, addr, url)
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, Timeout: 5 * time.Second}
	post := func(path string, body any) int {
		text, _ := json.Marshal(body)
		res, err := client.Post("http://"+addr+path, "application/json", bytes.NewReader(text))
		if err != nil {
			return 0 // nobody there
		}
		_ = res.Body.Close()
		return res.StatusCode
	}
	if status := post("/api/first-run", people.FirstRun{Barn: "White Barn", TimeZone: "UTC", Name: "Odalys", SignIn: "odalys",
		Password: "apricot and alder"}); status != 201 {
		t.Fatalf("the first run answers %d", status)
	}
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	path := fmt.Sprintf("/api/cooks/%d/events", aCook(t, s))

	over := make(chan struct{})
	var writers sync.WaitGroup
	pressed := make([][]string, 4)
	for w := range pressed {
		writers.Go(func() {
			for n := 0; ; n++ {
				select {
				case <-over:
					return
				default:
				}
				press := uuid.NewString()
				for tries := 0; post(path, fire.EventInput{Act: logbook.Note, Note: fmt.Sprintf("hand %d, press %d", w, n), Press: press}) != 201; tries++ {
					if tries > 1000 {
						t.Errorf("press %s is not taken for twenty seconds", press)
						return
					}
					time.Sleep(20 * time.Millisecond)
				}
				pressed[w] = append(pressed[w], press)
			}
		})
	}
	servers := 0
	for n := range kills {
		time.Sleep(time.Duration(200+rand.IntN(800)) * time.Millisecond)
		if n%2 == 0 {
			server = killed(t, server, addr, url)
			servers++
		} else {
			pgtest.Kill(t)
		}
	}
	time.Sleep(500 * time.Millisecond)
	close(over)
	writers.Wait()
	total := 0
	for _, mine := range pressed {
		total += len(mine)
		for _, press := range mine {
			if n := count(t, s, "select count(*) from events where press = '"+press+"'"); n != 1 {
				t.Errorf("the acknowledged press %s stands %d times", press, n)
			}
		}
	}
	if all := count(t, s, "select count(distinct press) from events where act = 'note'"); total < 4*kills || all != total {
		t.Errorf("%d presses were acknowledged and %d are there", total, all)
	}
	t.Logf("%d presses, %d kills, %d of them of the server", total, kills, servers)
}

// killed kills a server and starts another in its place.
func killed(t *testing.T, server *exec.Cmd, addr, url string) *exec.Cmd {
	t.Helper()
	_ = server.Process.Kill()
	_ = server.Wait()
	return process(t, addr, url)
}

func freeAddress(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}

// aCook is a cook of a trial that Odalys asked.
func aCook(t *testing.T, s *store.Store) int64 {
	t.Helper()
	id, err := s.CreateTrial(t.Context(), 1, trial.Ask{Question: "Paper or bare?", Product: "lamb shoulder", Cut: "shoulder",
		Species: safety.RedMeat, Handling: safety.Intact}.Tidy())
	if err != nil {
		t.Fatal(err)
	}
	cook, err := s.CreateCook(t.Context(), 1, id, store.CookPlan{ServeAt: time.Now().Add(8 * time.Hour)}, trial.RealClock(time.Now()))
	if err != nil {
		t.Fatal(err)
	}
	return cook
}

// count asks until the pool has found out which of its connections are dead.
func count(t *testing.T, s *store.Store, sql string) (n int) {
	t.Helper()
	var err error
	for range 20 {
		if err = s.Pool().QueryRow(t.Context(), sql).Scan(&n); err == nil {
			return n
		}
		time.Sleep(100 * time.Millisecond)
	}
	t.Fatal(err)
	return 0
}
