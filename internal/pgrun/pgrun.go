// Package pgrun starts a PostgreSQL server of its own from Debian's binaries,
// on loopback, in a data folder, and stops it with the program.
package pgrun

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// Options change how the server runs; the zero value is for real data.
type Options struct {
	Settings  []string // further name=value settings
	Throwaway bool     // no syncing, and stopped at once: for tests
}

// Server is a running PostgreSQL.
type Server struct {
	URL  string // of the database whitebarn
	Port int

	dir   string
	bin   string
	owner *syscall.Credential
	opts  Options
	cmd   *exec.Cmd
	done  chan struct{}
	lock  *os.File
}

const (
	dbUser = "whitebarn"
	dbName = "whitebarn"
)

// Start makes the data folder if there is none, recovers what an earlier run
// left behind, and returns when the server answers. It fails with a message
// that says what to do: no PostgreSQL installed, a folder of another user or
// out of reach, or one in use by another instance.
func Start(ctx context.Context, dir string, opts Options) (*Server, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	owner, err := prepareFolder(dir)
	if err != nil {
		return nil, err
	}
	bin, err := binaries(filepath.Join(dir, "pgdata"))
	if err != nil {
		return nil, err
	}
	lock, err := takeLock(filepath.Join(dir, "lock"))
	if err != nil {
		return nil, err
	}
	s := &Server{dir: dir, bin: bin, owner: owner, opts: opts, lock: lock}
	if err := s.start(ctx); err != nil {
		lock.Close()
		return nil, err
	}
	return s, nil
}

func (s *Server) start(ctx context.Context) error {
	password, err := s.initialise()
	if err != nil {
		return err
	}
	if err := clearLeftOver(s.pgdata()); err != nil {
		return err
	}
	for attempt := 1; ; attempt++ {
		port, err := freePort()
		if err == nil {
			err = s.launch(ctx, port)
		}
		if err == nil {
			break
		}
		if attempt == 10 || !strings.Contains(err.Error(), "Address already in use") {
			return err
		}
	}
	s.URL = address(password, fmt.Sprint(s.Port))
	if err := s.createDatabase(ctx); err != nil {
		return errors.Join(err, s.Stop())
	}
	return nil
}

func (s *Server) pgdata() string { return filepath.Join(s.dir, "pgdata") }

// binaries finds the server programs: those of the folder's own major version,
// else the newest installed.
func binaries(pgdata string) (string, error) {
	pattern := "/usr/lib/postgresql/*/bin/postgres"
	version, err := os.ReadFile(filepath.Join(pgdata, "PG_VERSION"))
	if err == nil {
		pattern = "/usr/lib/postgresql/" + strings.TrimSpace(string(version)) + "/bin/postgres"
	}
	found, _ := filepath.Glob(pattern)
	newest, most := "", 0
	for _, f := range found {
		var major int
		if _, err := fmt.Sscanf(f, "/usr/lib/postgresql/%d/", &major); err == nil && major > most {
			newest, most = filepath.Dir(f), major
		}
	}
	if newest == "" {
		if version != nil {
			return "", fmt.Errorf("the data in %s are of PostgreSQL %s, which is not installed. Install it beside the newer one (apt-get install postgresql-%[2]s); "+
				"to bring the data to the newer one: whitebarn backup, move the data folder away, whitebarn restore FILE", pgdata, strings.TrimSpace(string(version)))
		}
		return "", errors.New("PostgreSQL is not installed: apt-get install postgresql")
	}
	return newest, nil
}

// Program is where one of PostgreSQL's own programs lies, for instance pg_dump.
func Program(name string) (string, error) {
	bin, err := binaries("")
	return filepath.Join(bin, name), err
}

// initialise makes the cluster beside its place and moves it there, so that a
// half-made one is never taken for whole. It returns the password.
func (s *Server) initialise() (string, error) {
	secret := filepath.Join(s.dir, "password")
	if _, err := os.Stat(filepath.Join(s.pgdata(), "PG_VERSION")); err == nil {
		password, err := os.ReadFile(secret)
		if err != nil {
			return "", fmt.Errorf("read the database password: %w", err)
		}
		return string(password), nil
	}
	raw := make([]byte, 24)
	if _, err := rand.Read(raw); err != nil {
		return "", err
	}
	password := hex.EncodeToString(raw)
	if err := os.WriteFile(secret, []byte(password), 0o600); err != nil {
		return "", fmt.Errorf("write the database password: %w", err)
	}
	if s.owner != nil {
		if err := os.Chown(secret, int(s.owner.Uid), int(s.owner.Gid)); err != nil {
			return "", err
		}
	}
	fresh := s.pgdata() + ".new"
	if err := os.RemoveAll(fresh); err != nil {
		return "", err
	}
	args := []string{"-D", fresh, "-U", dbUser, "-A", "scram-sha-256", "--pwfile", secret, "-E", "UTF8", "--locale=C.UTF-8"}
	if s.opts.Throwaway {
		args = append(args, "--no-sync")
	}
	cmd := exec.Command(filepath.Join(s.bin, "initdb"), args...)
	cmd.Dir, cmd.Env = s.dir, environment(s.dir)
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: s.owner}
	if out, err := cmd.CombinedOutput(); err != nil {
		return "", fmt.Errorf("initdb in %s: %w\n%s", fresh, err, out)
	}
	return password, os.Rename(fresh, s.pgdata())
}

