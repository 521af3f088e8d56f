package store

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"whitebarn/core/trial"
)

// Measured is what a live probe measures: a place on a cut, a
// point on a pit, or a holder. The zero value is nothing.
type Measured struct {
	CutID, PitRunID, HolderRunID *int64
	Place, Point                 string
}

// LiveReading is a reading as a device sent it.
type LiveReading struct {
	Sequence  int64
	Channel   string
	At        time.Time
	Untimed   bool    // the device gave no time: it is when it came
	Weight    bool    // else a temperature
	Value     float64 // as read
	Unit      string
	Canonical float64 // C or kg
}

// Taken is how a batch was taken.
type Taken struct {
	Accepted int
	Repeated int
	Refused  []Refusal
}

// Sender is a device at the door, with the clock it lives by.
type Sender struct {
	ID           int64
	Name         string
	LastSequence int64
	Clock        *trial.Clock // nil: the true time
}

// SenderOf finds a device by its token.
func (s *Store) SenderOf(ctx context.Context, token string) (Sender, error) {
	var d Sender
	var origin, start *time.Time
	var rate *float64
	err := s.pool.QueryRow(ctx, `select d.id, d.name, d.last_sequence, k.clock_origin, k.clock_start, k.clock_rate
		from devices d left join cooks k on k.id = d.cook_id where d.token_hash = $1`, tokenHash(token)).Scan(&d.ID, &d.Name, &d.LastSequence, &origin, &start, &rate)
	if errors.Is(err, pgx.ErrNoRows) {
		return d, ErrNotFound
	}
	if err == nil && origin != nil {
		d.Clock = &trial.Clock{Origin: *origin, Start: *start, Rate: *rate}
	}
	return d, err
}

// Receive writes a batch of a device, all in one commit. A reading that is known by its
// number, time and value is not written again; a number that comes with others tells
// that the device started its numbers anew.
func (s *Store) Receive(ctx context.Context, d Sender, in []LiveReading, refused []Refusal, skew *float64) (t Taken, err error) {
	if ids := s.known.all(d.ID, in); ids != nil && len(in) <= fewReadings && len(refused) == 0 {
		n, err := receiveFew(ctx, s.pool, d.ID, ids, in, skew)
		if n > 0 || err != nil {
			return Taken{Accepted: n, Repeated: len(in) - n}, err
		}
	}
	var probes map[string]int64
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		t = Taken{}
		var n numbers
		// The row lock makes one batch of a device follow the other.
		err := tx.QueryRow(ctx, "select last_sequence, highest_sequence from devices where id = $1 for update", d.ID).Scan(&n.last, &n.highest)
		if err != nil {
			return found(err)
		}
		if probes, err = probesOf(ctx, tx, d.ID, in); err != nil {
			return err
		}
		kept, tooMany := ofProbes(probes, in)
		fresh, err := n.sort(ctx, tx, probes, kept)
		if err != nil {
			return err
		}
		t = Taken{Accepted: len(fresh), Repeated: len(kept) - len(fresh), Refused: append(refused, tooMany...)}
		if err := refuse(ctx, tx, d.ID, t.Refused); err != nil {
			return err
		}
		if err := n.keep(ctx, tx, d.ID, len(t.Refused), skew); err != nil {
			return err
		}
		return write(ctx, tx, probes, fresh)
	})
	if _, shared := s.pool.(*pgxpool.Pool); err == nil && shared { // else a rollback could still take the probes back
		s.known.keep(d.ID, probes)
	}
	return t, err
}

// Span is the lowest and the highest sequence of readings.
func Span(in []LiveReading) (low, top int64) {
	for _, r := range in {
		top = max(top, r.Sequence)
		if low == 0 || r.Sequence < low {
			low = r.Sequence
		}
	}
	return low, top
}

// fewReadings is up to how many readings go in by one statement.
const fewReadings = 16

// receiveFew writes a few temperatures of known probes in one round trip: what
// a device that sends every reading by itself needs. It writes none whose numbers do not
// all go on from the last.
func receiveFew(ctx context.Context, q querier, device int64, ids []int64, in []LiveReading, skew *float64) (int, error) {
	low, highest := Span(in)
	r := columnsOf(ids, in)
	tag, err := q.Exec(ctx, `with d as (update devices set last_sequence = greatest(last_sequence, $7), highest_sequence = greatest(highest_sequence, $8),
			last_seen_at = now(), skew_s = coalesce($9, skew_s) where id = $10 and last_sequence < $11 returning id)
		`+insertReadings+`, d on conflict do nothing`, r.probes, r.at, r.c, r.value, r.scale, r.sequences, lastOf(0, in), highest, skew, device, low)
	return int(tag.RowsAffected()), err
}

const insertReadings = `insert into readings (probe_id, at, c, value, scale, sequence)
	select p, a, c, v, substr($5, n::int, 1), s
		from unnest($1::bigint[], $2::timestamptz[], $3::float8[], $4::float8[], $6::bigint[]) with ordinality x (p, a, c, v, s, n)`

// columns are readings side by side, as unnest takes them.
type columns struct {
	probes, sequences []int64
	at                []time.Time
	c, value          []float64
	scale             string
}

func columnsOf(ids []int64, in []LiveReading) columns {
	out := columns{probes: ids}
	scale := make([]byte, 0, len(in))
	for _, r := range in {
		out.sequences, out.at = append(out.sequences, r.Sequence), append(out.at, r.At)
		out.c, out.value = append(out.c, r.Canonical), append(out.value, r.Value)
		scale = append(scale, r.Unit[0])
	}
	out.scale = string(scale)
	return out
}

