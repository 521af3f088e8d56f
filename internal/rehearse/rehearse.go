package rehearse

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/live"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// Player plays the cooks of a barn that are marked to be played. Of several
// servers only one plays a cook at a time.
type Player struct {
	store  *store.Store
	now    func() time.Time
	ingest live.Ingest
	ctx    context.Context
	stop   context.CancelFunc
	mu     sync.Mutex
	on     map[int64]context.CancelFunc
	wait   sync.WaitGroup
}

// Slowest and fastest that a rehearsal goes.
const (
	Slowest = 1.0
	Fastest = 600.0
)

// NewPlayer returns a player that plays nothing yet. Its readings go through
// the ingest of the device interface, as those of any device do.
func NewPlayer(in live.Ingest) *Player {
	ctx, stop := context.WithCancel(context.Background())
	return &Player{store: in.Store, now: in.Now, ingest: in, ctx: ctx, stop: stop, on: map[int64]context.CancelFunc{}}
}

// Resume plays all cooks that are marked.
func (p *Player) Resume(ctx context.Context) error {
	ids, err := p.store.Played(ctx)
	for _, id := range ids {
		p.Start(id)
	}
	return err
}

// Close stops playing; the cooks stay marked.
func (p *Player) Close() {
	p.stop()
	p.wait.Wait()
}

// Start plays a cook until Stop, or Close.
func (p *Player) Start(cookID int64) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.on[cookID] != nil || p.ctx.Err() != nil {
		return
	}
	ctx, stop := context.WithCancel(p.ctx)
	p.on[cookID] = stop
	p.wait.Go(func() {
		defer func() {
			p.mu.Lock()
			defer p.mu.Unlock()
			delete(p.on, cookID)
			stop()
		}()
		for ctx.Err() == nil {
			over, err := p.play(ctx, cookID)
			if over {
				if err := p.end(ctx, cookID); err != nil {
					slog.Warn("a simulated cook that is over stays marked", "cook", cookID, "error", err)
				}
				return
			}
			if err != nil && ctx.Err() == nil {
				slog.Warn("a simulated cook stopped and is tried again", "cook", cookID, "error", err)
				select {
				case <-ctx.Done():
				case <-time.After(2 * time.Second):
				}
			}
		}
	})
}

// Stop ends the play of a cook for good, on whichever server it runs.
func (p *Player) Stop(ctx context.Context, cookID int64) error {
	p.mu.Lock()
	if stop := p.on[cookID]; stop != nil {
		stop()
	}
	p.mu.Unlock()
	return p.end(ctx, cookID)
}

// end unmarks a cook. Its clock goes on no faster than the true time.
func (p *Player) end(ctx context.Context, cookID int64) error {
	if err := p.SetRate(ctx, cookID, Slowest); err != nil {
		return err
	}
	return p.store.Play(ctx, cookID, false)
}

// TrialOf is the trial of a cook that is a rehearsal; others are refused.
func (p *Player) TrialOf(ctx context.Context, cookID int64) (int64, error) {
	id, err := p.store.TrialOf(ctx, "cook", cookID)
	if err != nil {
		return 0, err
	}
	t, err := p.store.Trial(ctx, id)
	if err == nil && t.RehearsesID == nil {
		return 0, barn.Refuse("This cook is no rehearsal: it goes by the true time.", "Rehearse it from Fire.")
	}
	return id, err
}

// SetRate makes a rehearsal's clock run so many times as fast from now on. An
// error says that the cook is none.
func (p *Player) SetRate(ctx context.Context, cookID int64, rate float64) error {
	if !(rate >= Slowest && rate <= Fastest) {
		return fault.New("rate", fmt.Sprintf("%g is no speed", rate), fmt.Sprintf("give %g to %g", Slowest, Fastest))
	}
	k, err := p.store.Cook(ctx, cookID)
	if err != nil {
		return err
	}
	now := p.now()
	return p.store.SetClock(ctx, cookID, trial.Clock{Origin: k.Clock.Now(now), Start: now, Rate: rate})
}

// mostAtOnce is how many cooks one server plays.
const mostAtOnce = 4

// Opening is how long before a rehearsal's serving time its day begins.
const Opening = 11 * time.Hour

// Rehearse copies a cook's trial and plays the copy.
func (p *Player) Rehearse(ctx context.Context, who, cookID int64, rate float64) (trialID int64, err error) {
	p.mu.Lock()
	playing := len(p.on)
	p.mu.Unlock()
	if playing >= mostAtOnce {
		return 0, fault.New("", fmt.Sprintf("%d simulated cooks run already", playing), "end one of them first")
	}
	k, err := p.store.Cook(ctx, cookID)
	if err != nil {
		return 0, err
	}
	opens := k.ServeAt.Add(-Opening)
	runs, err := p.store.PitRuns(ctx, k.TrialID)
	if err != nil {
		return 0, err
	}
	for _, r := range runs {
		if r.CookID == k.ID && r.LitAt != nil {
			opens = *r.LitAt
		}
	}
	clock := trial.Clock{Origin: opens, Start: p.now(), Rate: rate}
	trialID, copied, err := p.store.Rehearse(ctx, who, k, clock)
	if err != nil {
		return 0, err
	}
	p.Start(copied)
	return trialID, nil
}

