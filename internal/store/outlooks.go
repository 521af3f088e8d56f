package store

import (
	"context"
	"errors"
	"time"
)

// Foreseen is a forecast of one cut as it was made at a moment of the cook's
// clock.
type Foreseen struct {
	CutID  int64
	At     time.Time
	Low    time.Time
	Middle time.Time
	High   time.Time
}

// KeepOutlook keeps a forecast, unless one was kept less than so long before.
func (s *Store) KeepOutlook(ctx context.Context, f Foreseen, every time.Duration) error {
	_, err := s.pool.Exec(ctx, `insert into outlooks (cut_id, at, low, middle, high) select $1, $2, $3, $4, $5
		where not exists (select from outlooks where cut_id = $1 and at > $2::timestamptz - make_interval(secs => $6) and at <= $2)`, f.CutID, f.At, f.Low, f.Middle, f.High, every.Seconds())
	return err
}

// OutlookBefore is what was foreseen for a cut at about a moment, and at any
// rate not after the latest; ok is false when nothing was that long ago.
func (s *Store) OutlookBefore(ctx context.Context, cutID int64, about, latest time.Time) (f Foreseen, ok bool, err error) {
	f, err = one[Foreseen](ctx, s.pool, `select cut_id, at, low, middle, high from outlooks where cut_id = $1 and at <= $3
		order by abs(extract(epoch from at - $2)) limit 1`, cutID, about, latest)
	if errors.Is(err, ErrNotFound) {
		return f, false, nil
	}
	return f, err == nil, err
}