// knownProbes remembers the probes of devices; a probe is for good.
type knownProbes struct {
	mu  sync.RWMutex
	ids map[int64]map[string]int64
}

// all are the probes of temperatures; nil when one is not known, or is a weight.
func (k *knownProbes) all(device int64, in []LiveReading) []int64 {
	k.mu.RLock()
	defer k.mu.RUnlock()
	out := make([]int64, len(in))
	for i, r := range in {
		id := k.ids[device][r.Channel]
		if id == 0 || r.Weight {
			return nil
		}
		out[i] = id
	}
	return out
}

func (k *knownProbes) keep(device int64, probes map[string]int64) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.ids == nil {
		k.ids = map[int64]map[string]int64{}
	}
	if k.ids[device] == nil {
		k.ids[device] = map[string]int64{}
	}
	for channel, id := range probes {
		if id != 0 { // of one channel too many there is none
			k.ids[device][channel] = id
		}
	}
}

// MostChannels is how many channels a device may have.
const MostChannels = 200

// probesOf finds the channels of a batch, and registers those that are new; 0 for those
// that are too many.
func probesOf(ctx context.Context, q querier, device int64, in []LiveReading) (map[string]int64, error) {
	out := map[string]int64{}
	var names, measures []string
	for _, r := range in {
		if _, seen := out[r.Channel]; seen {
			continue
		}
		out[r.Channel] = 0
		names = append(names, r.Channel)
		kind := "temperature"
		if r.Weight {
			kind = "weight"
		}
		measures = append(measures, kind)
	}
	if len(names) == 0 {
		return out, nil
	}
	known := 0
	read := func(sql string, args ...any) error {
		rows, err := q.Query(ctx, sql, args...)
		if err != nil {
			return err
		}
		var id int64
		var channel string
		_, err = pgx.ForEachRow(rows, []any{&id, &channel}, func() error {
			out[channel] = id
			known++
			return nil
		})
		return err
	}
	if err := read("select id, channel from probes where device_id = $1 and channel = any($2)", device, names); err != nil || known == len(names) {
		return out, err
	}
	return out, read(`insert into probes (device_id, channel, measures) select $1, c, m from unnest($2::text[], $3::text[]) with ordinality x (c, m, n)
		where c not in (select channel from probes where device_id = $1)
		order by n limit greatest(0, $4 - (select count(*) from probes where device_id = $1)) returning id, channel`, device, names, measures, MostChannels)
}

// mostRefusals is how many of a device's refused readings are kept: the newest.
const mostRefusals = 200

func refuse(ctx context.Context, q querier, device int64, refused []Refusal) error {
	if len(refused) == 0 {
		return nil
	}
	_, err := q.Exec(ctx, `insert into refused_readings (device_id, sequence, channel, text, reason)
		select $1, (r->>'seq')::bigint, r->>'channel', r->>'text', r->>'reason' from jsonb_array_elements($2::jsonb) r`,
		device, refused[max(0, len(refused)-mostRefusals):])
	if err == nil {
		_, err = q.Exec(ctx, `delete from refused_readings where device_id = $1 and id <=
			(select id from refused_readings where device_id = $1 order by id desc offset $2 limit 1)`, device, mostRefusals)
	}
	if err != nil {
		return fmt.Errorf("record refusals: %w", err)
	}
	return nil
}

// write writes readings that are not there yet.
func write(ctx context.Context, tx pgx.Tx, probes map[string]int64, in []LiveReading) error {
	var temps [][]any
	for _, r := range in {
		if !r.Weight {
			temps = append(temps, []any{probes[r.Channel], r.At, r.Canonical, r.Value, r.Unit, r.Sequence})
			continue
		}
		_, err := tx.Exec(ctx, "insert into scale_readings (probe_id, sequence, at, kg, value, unit) values ($1, $2, $3, $4, $5, $6)",
			probes[r.Channel], r.Sequence, r.At, r.Canonical, r.Value, r.Unit)
		if err != nil {
			return fmt.Errorf("write a weight: %w", err)
		}
	}
	_, err := tx.CopyFrom(ctx, pgx.Identifier{"readings"}, []string{"probe_id", "at", "c", "value", "scale", "sequence"}, pgx.CopyFromRows(temps))
	return err
}

// Arrived is a reading as it goes out to browsers.
type Arrived struct {
	ProbeID  int64     `json:"probe_id"`
	CookID   int64     `json:"cook_id"`
	At       time.Time `json:"at"`
	C        float64   `json:"c"`
	Received time.Time `json:"-"`
}

const arrivedColumns = `select r.probe_id, a.cook_id, r.at, r.c, r.received_at as received from readings r
	join probe_assignments a on a.probe_id = r.probe_id and a.voided_at is null and r.at >= a.from_at and (a.to_at is null or r.at <= a.to_at)
	where `

// ArrivedIn reads what a device brought just now under some sequences.
func (s *Store) ArrivedIn(ctx context.Context, device, low, top int64) ([]Arrived, error) {
	return collect[Arrived](ctx, s.pool,
		arrivedColumns+"r.probe_id in (select id from probes where device_id = $1) and r.sequence between $2 and $3 and r.received_at > now() - interval '1 minute' order by r.received_at, r.at",
		device, low, top)
}

// ArrivedSince reads what came for a cook after a moment of true time.
func (s *Store) ArrivedSince(ctx context.Context, cookID int64, since time.Time, most int) ([]Arrived, error) {
	return collect[Arrived](ctx, s.pool, arrivedColumns+"a.cook_id = $1 and r.received_at > $2 order by r.received_at, r.at limit $3", cookID, since, most)
}