// environment keeps PG* and locale settings of the caller out of the server.
func environment(home string) []string {
	return []string{"PATH=/usr/bin:/bin", "LC_ALL=C.UTF-8", "TZ=UTC", "HOME=" + home}
}

func (s *Server) launch(ctx context.Context, port int) error {
	args := []string{"-D", s.pgdata()}
	for _, set := range append([]string{
		"listen_addresses=127.0.0.1", fmt.Sprintf("port=%d", port), "unix_socket_directories=",
		"timezone=UTC", "log_timezone=UTC", "logging_collector=off",
	}, s.opts.Settings...) {
		args = append(args, "-c", set)
	}
	logPath := filepath.Join(s.dir, "server.log")
	log, err := os.OpenFile(logPath, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	defer log.Close()
	cmd := exec.Command(filepath.Join(s.bin, "postgres"), args...)
	cmd.Dir, cmd.Env, cmd.Stdout, cmd.Stderr = s.pgdata(), environment(s.dir), log, log
	// A group of its own: Ctrl-C reaches only the program, which then stops the
	// server in order; and the server goes with a program that is killed.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Credential: s.owner, Pdeathsig: syscall.SIGINT}
	started, done := make(chan error, 1), make(chan struct{})
	go func() {
		// The death signal follows the starting thread, so that thread must live as long as the server.
		runtime.LockOSThread()
		defer runtime.UnlockOSThread()
		err := cmd.Start()
		started <- err
		if err == nil {
			_ = cmd.Wait()
			close(done)
		}
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("start postgres: %w", err)
	}
	s.cmd, s.done, s.Port = cmd, done, port
	deadline := time.After(60 * time.Second)
	for !ready(s.pgdata(), cmd.Process.Pid) {
		select {
		case <-done:
			text, _ := os.ReadFile(logPath)
			return fmt.Errorf("postgres did not start:\n%s", tail(string(text), 12))
		case <-deadline:
			_ = s.halt(syscall.SIGQUIT)
			return fmt.Errorf("postgres was not ready after a minute; see %s", logPath)
		case <-ctx.Done():
			_ = s.halt(syscall.SIGINT)
			return ctx.Err()
		case <-time.After(5 * time.Millisecond):
		}
	}
	return nil
}

// ready reads postmaster.pid: line 1 is the process, line 8 its state.
func ready(pgdata string, pid int) bool {
	text, err := os.ReadFile(filepath.Join(pgdata, "postmaster.pid"))
	lines := strings.Split(string(text), "\n")
	return err == nil && len(lines) >= 8 && lines[0] == fmt.Sprint(pid) && strings.TrimSpace(lines[7]) == "ready"
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("find a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func tail(text string, n int) string {
	lines := strings.Split(strings.TrimSpace(text), "\n")
	return strings.Join(lines[max(0, len(lines)-n):], "\n")
}

func (s *Server) createDatabase(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, strings.Replace(s.URL, "/"+dbName+"?", "/postgres?", 1))
	if err != nil {
		return fmt.Errorf("connect to the new server: %w", err)
	}
	defer conn.Close(context.WithoutCancel(ctx))
	var there bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)", dbName).Scan(&there); err != nil {
		return err
	}
	if there {
		return nil
	}
	if _, err := conn.Exec(ctx, "create database "+dbName); err != nil {
		return fmt.Errorf("create the database: %w", err)
	}
	return nil
}

// Done is closed when the server has ended, by Stop or by itself.
func (s *Server) Done() <-chan struct{} { return s.done }

// PID is the server's process.
func (s *Server) PID() int { return s.cmd.Process.Pid }

// Dir is the folder of the data.
func (s *Server) Dir() string { return s.dir }

// Restart starts a server that ended by itself again, at the same address.
func (s *Server) Restart(ctx context.Context) error {
	if err := clearLeftOver(s.pgdata()); err != nil {
		return err
	}
	return s.launch(ctx, s.Port)
}

// Reset removes the data of a folder that no instance uses.
func Reset(dir string) error {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return err
	}
	if _, err := os.Stat(dir); errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if _, err := prepareFolder(dir); err != nil {
		return err
	}
	lock, err := takeLock(filepath.Join(dir, "lock"))
	if err != nil {
		return err
	}
	defer lock.Close()
	pgdata := filepath.Join(dir, "pgdata")
	if err := clearLeftOver(pgdata); err != nil {
		return err
	}
	return errors.Join(os.RemoveAll(pgdata), os.RemoveAll(pgdata+".new"))
}

// Stop shuts the server down and gives the folder free.
func (s *Server) Stop() error {
	defer s.lock.Close()
	if s.opts.Throwaway {
		return s.halt(syscall.SIGQUIT)
	}
	return s.halt(syscall.SIGINT)
}

func (s *Server) halt(sig syscall.Signal) error {
	select {
	case <-s.done:
		return nil
	default:
	}
	_ = s.cmd.Process.Signal(sig)
	select {
	case <-s.done:
		return nil
	case <-time.After(30 * time.Second):
	}
	_ = s.cmd.Process.Signal(syscall.SIGQUIT)
	select {
	case <-s.done:
		return nil
	case <-time.After(10 * time.Second):
		return fmt.Errorf("postgres (process %d) did not stop", s.cmd.Process.Pid)
	}
}
