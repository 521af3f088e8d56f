package live

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"whitebarn/internal/store"
)

// What a message tells of.
const (
	Readings  = "readings"   // of one cook
	Heard     = "heard"      // that devices sent something
	Changed   = "changed"    // the record
	SignedOut = "signed-out" // somebody: streams look whether it was theirs
)

// Message is something that happened, for the browsers of one cook or, with
// Cook 0, for all.
type Message struct {
	Cook     int64
	Kind     string
	Trial    int64    // that changed; 0 is what is the barn's own
	Parts    []string // of it
	Told     string   // names this change, for Since
	Readings []store.Arrived
	Received time.Time // of the newest reading, true time
}

// Hub hands what any server of the barn wrote to the browsers of this one. It
// hears of it through the database.
type Hub struct {
	store *store.Store
	mu    sync.Mutex
	subs  map[chan Message]int64 // to the cook each follows
	hears chan struct{}          // closed while it listens
	news  map[int64]span         // of each device, not told yet
	poke  chan struct{}
	heard bool // something came that nobody was told of yet

	era    string    // of one stretch of listening: what was told in another is not known
	count  int64     // of changes told in this era
	recent []Message // the last of them
}

// span is a stretch of a device's sequences.
type span struct{ low, top int64 }

// NewHub returns a hub; Run makes it listen and tell.
func NewHub(s *store.Store) *Hub {
	return &Hub{store: s, subs: map[chan Message]int64{}, hears: make(chan struct{}), news: map[int64]span{}, poke: make(chan struct{}, 1)}
}

// Tell lets all servers know what a device brought, within tellEvery. It is
// apart from the commit: a notification in each would make commits queue up.
func (h *Hub) Tell(device, low, top int64) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if old, there := h.news[device]; there {
		low, top = min(low, old.low), max(top, old.top)
	}
	h.news[device] = span{low, top}
	select {
	case h.poke <- struct{}{}:
	default:
	}
}

const tellEvery = 25 * time.Millisecond

// tell sends what is new until ctx ends.
func (h *Hub) tell(ctx context.Context) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-h.poke:
		}
		h.mu.Lock()
		news := h.news
		h.news = map[int64]span{}
		h.mu.Unlock()
		var words []string
		for device, s := range news {
			words = append(words, fmt.Sprintf("readings %d %d %d", device, s.low, s.top))
		}
		for some := range slices.Chunk(words, mostToldAtOnce) {
			// At worst browsers see it with the next reading, or on coming back.
			_ = h.store.Notify(ctx, strings.Join(some, ";"))
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(tellEvery):
		}
	}
}

// mostToldAtOnce keeps a notification under PostgreSQL's 8,000 bytes.
const mostToldAtOnce = 100

const (
	backlog   = 256
	retryWait = 500 * time.Millisecond
)

// Run listens until ctx ends, and again after the database was gone. Browsers
// whose hub was deaf are let go: they come back and ask for what they missed.
func (h *Hub) Run(ctx context.Context) {
	go h.tell(ctx)
	go h.tellHeard(ctx)
	for ctx.Err() == nil {
		if err := h.listen(ctx); err != nil && ctx.Err() == nil {
			slog.Warn("the live stream lost the database", "error", err)
			h.letGo()
			select {
			case <-ctx.Done():
			case <-time.After(retryWait):
			}
		}
	}
	h.letGo()
}

func (h *Hub) listen(ctx context.Context) error {
	conn, err := h.store.Pool().Acquire(ctx)
	if err != nil {
		return err
	}
	raw := conn.Hijack() // a listening connection must not go back to the pool
	defer func() { _ = raw.Close(context.WithoutCancel(ctx)) }()
	if _, err := raw.Exec(ctx, "listen barn"); err != nil {
		return err
	}
	h.mu.Lock()
	h.era, h.count, h.recent = rand.Text(), 0, nil
	close(h.hears)
	h.mu.Unlock()
	defer func() {
		h.mu.Lock()
		h.hears = make(chan struct{})
		h.mu.Unlock()
	}()
	for {
		n, err := raw.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		if err := h.hear(ctx, n.Payload); err != nil {
			return err
		}
	}
}

func (h *Hub) hear(ctx context.Context, payload string) error {
	kind, rest, _ := strings.Cut(payload, " ")
	switch kind {
	case Changed:
		m := Message{Kind: Changed}
		if trial, parts, ok := strings.Cut(rest, " "); ok {
			m.Trial, _ = strconv.ParseInt(trial, 10, 64)
			m.Parts = strings.Split(parts, ",")
		}
		h.send(h.keep(m))
		return nil
	case SignedOut:
		h.send(Message{Kind: SignedOut})
		return nil
	}
	if h.noneAtACook() {
		return nil
	}
	for word := range strings.SplitSeq(payload, ";") {
		var device, low, top int64
		if _, err := fmt.Sscanf(word, "readings %d %d %d", &device, &low, &top); err != nil {
			continue // of a newer server: not for us
		}
		rows, err := h.store.ArrivedIn(ctx, device, low, top)
		if err != nil {
			return err
		}
		for cook, of := range byCook(rows) {
			h.send(Message{Cook: cook, Kind: Readings, Readings: of, Received: of[len(of)-1].Received})
		}
	}
	return nil
}

