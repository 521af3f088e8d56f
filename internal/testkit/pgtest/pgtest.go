// Package pgtest gives tests databases of their own. A golden data folder,
// migrated once, is copied for each test binary; each test gets a clone.
package pgtest

import (
	"context"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"sync"
	"sync/atomic"
	"testing"
	"time"

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
// { os.Exit(pgtest.Main(m)) }. What the package shares with others is there too, filled by
// whichever of them came first since the code last changed.
func Main(m *testing.M, shares ...Shared) int {
	flag.Parse()
	ctx := context.Background()
	dir, unlock, err := copyOfGolden(ctx, shares)
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

// Shared is what many packages begin from: its database is filled once for all of them. Fill
// must come to the same whenever it runs.
type Shared struct {
	Name string
	Fill func(context.Context, *store.Store) error
}

// URL makes a database for one test that begins from what is shared.
func (d Shared) URL(t testing.TB) string { return made(t, d.Name) }

// Store opens a store on a database for one test that begins from what is shared.
func (d Shared) Store(t testing.TB) *store.Store { return opened(t, d.URL(t)) }

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
func run(sql string) error { return onServer(context.Background(), with("postgres"), sql) }

// Store opens a store on a database for one test.
func Store(t testing.TB) *store.Store { return opened(t, URL(t)) }

func opened(t testing.TB, url string) *store.Store {
	t.Helper()
	s, err := store.Open(t.Context(), url)
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
	return opened(t, made(t, d.template(t)))
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
	if err = d.Fill(t.Context(), s); err == nil {
		_, err = s.Pool().Exec(t.Context(), "analyze")
	}
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

func with(name string) string { return database(server.URL, name) }
