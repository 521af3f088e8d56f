package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"whitebarn/core/trial"
	"whitebarn/internal/auth"
	"whitebarn/internal/demo"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// firstRun makes a barn at a site and stays signed in.
func (r *running) firstRun() *http.Client {
	r.t.Helper()
	jar, err := cookiejar.New(nil)
	if err != nil {
		r.t.Fatal(err)
	}
	client := &http.Client{Jar: jar}
	body, _ := json.Marshal(map[string]string{"barn": "Hill Barn", "time_zone": "UTC", "name": "Odalys", "sign_in": "odalys", "password": "apricot and alder"})
	if res, err := client.Post(r.site+"/api/first-run", "application/json", bytes.NewReader(body)); err != nil || res.StatusCode != 201 {
		r.t.Fatalf("the first run: %v %v", res, err)
	}
	return client
}

// told runs a command of White Barn and returns what it prints.
func told(t *testing.T, args ...string) (string, error) {
	t.Helper()
	var out bytes.Buffer
	err := run(t.Context(), args, strings.NewReader("hornbeam and alder\n"), &out)
	return out.String(), err
}

// TestAFullDiskStopsWritingAndGoesOnByItself fills the disk of a barn under it, has its
// database die of it, and makes room again.
func TestAFullDiskStopsWritingAndGoesOnByItself(t *testing.T) {
	disk := freshFolder(t)
	if err := os.Mkdir(disk, 0o711); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("mount", "-t", "tmpfs", "-o", "size=400m,mode=711", "tmpfs", disk).CombinedOutput(); err != nil {
		t.Skipf("this machine lets nobody mount a small disk: %s", out)
	}
	t.Cleanup(func() { _ = exec.Command("umount", "-l", disk).Run() })
	r := start(t, "serve", "-addr", "127.0.0.1:0", "-data", filepath.Join(disk, "data"), "-backups", "off")
	client := r.firstRun()
	rename := func() (int, string) {
		req, _ := http.NewRequest(http.MethodPut, r.site+"/api/barn",
			strings.NewReader(`{"name": "Hill Barn", "time_zone": "UTC", "elevation_m": 0, "guests": false}`))
		req.Header.Set("Content-Type", "application/json")
		res, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		text, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(text)
	}
	until := func(what string, f func() bool) {
		t.Helper()
		for end := time.Now().Add(40 * time.Second); !f(); time.Sleep(100 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("%s: not within 40 s; it says %s", what, r.get("/ready"))
			}
		}
	}
	fill := func(leave int64) {
		t.Helper()
		var st syscall.Statfs_t
		if err := syscall.Statfs(disk, &st); err != nil {
			t.Fatal(err)
		}
		f, err := os.OpenFile(filepath.Join(disk, "photos of others"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		_, _ = f.Write(make([]byte, max(int64(st.Bavail)*st.Bsize-leave, 0))) // what does not fit is cut off
	}
	if status, text := rename(); status != 204 {
		t.Fatalf("before, a change answers %d %s", status, text)
	}
	fill(40<<20 + 512<<10) // what the log writes meanwhile is less
	until("the disk is seen full", func() bool { return strings.Contains(r.get("/ready"), "reads only") })
	if status, text := rename(); status != 507 || !strings.Contains(text,
		"The disk is full (40 MB left). Nothing more is written") || !strings.Contains(text, "goes on by itself") {
		t.Errorf("on a full disk a change answers %d %s", status, text)
	}
	if got := r.get("/api/session") + r.get("/ready"); !strings.Contains(got, "Hill Barn") || !strings.Contains(got, `"state":"full"`) {
		t.Errorf("on a full disk the barn reads %s", got)
	}
	// The database dies of it: nothing at all is left, and it is killed as it would kill itself.
	noted, quiet := &lines{}, slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(noted, nil)))
	defer slog.SetDefault(quiet)
	fill(0)
	pid, err := os.ReadFile(filepath.Join(disk, "data", "pgdata", "postmaster.pid"))
	if err != nil {
		t.Fatal(err)
	}
	var n int
	if _, err := fmt.Sscan(string(pid), &n); err != nil || syscall.Kill(n, syscall.SIGKILL) != nil {
		t.Fatalf("the database is process %d: %v", n, err)
	}
	until("two tries to start it", func() bool { return strings.Count(noted.String(), "cannot be started yet") >= 2 })
	if got := r.get("/health"); got != "alive\n" {
		t.Errorf("without its database the server says %q", got)
	}
	if err := os.Remove(filepath.Join(disk, "photos of others")); err != nil {
		t.Fatal(err)
	}
	until("it goes on", func() bool { return strings.Contains(r.get("/ready"), `"status":"ready"`) })
	until("changes are taken again", func() bool { status, _ := rename(); return status == 204 })
	r.end()
}

