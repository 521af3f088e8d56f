package main

import (
	"context"
	"net"
	"os"
	"os/exec"
	"strings"
	"testing"
	"time"

	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// asMain makes this test binary a White Barn, so that one can be killed.
const asMain = "WHITEBARN_TEST_AS_MAIN"

// process is a White Barn that runs by itself.
func process(t *testing.T, addr, url string) *exec.Cmd {
	t.Helper()
	cmd := exec.Command(os.Args[0], "serve", "-addr", addr)
	cmd.Env = append(os.Environ(), asMain+"=1", "DATABASE_URL="+url)
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	for end := time.Now().Add(30 * time.Second); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		if c, err := net.Dial("tcp", addr); err == nil {
			_ = c.Close()
			return cmd
		}
	}
	t.Fatal("White Barn does not answer")
	return nil
}

const quickDay = `
name: outage
seed: 5
every: 20s
length: 90m
pits:
  - {name: Brick Pit, kind: offset, set_point: 250 F, control: fan, channel: pit}
cuts:
  - {name: 1L, family: lambshoulder, weight: 5 lb, pit: Brick Pit, on: 0s, channel: core 1L}
  - {name: 1R, family: lambshoulder, weight: 5 lb, pit: Brick Pit, on: 0s, channel: core 1R}
`

// heard waits until so many readings more are in the record.
func heard(t *testing.T, s *store.Store, more int) {
	t.Helper()
	count := func() (n int) {
		if err := s.Pool().QueryRow(t.Context(), "select count(*) from readings").Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	for before, end := count(), time.Now().Add(time.Minute); count() < before+more; time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("no %d readings more come in", more)
		}
	}
}

// TestNothingIsLostWhenServerAndDatabaseAreKilled plays ninety minutes at 600
// times the true time and kills both in the middle.
func TestNothingIsLostWhenServerAndDatabaseAreKilled(t *testing.T) {
	url := pgtest.URL(t)
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	start := time.Now()
	token := fastDevice(t, s, start)
	addr := freeAddress(t)
	server := process(t, addr, url)

	script, err := standin.Parse([]byte(quickDay))
	if err != nil {
		t.Fatal(err)
	}
	b, err := standin.New(script, start)
	if err != nil {
		t.Fatal(err)
	}
	sender := standin.NewSender(standin.Site{Address: "http://" + addr, Token: token}.Deliver)
	clock := func() time.Time { return start.Add(600 * time.Since(start)) }
	ctx, cancel := context.WithTimeout(t.Context(), 90*time.Second)
	defer cancel()
	played := make(chan error, 1)
	go func() { played <- standin.Run(ctx, b, sender, clock, nil) }()

	heard(t, s, 1)
	killed(t, server, addr, url)
	heard(t, s, 200)
	pgtest.Kill(t)
	if err := <-played; err != nil {
		t.Fatalf("the day ended with %v, %d readings waiting", err, sender.Waiting())
	}
	var n, different, channels int
	for try := 0; ; try++ { // the pool finds out that its connections are dead
		err = s.Pool().QueryRow(t.Context(), "select count(*), count(distinct sequence), count(distinct probe_id) from readings").Scan(&n, &different, &channels)
		if err == nil {
			break
		}
		if try > 20 {
			t.Fatal(err)
		}
		time.Sleep(100 * time.Millisecond)
	}
	again, err := standin.New(script, start)
	if err != nil {
		t.Fatal(err)
	}
	want := 0
	if err := again.Advance(start.Add(90*time.Minute), func(standin.Reading) { want++ }); err != nil {
		t.Fatal(err)
	}
	if n != want || different != want || channels != 3 {
		t.Errorf("after the outages there are %d readings (%d different) of %d probes, want %d of 3", n, different, channels, want)
	}
}

// fastDevice is a device of a cook whose clock runs 600 times as fast.
func fastDevice(t *testing.T, s *store.Store, start time.Time) string {
	t.Helper()
	ctx := t.Context()
	who, err := s.FirstRun(ctx, store.Barn{Name: "White Barn", TimeZone: "UTC"}, store.Person{Name: "Odalys", Role: store.Pitmaster, SignIn: "odalys", PasswordHash: "none"})
	if err != nil {
		t.Fatal(err)
	}
	id, err := s.CreateTrial(ctx, who, trial.Ask{Question: "Paper or bare?", Product: "lamb shoulder", Cut: "shoulder", Species: safety.RedMeat, Handling: safety.Intact}.Tidy())
	if err != nil {
		t.Fatal(err)
	}
	cook, err := s.CreateCook(ctx, who, id, store.CookPlan{ServeAt: start.Add(8 * time.Hour)}, trial.Clock{Origin: start, Start: start, Rate: 600})
	if err != nil {
		t.Fatal(err)
	}
	_, token, err := s.NewDevice(ctx, who, "fast", &cook)
	if err != nil {
		t.Fatal(err)
	}
	return token
}

func TestTheStandinSaysWhatIsMissing(t *testing.T) {
	script := t.TempDir() + "/day.yaml"
	if err := os.WriteFile(script, []byte(quickDay), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		args      []string
		out, fail string
	}{
		{[]string{script}, "seq,channel,at,value,unit\n1,pit,", ""},
		{nil, "whitebarn standin [flags] SCRIPT.yaml", "give one script"},
		{[]string{"-rate", "9000", script}, "", "outside 1 to 600"},
		{[]string{"nowhere.yaml"}, "", "nowhere.yaml"},
	} {
		var out lines
		err := run(t.Context(), append([]string{"standin"}, c.args...), nil, &out)
		if !strings.Contains(out.String(), c.out) || (err == nil) != (c.fail == "") || err != nil && !strings.Contains(err.Error(), c.fail) {
			t.Errorf("standin %v gave %.200q and %v", c.args, out.String(), err)
		}
	}
}
