package live

import (
	"context"
	"errors"
	"time"

	"whitebarn/internal/store"
)

// ErrUnknown is given when nobody has the token.
var ErrUnknown = errors.New("this token is not known")

// Receipt answers a batch.
type Receipt struct {
	Accepted int             `json:"accepted"`
	Repeated int             `json:"repeated"` // known already; nothing to do
	Refused  []store.Refusal `json:"refused"`
	Now      time.Time       `json:"now"` // the clock the device lives by
	SkewS    *float64        `json:"skew_s"`
}

// Self is what a device can ask of itself.
type Self struct {
	Name         string    `json:"name"`
	LastSequence int64     `json:"last_sequence"`
	Now          time.Time `json:"now"`
}

// Sender is a device at the door.
type Sender = store.Sender

// Ingest lets devices in by their tokens.
type Ingest struct {
	Store *store.Store
	Now   func() time.Time // true time
	Hub   *Hub             // is told what came in; nil when nobody looks on
}

// Enter finds a device and the time of the clock it lives by.
func (d Ingest) Enter(ctx context.Context, token string) (store.Sender, time.Time, error) {
	s, err := d.Store.SenderOf(ctx, token)
	if errors.Is(err, store.ErrNotFound) {
		return s, time.Time{}, ErrUnknown
	}
	now := d.Now()
	if s.Clock != nil {
		now = s.Clock.Now(now)
	}
	return s, now.UTC(), err
}

// Take reads a batch and writes it; the receipt is given after the commit.
func (d Ingest) Take(ctx context.Context, from store.Sender, now time.Time, kind string, body []byte) (Receipt, error) {
	b, err := Decode(kind, body, now)
	if err != nil {
		return Receipt{}, err
	}
	out := Receipt{Now: now}
	if !b.SentAt.IsZero() {
		skew := b.SentAt.Sub(now).Seconds()
		out.SkewS = &skew
	}
	t, err := d.Store.Receive(ctx, from, b.Readings, b.Refused, out.SkewS)
	out.Accepted, out.Repeated, out.Refused = t.Accepted, t.Repeated, append([]store.Refusal{}, t.Refused...)
	if err == nil && t.Accepted > 0 && d.Hub != nil {
		low, top := store.Span(b.Readings)
		d.Hub.Tell(from.ID, low, top)
	}
	return out, err
}
