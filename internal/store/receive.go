package store

import (
	"context"
	"errors"
	"fmt"
	"maps"
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
	Weight    bool    // else a temperature
	Value     float64 // as read
	Unit      string
	Canonical float64 // C or kg
}

// Taken is how a batch was taken.
type Taken struct {
	Accepted int
	Repeated int
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

// Receive writes a batch of a device, all in one commit. A reading known by
// its probe and sequence is not written again. Readings under sequences that
// were not seen before are copied straight in.
func (s *Store) Receive(ctx context.Context, d Sender, in []LiveReading, refused []Refusal, skew *float64) (t Taken, err error) {
	if ids := s.known.all(d.ID, in); ids != nil && len(in) <= fewReadings && len(refused) == 0 {
		n, err := receiveFew(ctx, s.pool, d.ID, ids, in, skew)
		return Taken{n, len(in) - n}, err
	}
	var probes map[string]int64
	err = s.withTx(ctx, func(tx pgx.Tx) error {
		t = Taken{}
		low, top := Span(in)
		// The row lock makes one batch of a device follow the other.
		var before int64
		err := tx.QueryRow(ctx, `with old as (select id, last_sequence from devices where id = $1 for update)
			update devices d set last_sequence = greatest(d.last_sequence, $2), last_seen_at = now(), skew_s = coalesce($3, d.skew_s), refused = d.refused + $4
			from old where d.id = old.id returning old.last_sequence`, d.ID, top, skew, len(refused)).Scan(&before)
		if err != nil {
			return found(err)
		}
		if probes, err = probesOf(ctx, tx, d.ID, in); err != nil {
			return err
		}
		if err := refuse(ctx, tx, d.ID, refused); err != nil {
			return err
		}
		t.Accepted, err = write(ctx, tx, probes, in, low > before && distinctSequences(in))
		t.Repeated = len(in) - t.Accepted
		return err
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
// a device that sends every reading by itself needs.
func receiveFew(ctx context.Context, q querier, device int64, ids []int64, in []LiveReading, skew *float64) (int, error) {
	_, top := Span(in)
	r := columnsOf(ids, in)
	tag, err := q.Exec(ctx, `with d as (update devices
		set last_sequence = greatest(last_sequence, $7), last_seen_at = now(), skew_s = coalesce($8, skew_s) where id = $9 returning id)
		`+insertReadings+`, d on conflict do nothing`, r.probes, r.at, r.c, r.value, r.scale, r.sequences, top, skew, device)
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
	maps.Copy(k.ids[device], probes)
}

func distinctSequences(in []LiveReading) bool {
	for i := 1; i < len(in); i++ {
		if in[i].Sequence <= in[i-1].Sequence {
			return false
		}
	}
	return true
}

// probesOf finds the channels of a batch, and registers those that are new.
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
	return out, read(`insert into probes (device_id, channel, measures) select $1, c, m from unnest($2::text[], $3::text[]) x (c, m)
		on conflict (device_id, channel) do update set channel = excluded.channel returning id, channel`, device, names, measures)
}

func refuse(ctx context.Context, q querier, device int64, refused []Refusal) error {
	for _, r := range refused {
		if _, err := q.Exec(ctx, "insert into refused_readings (device_id, sequence, channel, text, reason) values ($1, $2, $3, $4, $5) on conflict do nothing", device, r.Sequence, r.Channel, r.Text, r.Reason); err != nil {
			return fmt.Errorf("record a refusal: %w", err)
		}
	}
	return nil
}

// write writes readings and returns how many were new.
func write(ctx context.Context, tx pgx.Tx, probes map[string]int64, in []LiveReading, fresh bool) (int, error) {
	var temps []LiveReading
	n := 0
	for _, r := range in {
		if !r.Weight {
			temps = append(temps, r)
			continue
		}
		tag, err := tx.Exec(ctx, "insert into scale_readings (probe_id, sequence, at, kg, value, unit) values ($1, $2, $3, $4, $5, $6) on conflict do nothing",
			probes[r.Channel], r.Sequence, r.At, r.Canonical, r.Value, r.Unit)
		if err != nil {
			return 0, fmt.Errorf("write a weight: %w", err)
		}
		n += int(tag.RowsAffected())
	}
	if fresh && len(temps) > 8 {
		copied, err := tx.CopyFrom(ctx, pgx.Identifier{"readings"}, []string{"probe_id", "at", "c", "value", "scale", "sequence"},
			pgx.CopyFromSlice(len(temps), func(i int) ([]any, error) {
				r := &temps[i]
				return []any{probes[r.Channel], r.At, r.Canonical, r.Value, r.Unit, r.Sequence}, nil
			}))
		return n + int(copied), err
	}
	if len(temps) == 0 {
		return n, nil
	}
	ids := make([]int64, len(temps))
	for i, r := range temps {
		ids[i] = probes[r.Channel]
	}
	r := columnsOf(ids, temps)
	tag, err := tx.Exec(ctx, insertReadings+" on conflict do nothing", r.probes, r.at, r.c, r.value, r.scale, r.sequences)
	return n + int(tag.RowsAffected()), err
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

// ArrivedIn reads what a device brought under some sequences.
func (s *Store) ArrivedIn(ctx context.Context, device, low, top int64) ([]Arrived, error) {
	return collect[Arrived](ctx, s.pool,
		arrivedColumns+"r.probe_id in (select id from probes where device_id = $1) and r.sequence between $2 and $3 order by r.received_at, r.at",
		device, low, top)
}

// ArrivedSince reads what came for a cook after a moment of true time.
func (s *Store) ArrivedSince(ctx context.Context, cookID int64, since time.Time, most int) ([]Arrived, error) {
	return collect[Arrived](ctx, s.pool, arrivedColumns+"a.cook_id = $1 and r.received_at > $2 order by r.received_at, r.at limit $3", cookID, since, most)
}
