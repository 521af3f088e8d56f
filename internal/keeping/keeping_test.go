package keeping

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/archive"
)

func TestRoomSaysDaysAheadAndStopsBeforeTheRecordDoes(t *testing.T) {
	const mb = 1 << 20
	for _, c := range []struct {
		name         string
		free, perDay int64
		readOnly     bool
		want         State
		says         string
	}{
		{"an empty disk", 500 << 30, 0, false, Ample, ""},
		{"much room that shrinks slowly", 500 << 30, 10 * mb, false, Ample, ""},
		{"a large disk that fills in a week", 70 << 30, 10 << 30, false, Soon, "full in about 7 days, at 10.0 GB a day"},
		{"little room and no growth known", 1 << 30, 0, false, Ample, ""},
		{"little room and growth", 1 << 30, 100 * mb, false, Soon, "full in about 10 days, at 100 MB a day (1.0 GB left)"},
		{"a little", 200 * mb, mb, false, Low, "nearly full (200 MB left). No photos"},
		{"none", 30 * mb, mb, false, Full, "The disk is full (30 MB left)"},
		{"no leave to write", 500 << 30, 0, true, ReadOnly, "read only"},
	} {
		r := Of(c.free, c.perDay, c.readOnly)
		if r.State != c.want || !strings.Contains(r.Words, c.says) || (r.Words == "") != (c.says == "") || (r.Words == "") != (r.Remedy == "") {
			t.Errorf("%s is %+v, want %s with %q", c.name, r, c.want, c.says)
		}
	}
}

func TestADiskThatCannotBeSeenChangesNothing(t *testing.T) {
	d := &Disk{Dir: t.TempDir(), Free: func(string) (int64, bool, error) { return 1, false, nil }}
	d.Look(0)
	if d.Room().State != Full {
		t.Fatalf("a byte of room is %s", d.Room().State)
	}
	d.Free = func(string) (int64, bool, error) { return 0, false, os.ErrPermission }
	d.Look(0)
	if d.Room().State != Full {
		t.Errorf("a disk that cannot be looked at is %s", d.Room().State)
	}
	d.Free = nil
	d.Look(0)
	if r := d.Room(); r.FreeBytes <= 1 {
		t.Errorf("the true disk has %d bytes", r.FreeBytes)
	}
}

func TestBackupsAreDueAndThinned(t *testing.T) {
	dir := t.TempDir()
	now := time.Date(2026, 11, 2, 6, 0, 0, 0, time.UTC)
	b := Backups{Dir: dir, Every: 24 * time.Hour, Keep: 2, Now: func() time.Time { return now }}
	if wait, err := b.Due(); err != nil || wait > 0 {
		t.Errorf("the first is due in %s (%v)", wait, err)
	}
	if age := AgeOf(&b, now); age >= 0 {
		t.Errorf("no backup is %s old", age)
	}
	for h := range 4 {
		if err := os.WriteFile(filepath.Join(dir, archive.Name(now.Add(-time.Duration(h)*10*time.Hour))), nil, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	now = now.Add(5 * time.Hour)
	if wait, err := b.Due(); err != nil || wait != 19*time.Hour {
		t.Errorf("the next is due in %s (%v), want 19 h", wait, err)
	}
	if err := archive.Thin(dir, 2); err != nil {
		t.Fatal(err)
	}
	left, err := archive.Kept(dir)
	if err != nil || len(left) != 2 || filepath.Base(left[1]) != "white-barn-20261102-060000.zip" {
		t.Errorf("%v are left (%v), want the newest two", left, err)
	}
	if age := AgeOf(&b, now); age != 5*time.Hour {
		t.Errorf("the newest is %s old, want 5 h", age)
	}
}