// TestABackupOfAFastCookComesBackWhole takes a backup from a running barn while a simulated
// cook plays at 600 times the true time, and compares it after restoring: no reading has a hole
// before it, and the verdicts are as they were.
func TestABackupOfAFastCookComesBackWhole(t *testing.T) {
	url := pgtest.URL(t)
	t.Setenv("DATABASE_URL", url)
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := demo.Seed(t.Context(), s, auth.Cheap, time.Now()); err != nil {
		t.Fatal(err)
	}
	begin := time.Now()
	cook, err := s.CreateCook(t.Context(), 1, 2, store.CookPlan{ServeAt: begin.Add(8 * time.Hour)}, trial.Clock{Origin: begin, Start: begin, Rate: 600})
	if err != nil {
		t.Fatal(err)
	}
	_, token, err := s.NewDevice(t.Context(), 1, "fast", &cook)
	if err != nil {
		t.Fatal(err)
	}
	r := start(t, "serve", "-addr", "127.0.0.1:0", "-backups", t.TempDir(), "-backup-every", "1h")
	script, err := standin.Parse([]byte(quickDay))
	if err != nil {
		t.Fatal(err)
	}
	b, err := standin.New(script, begin)
	if err != nil {
		t.Fatal(err)
	}
	sender := standin.NewSender(standin.Site{Address: r.site, Token: token}.Deliver)
	played := make(chan error, 1)
	go func() {
		played <- standin.Run(t.Context(), b, sender, func() time.Time { return begin.Add(600 * time.Since(begin)) }, nil)
	}()
	heard(t, s, 1)
	file := filepath.Join(t.TempDir(), "mid.zip")
	if out, err := told(t, "backup", "-o", file, "-check"); err != nil || !strings.Contains(out, "all tables are the same") {
		t.Fatalf("the backup says %s (%v)", out, err)
	}
	if err := <-played; err != nil {
		t.Fatal(err)
	}
	r.end()
	empty := pgtest.Empty(t)
	t.Setenv("DATABASE_URL", empty)
	if out, err := told(t, "restore", file); err != nil || !strings.Contains(out, "is back") {
		t.Fatalf("the restore says %s (%v)", out, err)
	}
	if _, err := told(t, "restore", file); err == nil || !strings.Contains(err.Error(), "empty folder") {
		t.Errorf("a restore over a barn says %v", err)
	}
	back, err := store.Open(t.Context(), empty)
	if err != nil {
		t.Fatal(err)
	}
	defer back.Close()
	var holes, readings int
	err = back.Pool().QueryRow(t.Context(), `select count(*), coalesce(max(sequence), 0) - count(*) from readings r join probes p on p.id = r.probe_id
		join devices d on d.id = p.device_id where d.name = 'fast'`).Scan(&readings, &holes)
	if err != nil || readings == 0 || holes != 0 {
		t.Errorf("the backup holds %d readings of the cook with %d holes between (%v)", readings, holes, err)
	}
	for _, id := range []int64{3, 7, 8} {
		a, err1 := s.VerdictLines(t.Context(), id)
		b, err2 := back.VerdictLines(t.Context(), id)
		if err1 != nil || err2 != nil || a[id].Headline == "" || a[id] != b[id] {
			t.Errorf("the verdict of trial %d came back as %+v, was %+v (%v %v)", id, b[id], a[id], err1, err2)
		}
	}
}

// TestTheKeepersCommands walks what somebody who looks after a machine does.
func TestTheKeepersCommands(t *testing.T) {
	data := freshFolder(t)
	backups := t.TempDir()
	r := start(t, "serve", "-addr", "127.0.0.1:0", "-data", data, "-backups", backups, "-log", "json")
	r.firstRun()
	for end := time.Now().Add(20 * time.Second); ; time.Sleep(50 * time.Millisecond) {
		found, _ := filepath.Glob(filepath.Join(backups, "white-barn-*.zip"))
		if len(found) == 1 {
			break
		}
		if time.Now().After(end) {
			t.Fatalf("no backup was taken: %v", found)
		}
	}
	file := filepath.Join(t.TempDir(), "barn.zip")
	for _, c := range []struct {
		args      []string
		out, fail string
	}{
		{[]string{"version"}, "White Barn " + version, ""},
		{[]string{"doctor", "-data", data, "-backups", backups}, "and whole", ""},
		{[]string{"doctor", "-data", data, "-backups", t.TempDir()}, "Run whitebarn backup", "1 things want a look"},
		{[]string{"user", "-data", data}, "odalys", ""},
		{[]string{"user", "password", "odalys", "-data", data}, "It is changed", ""},
		{[]string{"user", "password", "nobody", "-data", data}, "", "nobody of the crew goes by nobody"},
		{[]string{"user", "link", "Odalys", "-data", data, "-site", "https://barn.example/"}, "Odalys sets a password at https://barn.example/enter#", ""},
		{[]string{"user", "link", "nobody", "-data", data}, "", "nobody of the crew goes by nobody"},
		{[]string{"access"}, "| `POST /api/trials/:id/allotment` | – | – | – | – | arms | yes |", ""},
		{[]string{"user", "passwort", "odalys", "-data", data}, "", "wants"},
		{[]string{"export", "-data", data, "-o", file}, "datapackage.json", ""},
		{[]string{"export", "-data", data, "-o", file + "2", "-trial", "9"}, "", "not found"},
		{[]string{"restore", file, "-data", data}, "", "a barn here already"},
		{[]string{"import", file, "-data", data, "-as", "odalys"}, "", "whole barn"},
		{[]string{"backup", "-data", filepath.Join(data, "nowhere")}, "", "there is no barn in"},
		{[]string{"restore", filepath.Join(data, "password")}, "", "not a zip file"},
	} {
		out, err := told(t, c.args...)
		if !strings.Contains(out, c.out) || (err == nil) != (c.fail == "") || err != nil && !strings.Contains(err.Error(), c.fail) {
			t.Errorf("whitebarn %v gave %.300q and %v; want %q and %q", c.args, out, err, c.out, c.fail)
		}
	}
	// The new password lets in.
	body := strings.NewReader(`{"sign_in": "odalys", "password": "hornbeam and alder"}`)
	if res, err := http.Post(r.site+"/api/session", "application/json", body); err != nil || res.StatusCode != 200 {
		t.Errorf("the new password: %v %v", res, err)
	}
	r.end()
	// The export makes the same barn elsewhere, where nobody has a password yet.
	other := freshFolder(t)
	if out, err := told(t, "restore", file, "-data", other); err != nil || !strings.Contains(out, "nobody has a password") {
		t.Errorf("the export restores with %q (%v)", out, err)
	}
}
