// Package pgtest gives tests databases of their own. A golden data folder,
// migrated once, is copied for each test binary; each test gets a clone.
package pgtest

import (
	"context"
	"crypto/sha256"
	"flag"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"whitebarn/internal/pgrun"
	"whitebarn/internal/store"
)

var settings = pgrun.Options{Throwaway: true, Settings: []string{
	"fsync=off", "full_page_writes=off", "autovacuum=off", "wal_level=minimal", "max_wal_senders=0", "shared_buffers=64MB", "max_connections=200",
}}

var (
	server *pgrun.Server
	count  atomic.Int64
)

// Main runs the tests of a package with a server: func TestMain(m *testing.M)
// { os.Exit(pgtest.Main(m)) }.
func Main(m *testing.M) int {
	flag.Parse()
	ctx := context.Background()
	dir, unlock, err := copyOfGolden(ctx)
	if err != nil {
		fmt.Fprintln(os.Stderr, "pgtest:", err)
		return 1
	}
	defer os.RemoveAll(dir)
	defer unlock()
	if server, err = pgrun.Start(ctx, dir, settings); err != nil {
		fmt.Fprintln(os.Stderr, "pgtest:", err)
		return 1
	}
	defer func() { _ = server.Stop() }()
	return m.Run()
}

// URL makes a database for one test, which goes with it.
func URL(t testing.TB) string { return made(t, "tpl") }

// Empty makes a database without a schema.
func Empty(t testing.TB) string { return made(t, "template0") }

func made(t testing.TB, template string) string {
	t.Helper()
	name := fmt.Sprintf("t%d", count.Add(1))
	admin := func(sql string) {
		if err := run(sql); err != nil {
			t.Fatal(err)
		}
	}
	admin("create database " + name + " template " + template + " strategy file_copy")
	t.Cleanup(func() { admin("drop database " + name + " with (force)") })
	return with(name)
}

// run has the server do what no database does to itself; a test's own context has ended when
// it cleans up.
func run(sql string) error {
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, with("postgres"))
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, sql)
	return err
}

// Store opens a store on a database for one test.
func Store(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), URL(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	return s
}

// Seed is what a database is filled with before tests take clones of it: filled once, and anew
// once it is older than Fresh.
type Seed struct {
	Fill  func(context.Context, *store.Store) error
	Fresh time.Duration

	mu       sync.Mutex
	name     string
	filledAt time.Time
}

// Store opens a store on a clone for one test.
func (d *Seed) Store(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), made(t, d.template(t)))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	return s
}

func (d *Seed) template(t testing.TB) string {
	t.Helper()
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.name != "" && time.Since(d.filledAt) < d.Fresh {
		return d.name
	}
	at := time.Now()
	name := fmt.Sprintf("seed%d", count.Add(1))
	if err := run("create database " + name + " template tpl strategy file_copy"); err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(t.Context(), with(name))
	if err != nil {
		t.Fatal(err)
	}
	err = d.Fill(t.Context(), s)
	s.Close()
	if err != nil {
		t.Fatal(err)
	}
	d.name, d.filledAt = name, at
	return name
}

// Kill ends the server of the package as if its machine lost power, and
// starts it again at the same address.
func Kill(t testing.TB) {
	t.Helper()
	pid := fmt.Sprint(server.PID())
	if err := exec.Command("kill", "-QUIT", pid).Run(); err != nil {
		t.Fatal(err)
	}
	<-server.Done()
	if err := server.Restart(context.Background()); err != nil {
		t.Fatal(err)
	}
}

func with(name string) string {
	return strings.Replace(server.URL, "/whitebarn?", "/"+name+"?", 1)
}

// base is in memory where there is room, else the temp folder.
func base() string {
	dir := os.TempDir()
	var st syscall.Statfs_t
	if syscall.Statfs("/dev/shm", &st) == nil && st.Bavail*uint64(st.Bsize) > 1<<30 {
		dir = "/dev/shm"
	}
	return filepath.Join(dir, fmt.Sprintf("white-barn-test-%d", os.Geteuid()))
}

// copyOfGolden makes the golden folder if there is none of this schema, sweeps
// copies that nobody holds, and copies it.
func copyOfGolden(ctx context.Context) (dir string, unlock func(), err error) {
	root := base()
	if err := os.MkdirAll(root, 0o711); err != nil {
		return "", nil, err
	}
	if err := os.Chmod(root, 0o711); err != nil {
		return "", nil, err
	}
	lock, err := flock(filepath.Join(root, "lock"), syscall.LOCK_EX)
	if err != nil {
		return "", nil, err
	}
	defer lock.Close()
	golden := filepath.Join(root, "golden-"+fingerprint())
	if _, err := os.Stat(golden); err != nil {
		if err := makeGolden(ctx, golden); err != nil {
			return "", nil, err
		}
	}
	runs, _ := filepath.Glob(filepath.Join(root, "run-*"))
	for _, run := range runs {
		if f, err := flock(run+"/in-use", syscall.LOCK_EX|syscall.LOCK_NB); err == nil {
			f.Close()
			_ = os.RemoveAll(run)
		}
	}
	if dir, err = os.MkdirTemp(root, "run-"); err != nil {
		return "", nil, err
	}
	if err := os.Chmod(dir, 0o711); err != nil {
		return "", nil, err
	}
	used, err := flock(filepath.Join(dir, "in-use"), syscall.LOCK_EX)
	if err != nil {
		return "", nil, err
	}
	if out, err := exec.Command("cp", "-a", golden, filepath.Join(dir, "data")).CombinedOutput(); err != nil {
		return "", nil, fmt.Errorf("copy %s: %w: %s", golden, err, out)
	}
	return filepath.Join(dir, "data"), func() { used.Close(); _ = os.RemoveAll(dir) }, nil
}

func flock(path string, how int) (*os.File, error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(f.Fd()), how); err != nil {
		f.Close()
		return nil, err
	}
	return f, nil
}

// fingerprint changes with the migrations and the server programs.
func fingerprint() string {
	h := sha256.New()
	_ = fs.WalkDir(store.Migrations(), ".", func(name string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			text, _ := fs.ReadFile(store.Migrations(), name)
			fmt.Fprintf(h, "%s %d %s", name, len(text), text)
		}
		return err
	})
	programs, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	for _, p := range programs {
		if info, err := os.Stat(p); err == nil {
			fmt.Fprint(h, p, info.Size(), info.ModTime())
		}
	}
	return fmt.Sprintf("%x", h.Sum(nil)[:8])
}

func makeGolden(ctx context.Context, golden string) error {
	fresh := golden + ".new"
	if err := os.RemoveAll(fresh); err != nil {
		return err
	}
	careful := settings
	careful.Throwaway = false // stopped in order, for it is copied
	s, err := pgrun.Start(ctx, fresh, careful)
	if err != nil {
		return err
	}
	if err := fillTemplate(ctx, s.URL); err != nil {
		_ = s.Stop()
		return err
	}
	if err := s.Stop(); err != nil {
		return err
	}
	return os.Rename(fresh, golden)
}

func fillTemplate(ctx context.Context, url string) error {
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	if _, err := conn.Exec(ctx, "create database tpl"); err != nil {
		return err
	}
	pool, err := pgxpool.New(ctx, strings.Replace(url, "/whitebarn?", "/tpl?", 1))
	if err != nil {
		return err
	}
	err = store.Migrate(ctx, pool)
	pool.Close()
	if err != nil {
		return err
	}
	_, err = conn.Exec(ctx, "alter database tpl is_template true allow_connections false")
	return err
}
