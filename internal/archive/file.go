package archive

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"time"

	"whitebarn/internal/store"
)

// WriteFile writes an archive beside its place, reads it again whole, and only then moves it
// there: what has the name is good.
func WriteFile(ctx context.Context, s *store.Store, kind Kind, trial int64, now time.Time, path string) (err error) {
	f, err := os.CreateTemp(filepath.Dir(path), ".white-barn-*")
	if err != nil {
		return fmt.Errorf("write the archive: %w", err)
	}
	defer func() {
		f.Close()
		if err != nil {
			os.Remove(f.Name())
		}
	}()
	if err := Write(ctx, s, kind, trial, now, f); err != nil {
		return fmt.Errorf("write the archive: %w", err)
	}
	if err := f.Sync(); err != nil {
		return fmt.Errorf("write the archive: %w", err)
	}
	if err := check(f); err != nil {
		return fmt.Errorf("the archive cannot be read again: %w", err)
	}
	return os.Rename(f.Name(), path)
}

func check(f *os.File) error {
	info, err := f.Stat()
	if err != nil {
		return err
	}
	a, err := Open(f, info.Size())
	if err != nil {
		return err
	}
	return a.Verify()
}

// OpenFile opens an archive by its path; close ends it.
func OpenFile(path string) (a *Archive, close func() error, err error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, nil, fmt.Errorf("open the archive: %w", err)
	}
	info, err := f.Stat()
	if err == nil {
		a, err = Open(f, info.Size())
	}
	if err != nil {
		f.Close()
		return nil, nil, err
	}
	return a, f.Close, nil
}

const stamp = "20060102-150405"

// Name is what a backup of a moment is called; names sort by time.
func Name(now time.Time) string { return "white-barn-" + now.UTC().Format(stamp) + ".zip" }

// Kept are the backups of a folder, the oldest first.
func Kept(dir string) ([]string, error) {
	found, err := filepath.Glob(filepath.Join(dir, "white-barn-????????-??????.zip"))
	slices.Sort(found)
	return found, err
}

// TakenAt is when a backup was taken, by its name.
func TakenAt(path string) (time.Time, error) {
	return time.Parse("white-barn-"+stamp+".zip", filepath.Base(path))
}

// Thin removes the oldest backups of a folder until so many are left.
func Thin(dir string, keep int) error {
	found, err := Kept(dir)
	for len(found) > keep && err == nil {
		err = os.Remove(found[0])
		found = found[1:]
	}
	return err
}
