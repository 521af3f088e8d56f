package standin

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"sync"
	"time"
)

// Sender is the radio of a device: it numbers readings, keeps those that were
// not acknowledged, and sends them again until they are.
type Sender struct {
	deliver  Delivery
	mu       sync.Mutex
	waiting  []sent
	sequence int64
	acked    int64 // what the barn had before this run
	poke     chan struct{}
}

// Delivery brings a batch to the barn as JSON and returns once the barn has it.
type Delivery func(ctx context.Context, batch []byte) error

type sent struct {
	Sequence    int64    `json:"seq"`
	Channel     string   `json:"channel"`
	At          string   `json:"at"`
	Temperature *float64 `json:"temperature,omitempty"`
	Weight      *float64 `json:"weight,omitempty"`
	Unit        string   `json:"unit"`
}

const (
	mostAtOnce = 500
	retryFirst = 200 * time.Millisecond
	retryLast  = 5 * time.Second
)

// ErrRefused is given when the barn does not know the device.
var ErrRefused = errors.New("the barn does not know this device's token")

// NewSender returns the radio of a device.
func NewSender(d Delivery) *Sender { return &Sender{deliver: d, poke: make(chan struct{}, 1)} }

// Skip takes readings up to a number as sent before: a day played again from
// its start sends only what is new.
func (s *Sender) Skip(to int64) { s.acked = to }

// From makes the numbers go on after one.
func (s *Sender) From(last int64) { s.sequence = last }

// Queue takes a reading to be sent.
func (s *Sender) Queue(r Reading) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.sequence++
	if s.sequence <= s.acked {
		return
	}
	e := sent{Sequence: s.sequence, Channel: r.Channel, At: r.At.UTC().Format(time.RFC3339Nano)}
	v := r.Value
	if r.Weight {
		e.Weight, e.Unit = &v, "kg"
	} else {
		e.Temperature, e.Unit = &v, "C"
	}
	s.waiting = append(s.waiting, e)
	select {
	case s.poke <- struct{}{}:
	default:
	}
}

// Waiting is how many readings were not acknowledged yet.
func (s *Sender) Waiting() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	return len(s.waiting)
}

// Run sends until ctx ends. A barn that does not answer is tried again; one
// that does not know the token ends it.
func (s *Sender) Run(ctx context.Context) error {
	wait := retryFirst
	for {
		batch := s.batch()
		if len(batch) == 0 {
			select {
			case <-ctx.Done():
				return ctx.Err()
			case <-s.poke:
			}
			continue
		}
		err := s.send(ctx, batch)
		if err == nil {
			s.done(batch[len(batch)-1].Sequence)
			wait = retryFirst
			continue
		}
		if errors.Is(err, ErrRefused) || ctx.Err() != nil {
			return err
		}
		slog.Debug("the barn does not answer", "error", err, "waiting", s.Waiting())
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(wait):
		}
		wait = min(2*wait, retryLast)
	}
}

// Flush sends all that waits, once.
func (s *Sender) Flush(ctx context.Context) error {
	for batch := s.batch(); len(batch) > 0; batch = s.batch() {
		if err := s.send(ctx, batch); err != nil {
			return err
		}
		s.done(batch[len(batch)-1].Sequence)
	}
	return nil
}

func (s *Sender) batch() []sent {
	s.mu.Lock()
	defer s.mu.Unlock()
	return append([]sent(nil), s.waiting[:min(len(s.waiting), mostAtOnce)]...)
}

func (s *Sender) done(upTo int64) {
	s.mu.Lock()
	defer s.mu.Unlock()
	i := 0
	for i < len(s.waiting) && s.waiting[i].Sequence <= upTo {
		i++
	}
	s.waiting = append(s.waiting[:0], s.waiting[i:]...)
}

func (s *Sender) send(ctx context.Context, batch []sent) error {
	data, err := json.Marshal(map[string]any{"readings": batch})
	if err != nil {
		return err
	}
	return s.deliver(ctx, data)
}

// Site is a barn at an address, as a device with a token sees it.
type Site struct {
	Address, Token string
}

var client = &http.Client{Timeout: 20 * time.Second}

// Deliver brings a batch over the network.
func (s Site) Deliver(ctx context.Context, batch []byte) error {
	return s.call(ctx, "POST", "/api/devices/readings", batch, nil)
}

// Self asks the barn for the last number it has of the device and for the
// time of the clock the device lives by.
func (s Site) Self(ctx context.Context) (last int64, now time.Time, err error) {
	var out struct {
		LastSequence int64     `json:"last_sequence"`
		Now          time.Time `json:"now"`
	}
	err = s.call(ctx, "GET", "/api/devices/me", nil, &out)
	return out.LastSequence, out.Now, err
}

func (s Site) call(ctx context.Context, method, path string, body []byte, out any) error {
	req, err := http.NewRequestWithContext(ctx, method, s.Address+path, bytes.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Authorization", "Bearer "+s.Token)
	req.Header.Set("Content-Type", "application/json")
	res, err := client.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	text, err := io.ReadAll(io.LimitReader(res.Body, 1<<20))
	switch {
	case res.StatusCode == http.StatusUnauthorized:
		return ErrRefused
	case res.StatusCode != http.StatusOK:
		return fmt.Errorf("%s %s: %s %.200s", method, path, res.Status, text)
	case err != nil:
		return err
	case out == nil:
		return nil
	}
	return json.Unmarshal(text, out)
}
