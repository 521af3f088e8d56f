package standin

import (
	"context"
	"time"
)

// Feed hands over what people did since it was last asked. A nil feed is a
// day that goes by its script alone.
type Feed func(ctx context.Context) ([]Event, error)

const beat = 250 * time.Millisecond

// Run plays a barn by a clock until its script's length is over or ctx
// ends, and sends what its devices show.
func Run(ctx context.Context, b *Barn, s *Sender, clock func() time.Time, feed Feed) error {
	ctx, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	sending := make(chan struct{})
	go func() {
		defer close(sending)
		stop(s.Run(ctx))
	}()
	defer func() { <-sending }()
	defer stop(nil)
	over := b.start.Add(time.Duration(b.script.Length))
	t := time.NewTicker(beat)
	defer t.Stop()
	for {
		if feed != nil {
			done, err := feed(ctx)
			if err == nil { // else the barn is away; they are asked for again
				for _, e := range done {
					_ = b.do(e, s.Queue) // of a cut or a pit of another day
				}
			}
		}
		now := clock()
		if b.script.Length > 0 && now.After(over) {
			now = over
		}
		if err := b.Advance(now, s.Queue); err != nil {
			return err
		}
		if b.script.Length > 0 && !now.Before(over) && s.Waiting() == 0 {
			return nil
		}
		select {
		case <-ctx.Done():
			return context.Cause(ctx)
		case <-t.C:
		}
	}
}

// At is a moment as a script writes it: since the start of the day.
func (b *Barn) At(when time.Time) Duration { return Duration(when.Sub(b.start)) }

// Replay does what people logged while the barn was played up to a moment.
func (b *Barn) Replay(events []Event) {
	for _, e := range events {
		i := 0
		for i < len(b.events) && b.events[i].At <= e.At {
			i++
		}
		b.events = append(b.events[:i], append([]Event{e}, b.events[i:]...)...)
	}
}
