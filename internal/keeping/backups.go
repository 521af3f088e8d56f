// Package keeping looks after the ground that a barn stands on: backups by the clock, and
// room on the disk.
package keeping

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"whitebarn/internal/archive"
	"whitebarn/internal/store"
)

// Backups are taken by the clock and kept in number.
type Backups struct {
	Store *store.Store
	Dir   string
	Every time.Duration
	Keep  int
	Now   func() time.Time
}

// A backup that failed is tried again; a barn that has not had its first run is waited for.
const (
	retryAfter = 15 * time.Minute
	untilThere = 5 * time.Second
)

// Run takes a backup whenever the newest is old enough, until ctx ends.
func (b Backups) Run(ctx context.Context) {
	for {
		wait, err := b.Due()
		if err == nil && wait <= 0 {
			wait = b.Every
			var path string
			if path, err = b.Take(ctx); err == nil {
				slog.Info("backup taken", "file", path)
			}
		}
		if errors.Is(err, store.ErrNotFound) {
			wait = untilThere
		} else if err != nil {
			slog.Error("no backup was taken", "error", err, "again_in", retryAfter)
			wait = retryAfter
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
	}
}

// Due says how long it is until the next backup; nothing or less is now.
func (b Backups) Due() (time.Duration, error) {
	found, err := archive.Kept(b.Dir)
	if err != nil || len(found) == 0 {
		return 0, err
	}
	at, err := archive.TakenAt(found[len(found)-1])
	if err != nil {
		return 0, err
	}
	return b.Every - b.Now().Sub(at), nil
}

// Take takes one now, checks it, and lets the oldest go.
func (b Backups) Take(ctx context.Context) (string, error) {
	if err := os.MkdirAll(b.Dir, 0o700); err != nil {
		return "", fmt.Errorf("make the folder of the backups: %w", err)
	}
	path := filepath.Join(b.Dir, archive.Name(b.Now()))
	if err := archive.WriteFile(ctx, b.Store, archive.Backup, 0, b.Now(), path); err != nil {
		return "", err
	}
	return path, archive.Thin(b.Dir, b.Keep)
}

// AgeOf is how old the newest backup is; -1 s where there is none.
func AgeOf(b *Backups, now time.Time) time.Duration {
	if b == nil {
		return -time.Second
	}
	found, err := archive.Kept(b.Dir)
	if err != nil || len(found) == 0 {
		return -time.Second
	}
	at, err := archive.TakenAt(found[len(found)-1])
	if err != nil {
		return -time.Second
	}
	return now.Sub(at)
}