// mostKept is how many changes are kept for browsers that open their stream a little later.
const mostKept = 256

func (h *Hub) keep(m Message) Message {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.count++
	m.Told = h.told()
	h.recent = append(h.recent, m)
	if n := len(h.recent); n > mostKept {
		h.recent = slices.Clone(h.recent[n-mostKept:])
	}
	return m
}

func (h *Hub) told() string { return fmt.Sprintf("%s-%d", h.era, h.count) }

// Told names the last change this hub told of, for Since.
func (h *Hub) Told() string {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.told()
}

// Since is what changed after a moment that Told named; where that is not known any more,
// one message that everything did.
func (h *Hub) Since(told string) []Message {
	h.mu.Lock()
	defer h.mu.Unlock()
	era, count, _ := strings.Cut(told, "-")
	n, err := strconv.ParseInt(count, 10, 64)
	missed := h.count - n
	if era != h.era || err != nil || missed < 0 || missed > int64(len(h.recent)) {
		return []Message{{Kind: Changed, Told: h.told()}}
	}
	return slices.Clone(h.recent[int64(len(h.recent))-missed:])
}

func byCook(rows []store.Arrived) map[int64][]store.Arrived {
	out := map[int64][]store.Arrived{}
	for _, r := range rows {
		out[r.CookID] = append(out[r.CookID], r)
	}
	return out
}

// noneAtACook says whether nobody follows a cook, and keeps that something was heard.
func (h *Hub) noneAtACook() bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.heard = true
	for _, cook := range h.subs {
		if cook != 0 {
			return false
		}
	}
	return true
}

// heardEvery is how often all are told that something came.
const heardEvery = 2 * time.Second

func (h *Hub) tellHeard(ctx context.Context) {
	tick := time.NewTicker(heardEvery)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		h.mu.Lock()
		heard := h.heard
		h.heard = false
		h.mu.Unlock()
		if heard {
			h.send(Message{Kind: Heard})
		}
	}
}

// Changed lets the browsers of all servers know which parts of a trial changed or, with
// 0, which of the barn's own. At worst they see it later.
func (h *Hub) Changed(ctx context.Context, trial int64, parts ...string) {
	_ = h.store.NotifyChange(ctx, trial, parts...)
}

// SignedOut lets all streams look whether they are still somebody's.
func (h *Hub) SignedOut(ctx context.Context) { _ = h.store.Notify(ctx, SignedOut) }

// Follow returns what happens at a cook from now on, with 0 what happens in the barn; the channel is closed
// when the hub went deaf or the reader is too slow. end stops it. It waits
// until the hub listens: what it promises to hear it must be able to hear.
func (h *Hub) Follow(ctx context.Context, cook int64) (ch <-chan Message, end func(), err error) {
	sub := make(chan Message, backlog)
	for {
		h.mu.Lock()
		hears := h.hears
		select {
		case <-hears:
			h.subs[sub] = cook
			h.mu.Unlock()
			return sub, func() {
				h.mu.Lock()
				defer h.mu.Unlock()
				h.drop(sub)
			}, nil
		default:
		}
		h.mu.Unlock()
		select {
		case <-hears:
		case <-ctx.Done():
			return nil, nil, ctx.Err()
		}
	}
}

func (h *Hub) drop(sub chan Message) {
	if _, there := h.subs[sub]; there {
		delete(h.subs, sub)
		close(sub)
	}
}

func (h *Hub) letGo() {
	h.mu.Lock()
	defer h.mu.Unlock()
	for sub := range h.subs {
		h.drop(sub)
	}
}

func (h *Hub) send(m Message) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for sub, cook := range h.subs {
		if m.Cook != 0 && cook != m.Cook {
			continue
		}
		select {
		case sub <- m:
		default:
			h.drop(sub)
		}
	}
}

// ErrTooMuch is given when a browser missed more than is worth sending by
// itself; it reads the whole picture anew.
var ErrTooMuch = errors.New("too much was missed")

const (
	mostMissed = 20000
	overlap    = 15 * time.Second // commits may become visible out of order, and a page is read before it listens
)

// Missed is what came for a cook since a moment of true time.
func (h *Hub) Missed(ctx context.Context, cook int64, since time.Time) ([]store.Arrived, error) {
	rows, err := h.store.ArrivedSince(ctx, cook, since.Add(-overlap), mostMissed+1)
	if err == nil && len(rows) > mostMissed {
		return nil, ErrTooMuch
	}
	return rows, err
}

// Followers counts the browsers that follow.
func (h *Hub) Followers() int {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.subs)
}
