// Package records is what the record is kept in, brought out and taken in by: archives,
// backups, and what program keeps it.
package records

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/internal/archive"
	"whitebarn/internal/barn"
	"whitebarn/internal/keeping"
	"whitebarn/internal/store"
)

// Build is what program this is.
type Build struct {
	Version  string `json:"version"`
	Revision string `json:"revision"` // of the source; empty where it is not known
	Go       string `json:"go"`
}

// ThisBuild reads what the program was built from.
func ThisBuild(version string) Build {
	b := Build{Version: version}
	if info, ok := debug.ReadBuildInfo(); ok {
		b.Go = info.GoVersion
		for _, s := range info.Settings {
			if s.Key == "vcs.revision" {
				b.Revision = s.Value[:min(len(s.Value), 12)]
			}
		}
	}
	return b
}

// Keeping is how the record is kept.
type Keeping struct {
	Build      Build             `json:"build"`
	Database   string            `json:"database"` // the server's version
	Bytes      int64             `json:"bytes"`    // of the record
	Migrations []store.Migration `json:"migrations"`
	Room       keeping.Room      `json:"room"`
	Backups    *KeptBackups      `json:"backups"` // null where none are taken by the clock
	ThinAfter  *int              `json:"thin_after_days"`
	ThinTo     *int              `json:"thin_to_s"`
}

// KeptBackups are the backups that there are.
type KeptBackups struct {
	Folder     string       `json:"folder"`
	EveryHours float64      `json:"every_hours"`
	Keep       int          `json:"keep"`
	Kept       []KeptBackup `json:"kept"` // the newest first
}

// KeptBackup is one.
type KeptBackup struct {
	Name  string    `json:"name"`
	At    time.Time `json:"at"`
	Bytes int64     `json:"bytes"`
}

// Read says how the record is kept.
func Read(ctx context.Context, b *barn.Barn, build Build, disk *keeping.Disk, backups *keeping.Backups) (Keeping, error) {
	out := Keeping{Build: build, Room: disk.Room()}
	var err error
	if out.Database, out.Bytes, out.Migrations, err = b.Store.KeptAs(ctx); err != nil {
		return out, err
	}
	if out.ThinAfter, out.ThinTo, err = b.Store.Thinning(ctx); err != nil {
		return out, err
	}
	if backups != nil {
		out.Backups, err = listed(backups)
	}
	return out, err
}

func listed(b *keeping.Backups) (*KeptBackups, error) {
	out := &KeptBackups{Folder: b.Dir, EveryHours: b.Every.Hours(), Keep: b.Keep, Kept: []KeptBackup{}}
	paths, err := archive.Kept(b.Dir)
	if err != nil {
		return nil, err
	}
	for _, path := range paths {
		info, err := os.Stat(path)
		at, bad := archive.TakenAt(path)
		if err != nil || bad != nil {
			continue // it was just let go
		}
		out.Kept = append([]KeptBackup{{filepath.Base(path), at, info.Size()}}, out.Kept...)
	}
	return out, nil
}

// BackUp takes a backup now.
func BackUp(ctx context.Context, b *keeping.Backups) (*KeptBackups, error) {
	if b == nil {
		return nil, barn.Refuse("This server takes no backups.", "Start it with -backups FOLDER, or run whitebarn backup on the machine.")
	}
	if _, err := b.Take(ctx); err != nil {
		return nil, err
	}
	return listed(b)
}

// Name is what the file of an export is called.
func Name(trial int64, now time.Time) string {
	if trial != 0 {
		return fmt.Sprintf("white-barn-trial-%d.zip", trial)
	}
	return "white-barn-" + now.UTC().Format("2006-01-02") + ".zip"
}

// mayExport refuses to write what would tell a closed code: the file has the key of every
// flight.
func mayExport(ctx context.Context, b *barn.Barn, trial int64) error {
	closed, err := b.Store.ClosedTrials(ctx, trial)
	if err != nil || len(closed) == 0 {
		return err
	}
	return barn.Refuse("The codes of "+strings.Join(closed, ", ")+" are still closed, and the file would tell them.",
		"Open them at Settle first. Whoever keeps the machine can export at any time with whitebarn export.")
}

// Export writes the barn, or one trial, to a file.
func Export(ctx context.Context, b *barn.Barn, trial int64, path string) error {
	if err := mayExport(ctx, b, trial); err != nil {
		return err
	}
	return archive.WriteFile(ctx, b.Store, archive.ExportOf(trial), trial, b.Now(), path)
}

// Found is what an archive says that it holds.
type Found struct {
	Kind    archive.Kind `json:"kind"`
	Title   string       `json:"title"`
	Created time.Time    `json:"created"`
	Version int64        `json:"version"`
	Rows    []FoundRows  `json:"rows"`     // of what people look for
	TrialID int64        `json:"trial_id"` // once it is taken in
}

// FoundRows counts one kind of rows.
type FoundRows struct {
	What string `json:"what"`
	Rows int64  `json:"rows"`
}

var lookedFor = []string{"arms", "cuts", "cooks", "weighings", "events", "readings", "flights", "scores", "photos"}

// Look reads an archive whole and says what it holds; nothing is kept.
func Look(path string) (Found, error) {
	a, end, err := archive.OpenFile(path)
	if err != nil {
		return Found{}, err
	}
	defer end()
	if err := a.Verify(); err != nil {
		return Found{}, err
	}
	return describe(a), nil
}

func describe(a *archive.Archive) Found {
	out := Found{Kind: a.Kind, Title: a.Title, Created: a.Created, Version: a.Version, Rows: []FoundRows{}}
	for _, what := range lookedFor {
		for _, r := range a.Resources {
			if r.Name == what && r.Rows > 0 {
				out.Rows = append(out.Rows, FoundRows{what, r.Rows})
			}
		}
	}
	return out
}

// TakeIn takes the one trial of an archive in.
func TakeIn(ctx context.Context, b *barn.Barn, who store.Person, path string) (Found, error) {
	a, end, err := archive.OpenFile(path)
	if err != nil {
		return Found{}, err
	}
	defer end()
	out := describe(a)
	out.TrialID, err = a.Adopt(ctx, b.Store, who.ID)
	switch {
	case errors.Is(err, archive.ErrKind):
		err = barn.Refuse("This is a whole barn, not one trial.", "Bring it into an empty barn on the machine: whitebarn restore FILE.")
	case errors.Is(err, store.ErrConflict):
		err = barn.Refuse("This trial is here already.", "Open it from the Barn page.")
	}
	return out, err
}

// Thin is how raw readings are thinned.
type Thin struct {
	AfterDays *int `json:"thin_after_days" binding:"omitempty,min=30,max=36500"` // null: all are kept
	ToSeconds *int `json:"thin_to_s" binding:"omitempty,min=10,max=240"`
}

// SetThin says how raw readings are thinned from now on: both figures, or neither.
func SetThin(ctx context.Context, a *barn.Act, in *barn.Of[Thin]) (barn.None, error) {
	if (in.Body.AfterDays == nil) != (in.Body.ToSeconds == nil) {
		return barn.None{}, fault.New("thin_to_s", "one of the two figures is missing", "give both: after how many days, and to one reading in how many seconds")
	}
	return barn.None{}, a.Store.SetThinning(ctx, a.Who.ID, in.Body.AfterDays, in.Body.ToSeconds)
}
