package pgrun

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
)

var quick = Options{Throwaway: true, Settings: []string{"fsync=off"}}

// folder is a data folder that the user postgres can reach.
func folder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "white-barn-pgrun-")
	if err != nil {
		t.Fatal(err)
	}
	if err := os.Chmod(dir, 0o711); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	return filepath.Join(dir, "data")
}

func start(t *testing.T, dir string) *Server {
	t.Helper()
	s, err := Start(t.Context(), dir, quick)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Stop() })
	return s
}

func exec1(t *testing.T, s *Server, sql string) string {
	t.Helper()
	conn, err := pgx.Connect(t.Context(), s.URL)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(context.Background())
	var out any
	if err := conn.QueryRow(t.Context(), sql).Scan(&out); err != nil {
		t.Fatal(err)
	}
	return fmt.Sprint(out)
}

func TestDataOutliveTheServer(t *testing.T) {
	dir := folder(t)
	s := start(t, dir)
	exec1(t, s, "with made as (select 1) select 1")
	conn, err := pgx.Connect(t.Context(), s.URL)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := conn.Exec(t.Context(), "create table kept as select 42 as n"); err != nil {
		t.Fatal(err)
	}
	conn.Close(t.Context())
	s.opts.Throwaway = false // stop in order, as real data are stopped
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	if got := exec1(t, start(t, dir), "select n from kept"); got != "42" {
		t.Errorf("after a restart the table holds %s, want 42", got)
	}
}

func TestSecondInstanceIsTurnedAway(t *testing.T) {
	dir := folder(t)
	start(t, dir)
	if _, err := Start(t.Context(), dir, quick); err == nil || !strings.Contains(err.Error(), "in use by another") {
		t.Errorf("the second instance got %v, want to be told of the first", err)
	}
}

func TestStartAfterTheServerWasKilled(t *testing.T) {
	dir := folder(t)
	s := start(t, dir)
	_ = s.cmd.Process.Signal(syscall.SIGKILL)
	<-s.Done()
	s.lock.Close()
	if got := exec1(t, start(t, dir), "select 1"); got != "1" {
		t.Errorf("after a kill the server answers %s", got)
	}
}

func TestRestartKeepsTheAddress(t *testing.T) {
	s := start(t, folder(t))
	url := s.URL
	_ = s.cmd.Process.Signal(syscall.SIGKILL)
	<-s.Done()
	if err := s.Restart(t.Context()); err != nil {
		t.Fatal(err)
	}
	if got := exec1(t, s, "select 1"); got != "1" || s.URL != url {
		t.Errorf("after a restart %s answers %s, want 1 at the address as before", s.URL, got)
	}
}

func TestResetStartsOver(t *testing.T) {
	dir := folder(t)
	if err := Reset(dir); err != nil {
		t.Errorf("a folder that is not there cannot be reset: %v", err)
	}
	s := start(t, dir)
	if err := Reset(dir); err == nil || !strings.Contains(err.Error(), "in use by another") {
		t.Errorf("a folder in use was reset: %v", err)
	}
	exec1(t, s, "with x as (select 1) select 1")
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	if err := Reset(dir); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(filepath.Join(dir, "pgdata")); !os.IsNotExist(err) {
		t.Errorf("after a reset the data are still there: %v", err)
	}
}

func TestStalePidOfAnotherProcessIsRemoved(t *testing.T) {
	dir := folder(t)
	s := start(t, dir)
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	// Our own number: alive, and no postgres on this folder.
	pid := filepath.Join(dir, "pgdata", "postmaster.pid")
	if err := os.WriteFile(pid, []byte(strconv.Itoa(os.Getpid())+"\n"), 0o644); err != nil {
		t.Fatal(err)
	}
	start(t, dir)
}

func TestHalfMadeClusterIsMadeAgain(t *testing.T) {
	dir := folder(t)
	if err := os.MkdirAll(filepath.Join(dir, "pgdata.new", "base"), 0o700); err != nil {
		t.Fatal(err)
	}
	start(t, dir)
}

func TestFolderOutOfReachIsNamed(t *testing.T) {
	if os.Geteuid() != 0 {
		t.Skip("only root runs the server as somebody else")
	}
	dir := folder(t)
	closed := filepath.Dir(dir)
	if err := os.Chmod(closed, 0o700); err != nil {
		t.Fatal(err)
	}
	if _, err := Start(t.Context(), dir, quick); err == nil || !strings.Contains(err.Error(), "may not enter "+closed) {
		t.Errorf("a closed folder gave %v, want its name", err)
	}
}

func TestFolderOfAnotherUserIsRefused(t *testing.T) {
	if os.Geteuid() != 0 {
		t.Skip("needs two users")
	}
	dir := folder(t)
	if err := os.MkdirAll(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.Chown(dir, 2, 2); err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(os.Args[0], "-test.run=TestHelperStart")
	cmd.Env = append(os.Environ(), "PGRUN_HELPER="+dir)
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
	cmd.Dir = "/"
	// The test binary lies where only root may look; a copy does not.
	binary := filepath.Join(filepath.Dir(dir), "helper")
	text, err := os.ReadFile(os.Args[0])
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(binary, text, 0o755); err != nil {
		t.Fatal(err)
	}
	cmd.Path = binary
	out, _ := cmd.CombinedOutput()
	if !strings.Contains(string(out), "belongs to bin") {
		t.Errorf("another user's folder gave %s, want its owner's name", out)
	}
}

// TestHelperStart is the body of a second process, not a test by itself.
func TestHelperStart(t *testing.T) {
	dir := os.Getenv("PGRUN_HELPER")
	if dir == "" {
		return
	}
	s, err := Start(t.Context(), dir, quick)
	fmt.Println("HELPER", err)
	if err == nil {
		time.Sleep(time.Minute)
		_ = s.Stop()
	}
}

func TestServerGoesWithAProgramThatIsKilled(t *testing.T) {
	dir := folder(t)
	cmd := exec.Command(os.Args[0], "-test.run=TestHelperStart")
	cmd.Env = append(os.Environ(), "PGRUN_HELPER="+dir)
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	pgdata := filepath.Join(dir, "pgdata")
	waitFor(t, "the server to start", func() bool { return len(serversOn(pgdata)) > 0 })
	_ = cmd.Process.Kill()
	_ = cmd.Wait()
	start(t, dir) // may come while the old one is still going down
}

func waitFor(t *testing.T, what string, ok func() bool) {
	t.Helper()
	for end := time.Now().Add(30 * time.Second); !ok(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("waited in vain for %s", what)
		}
	}
}
