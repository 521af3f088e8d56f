package pgtest

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"whitebarn/internal/pgrun"
	"whitebarn/internal/store"
)

// base is in memory where there is room, else the temp folder.
func base() string {
	dir := os.TempDir()
	var st syscall.Statfs_t
	if syscall.Statfs("/dev/shm", &st) == nil && st.Bavail*uint64(st.Bsize) > 1<<30 {
		dir = "/dev/shm"
	}
	return filepath.Join(dir, fmt.Sprintf("white-barn-test-%d", os.Geteuid()))
}

// copyOfGolden makes the golden folder if there is none of this schema, and of it one with each
// share that was not filled yet by this code, sweeps copies that nobody holds, and copies it.
func copyOfGolden(ctx context.Context, shares []Shared) (dir string, unlock func(), err error) {
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
	golden, err := goldenOf(ctx, root, shares)
	if err != nil {
		return "", nil, err
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

// goldenOf is the folder of the schema alone, or of it with shares.
func goldenOf(ctx context.Context, root string, shares []Shared) (string, error) {
	golden := filepath.Join(root, "golden-"+fingerprint())
	if _, err := os.Stat(golden); err != nil {
		if err := makeGolden(ctx, golden, "", fillTemplate); err != nil {
			return "", err
		}
	}
	if len(shares) == 0 {
		return golden, nil
	}
	code, err := codeSum()
	if err != nil {
		return "", err
	}
	sweepShares(root, code)
	for _, share := range shares {
		with := golden + "-" + share.Name + "-" + code
		if _, err := os.Stat(with); err != nil {
			if err := makeGolden(ctx, with, golden, share.fill); err != nil {
				return "", fmt.Errorf("fill %s: %w", share.Name, err)
			}
		}
		golden = with
	}
	return golden, nil
}

// sweepShares removes what other code filled, unless somebody may just be at it.
func sweepShares(root, code string) {
	old, _ := filepath.Glob(filepath.Join(root, "golden-*-*"))
	for _, dir := range old {
		info, err := os.Stat(dir)
		if err == nil && !strings.HasSuffix(dir, code) && time.Since(info.ModTime()) > time.Hour {
			_ = os.RemoveAll(dir)
		}
	}
}

// codeSum changes with the code that fills shares: all that is no test of core and internal.
func codeSum() (string, error) {
	top, err := os.Getwd()
	if err != nil {
		return "", err
	}
	for ; ; top = filepath.Dir(top) {
		if _, err := os.Stat(filepath.Join(top, "go.mod")); err == nil {
			break
		}
		if top == filepath.Dir(top) {
			return "", errors.New("tests do not run in a folder of the module")
		}
	}
	h := sha256.New()
	for _, part := range []string{"core", "internal", "go.sum"} {
		err := filepath.WalkDir(filepath.Join(top, part), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") || strings.Contains(path, "testdata") {
				return err
			}
			text, err := os.ReadFile(path)
			fmt.Fprintf(h, "%s %d %s", strings.TrimPrefix(path, top), len(text), text)
			return err
		})
		if err != nil {
			return "", err
		}
	}
	return fmt.Sprintf("%x", h.Sum(nil)[:8]), nil
}

// makeGolden fills a folder, one that is new or a copy of another, and leaves it whole or not at all.
func makeGolden(ctx context.Context, golden, of string, fill func(ctx context.Context, url string) error) error {
	fresh := golden + ".new"
	if err := os.RemoveAll(fresh); err != nil {
		return err
	}
	if of != "" {
		if out, err := exec.Command("cp", "-a", of, fresh).CombinedOutput(); err != nil {
			return fmt.Errorf("copy %s: %w: %s", of, err, out)
		}
	}
	careful := settings
	careful.Throwaway = false // stopped in order, for it is copied
	s, err := pgrun.Start(ctx, fresh, careful)
	if err != nil {
		return err
	}
	if err := fill(ctx, s.URL); err != nil {
		_ = s.Stop()
		return err
	}
	if err := s.Stop(); err != nil {
		return err
	}
	return os.Rename(fresh, golden)
}

// onServer has a server do what no database does to itself.
func onServer(ctx context.Context, url string, sql ...string) error {
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	for _, s := range sql {
		if _, err := conn.Exec(ctx, s); err != nil {
			return err
		}
	}
	return nil
}

const asTemplate = "alter database %s is_template true allow_connections false"

func fillTemplate(ctx context.Context, url string) error {
	if err := onServer(ctx, url, "create database tpl"); err != nil {
		return err
	}
	pool, err := pgxpool.New(ctx, database(url, "tpl"))
	if err != nil {
		return err
	}
	err = store.Migrate(ctx, pool)
	pool.Close()
	if err != nil {
		return err
	}
	return onServer(ctx, url, fmt.Sprintf(asTemplate, "tpl"))
}

func (d Shared) fill(ctx context.Context, url string) error {
	if err := onServer(ctx, url, "create database "+d.Name+" template tpl strategy file_copy"); err != nil {
		return err
	}
	s, err := store.Open(ctx, database(url, d.Name))
	if err != nil {
		return err
	}
	if err = d.Fill(ctx, s); err == nil {
		// As a barn's own upkeep does: without it every plan is a guess.
		_, err = s.Pool().Exec(ctx, "analyze")
	}
	s.Close()
	if err != nil {
		return err
	}
	return onServer(ctx, url, fmt.Sprintf(asTemplate, d.Name))
}

// database is the address of another database of the same server.
func database(url, name string) string {
	return strings.Replace(url, "/whitebarn?", "/"+name+"?", 1)
}