// clockEvery is how often the clock and what people did are looked up.
const clockEvery = 400 * time.Millisecond

// play replays a cook to where it was and goes on from there; over is that its
// day has ended.
func (p *Player) play(ctx context.Context, cookID int64) (over bool, err error) {
	release, ok, err := p.store.Hold(ctx, cookID)
	if err != nil {
		return false, err
	}
	if !ok { // another server plays it
		select {
		case <-ctx.Done():
		case <-time.After(5 * time.Second):
		}
		return false, nil
	}
	defer release()
	b, s, d, known, err := p.prepare(ctx, cookID)
	if err != nil {
		return false, err
	}
	told, stop := context.WithCancel(ctx)
	defer stop()
	var clock trial.Clock
	var asked time.Time
	anew := false
	look := func() error {
		if time.Since(asked) < clockEvery {
			return nil
		}
		k, err := p.store.Cook(ctx, cookID)
		if err != nil {
			return err
		}
		if !k.Played {
			stop() // another server was told to
		}
		runs, err := p.store.PitRuns(ctx, d.trialID)
		if err != nil {
			return err
		}
		for _, r := range runs {
			if _, known := d.runs[r.ID]; r.CookID == cookID && !known {
				anew = true // another pit was taken: the day is set up with it
				stop()
			}
		}
		clock, asked = k.Clock, time.Now()
		return nil
	}
	if err := look(); err != nil {
		return false, err
	}
	feed := func(ctx context.Context) ([]standin.Event, error) {
		if time.Since(asked) < clockEvery {
			return nil, nil
		}
		if err := look(); err != nil {
			return nil, err
		}
		rows, err := p.store.Events(ctx, d.trialID)
		if err != nil {
			return nil, err
		}
		var fresh []store.Event
		for _, e := range rows {
			if !known[e.ID] {
				known[e.ID] = true
				fresh = append(fresh, e)
			}
		}
		return d.happened(b, fresh), nil
	}
	err = standin.Run(told, b, s, func() time.Time { return clock.Now(p.now()) }, feed)
	if anew && ctx.Err() == nil {
		return false, nil
	}
	return err == nil || told.Err() != nil && ctx.Err() == nil, err
}

// prepare sets the barn of a cook up with all that was logged so far.
func (p *Player) prepare(ctx context.Context, cookID int64) (*standin.Barn, *standin.Sender, *day, map[int64]bool, error) {
	k, err := p.store.Cook(ctx, cookID)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	d, err := dayOf(ctx, p.store, k)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	who, err := p.store.CookMaker(ctx, cookID)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	device, token, err := p.store.PlayedDevice(ctx, who, k, fmt.Sprintf("Simulated barn, cook %d", cookID), d.channels)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	start, err := p.store.DayStart(ctx, cookID)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	b, err := standin.New(d.script, start)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	rows, err := p.store.Events(ctx, d.trialID)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	known := map[int64]bool{}
	for _, e := range rows {
		known[e.ID] = true
	}
	b.Replay(d.happened(b, rows))
	s := standin.NewSender(Deliver(p.ingest, token))
	s.Skip(device.LastSequence)
	return b, s, &d, known, nil
}

// Deliver brings batches straight to the ingest of the device interface.
func Deliver(ingest live.Ingest, token string) standin.Delivery {
	return func(ctx context.Context, batch []byte) error {
		from, now, err := ingest.Enter(ctx, token)
		if errors.Is(err, live.ErrUnknown) {
			return standin.ErrRefused
		}
		if err != nil {
			return err
		}
		_, err = ingest.Take(ctx, from, now, "application/json", batch)
		return err
	}
}

// Backfill plays a cook from its day's start up to a moment into the record.
func Backfill(ctx context.Context, s *store.Store, cookID int64, now time.Time) error {
	p := NewPlayer(live.Ingest{Store: s, Now: func() time.Time { return now }})
	defer p.Close()
	b, sender, _, _, err := p.prepare(ctx, cookID)
	if err != nil {
		return err
	}
	k, err := s.Cook(ctx, cookID)
	if err != nil {
		return err
	}
	if err := b.Advance(k.Clock.Now(now), sender.Queue); err != nil {
		return err
	}
	return sender.Flush(ctx)
}
