package keeping

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync/atomic"
	"syscall"
	"time"

	"whitebarn/internal/store"
)

// State is how much room there is.
type State string

// The states, from the best.
const (
	Ample    State = "ample"
	Soon     State = "soon"      // it will be full in days
	Low      State = "low"       // photos and devices wait, so that the record does not
	Full     State = "full"      // nothing more is written
	ReadOnly State = "read only" // the disk takes nothing at all
)

// Values lists the states.
func (State) Values() []string {
	return []string{string(Ample), string(Soon), string(Low), string(Full), string(ReadOnly)}
}

// Lines that the states begin at. PostgreSQL ends when it can write nothing more, so the record
// stops before: three of its log's segments of 16 MB and some.
const (
	fullBelow = 64 << 20
	lowBelow  = 256 << 20
	soonBelow = 2 << 30
	soonDays  = 14
)

// Room is what a disk has.
type Room struct {
	State     State   `json:"state"`
	FreeBytes int64   `json:"free_bytes"`
	PerDay    int64   `json:"per_day"` // bytes that the record grows by
	Days      float64 `json:"days"`    // until it is full, at that; 0 where it does not grow
	Words     string  `json:"words"`   // what it means; empty while there is enough
	Remedy    string  `json:"remedy"`
}

// Of says what free room means for a record that grows by so much a day.
func Of(free, perDay int64, readOnly bool) Room {
	r := Room{State: Ample, FreeBytes: free, PerDay: perDay}
	if perDay > 0 {
		r.Days = float64(max(free-fullBelow, 0)) / float64(perDay)
	}
	const more = "Make room on the disk: move old backups or photos of others away, or put the data on a larger one. White Barn goes on by itself."
	size := megabytes(free)
	switch {
	case readOnly:
		r.State, r.Words, r.Remedy = ReadOnly, "The disk takes nothing: it is read only. Nothing is written; all "+
			"can be read.", "Look at the disk: whitebarn doctor says more. White Barn goes on by itself once it can write."
	case free < fullBelow:
		r.State, r.Words, r.Remedy = Full, "The disk is full ("+size+" left). Nothing more is written; all can be read, and what is pressed waits "+
			"on its device.", more
	case free < lowBelow:
		r.State, r.Words, r.Remedy = Low, "The disk is nearly full ("+size+" left). No photos are taken in and devices keep their readings, so "+
			"that the log goes on.", more
	case free < soonBelow && perDay > 0 && r.Days < soonDays:
		r.State, r.Words, r.Remedy = Soon, fmt.Sprintf("The disk is full in about %d days, at %s a day (%s left).", max(int(r.Days+0.5), 1),
			megabytes(perDay), size), more
	case perDay > 0 && r.Days < soonDays:
		r.State, r.Words, r.Remedy = Soon, fmt.Sprintf("The disk is full in about %d days, at %s a day.", max(int(r.Days+0.5), 1), megabytes(perDay)), more
	}
	return r
}

func megabytes(n int64) string {
	if n >= 1<<30 {
		return fmt.Sprintf("%.1f GB", float64(n)/(1<<30))
	}
	return fmt.Sprintf("%d MB", n>>20)
}

// Disk watches the room that a folder's disk has.
type Disk struct {
	Dir   string // empty: the database is elsewhere, and its disk not ours to see
	Store *store.Store
	Free  func(dir string) (free int64, readOnly bool, err error) // nil is the disk itself
	// Changed is told when the state is another; nil is nobody.
	Changed func()

	now atomic.Pointer[Room]
}

// Room is what was seen last.
func (d *Disk) Room() Room {
	if r := d.now.Load(); r != nil {
		return *r
	}
	return Room{State: Ample}
}

// look is how often the disk is looked at; the record's size is kept each hour.
const (
	look   = 5 * time.Second
	hourly = time.Hour
)

// Run watches until ctx ends.
func (d *Disk) Run(ctx context.Context) {
	tick := time.NewTicker(look)
	defer tick.Stop()
	var sized time.Time
	var perDay int64
	for {
		if time.Since(sized) > hourly {
			sized = time.Now()
			var err error
			if perDay, err = d.Store.Growth(ctx); err != nil && ctx.Err() == nil {
				slog.Warn("the size of the record is not known", "error", err)
			}
			if err := thin(ctx, d.Store); err != nil && ctx.Err() == nil {
				slog.Warn("old readings were not thinned", "error", err)
			}
		}
		d.Look(perDay)
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// thin lets raw readings go as the pitmaster asked for; all are kept where nobody did.
func thin(ctx context.Context, s *store.Store) error {
	days, seconds, err := s.Thinning(ctx)
	if errors.Is(err, store.ErrNotFound) || days == nil || seconds == nil {
		return nil
	}
	if err != nil {
		return err
	}
	gone, err := s.ThinReadings(ctx, time.Now().AddDate(0, 0, -*days), *seconds)
	if gone > 0 {
		slog.Info("old readings were thinned", "older_than_days", *days, "to_one_in_s", *seconds, "gone", gone)
	}
	return err
}

// Look reads the disk once.
func (d *Disk) Look(perDay int64) {
	if d.Dir == "" {
		return
	}
	free := d.Free
	if free == nil {
		free = freeOf
	}
	left, readOnly, err := free(d.Dir)
	if err != nil {
		slog.Warn("the disk cannot be looked at", "folder", d.Dir, "error", err)
		return
	}
	r, was := Of(left, perDay, readOnly), d.Room()
	d.now.Store(&r)
	if r.State == was.State {
		return
	}
	slog.Warn("room on the disk", "state", r.State, "was", was.State, "free_bytes", left)
	if d.Changed != nil {
		d.Changed()
	}
}

// freeOf asks the system for the room of a folder's disk that is left to all.
func freeOf(dir string) (int64, bool, error) {
	var st syscall.Statfs_t
	if err := syscall.Statfs(dir, &st); err != nil {
		return 0, false, err
	}
	const readOnly = 1 // ST_RDONLY
	return int64(st.Bavail) * st.Bsize, st.Flags&readOnly != 0, nil
}
