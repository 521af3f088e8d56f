package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"maps"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"whitebarn/core/trial"
)

// Device is something that sends readings: live, or a logger's files.
type Device struct {
	ID           int64      `json:"id"`
	Name         string     `json:"name"`
	CookID       *int64     `json:"cook_id"` // whose clock it lives by
	LastSequence int64      `json:"last_sequence"`
	LastSeen     *time.Time `json:"last_seen"`
	SkewS        *float64   `json:"skew_s"`
	Refused      int64      `json:"refused"`
	Retired      bool       `json:"retired"`
	Readings     int64      `json:"readings"` // of the last minute
}

// ProbeNow is a channel of a live device and the last it said.
type ProbeNow struct {
	ID       int64      `json:"id"`
	DeviceID int64      `json:"device_id"`
	Device   string     `json:"device"`
	Channel  string     `json:"channel"`
	Measures string     `json:"measures"`
	At       *time.Time `json:"at"`
	C        *float64   `json:"c"`
	Kg       *float64   `json:"kg"`
	CookID   *int64     `json:"cook_id"` // where it is assigned now
	CutID    *int64     `json:"cut_id"`
	PitRunID *int64     `json:"pit_run_id"`
	HolderID *int64     `json:"holder_id"`
	Point    string     `json:"point"` // on a pit: a grate position, the dial
	Place    string     `json:"place"` // on a piece
}

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

// Refusal is a reading that could not be used.
type Refusal struct {
	Sequence int64  `json:"seq"`
	Channel  string `json:"channel"`
	Text     string `json:"text"`
	Reason   string `json:"reason"`
}

// NewDevice registers a live device and returns its token, which is not kept.
func (s *Store) NewDevice(ctx context.Context, who int64, name string, cookID *int64) (d Device, token string, err error) {
	raw := make([]byte, 24)
	_, _ = rand.Read(raw) // never fails
	token = base64.RawURLEncoding.EncodeToString(raw)
	err = s.pool.QueryRow(ctx, "insert into devices (name, kind, token_hash, cook_id, registered_by) values ($1, 'live', $2, $3, $4) returning id",
		name, tokenHash(token), cookID, who).Scan(&d.ID)
	if IsUnique(err, "") {
		return d, "", ErrConflict
	}
	d.Name, d.CookID = name, cookID
	return d, token, err
}

// Renew gives a device a new token; the old one is refused from now on.
func (s *Store) Renew(ctx context.Context, who, id int64) (token string, err error) {
	raw := make([]byte, 24)
	_, _ = rand.Read(raw)
	token = base64.RawURLEncoding.EncodeToString(raw)
	tag, err := s.pool.Exec(ctx, "update devices set token_hash = $2, registered_by = $3, retired_at = null where id = $1 and kind = 'live'", id, tokenHash(token), who)
	if err == nil && tag.RowsAffected() == 0 {
		return "", ErrNotFound
	}
	return token, err
}

// Retire refuses a device's token from now on; its readings stay.
func (s *Store) Retire(ctx context.Context, id int64) error {
	tag, err := s.pool.Exec(ctx, "update devices set retired_at = now(), token_hash = null where id = $1 and kind = 'live' and retired_at is null", id)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}

func tokenHash(token string) []byte {
	h := sha256.Sum256([]byte(token))
	return h[:]
}

// Devices lists the live ones.
func (s *Store) Devices(ctx context.Context) ([]Device, error) {
	return collect[Device](ctx, s.pool, `select d.id, d.name, d.cook_id, d.last_sequence, d.last_seen_at as last_seen, d.skew_s, d.refused, d.retired_at is not null as retired,
		(select count(*) from readings r join probes p on p.id = r.probe_id where p.device_id = d.id and r.received_at > now() - interval '1 minute') as readings
		from devices d where d.kind = 'live' order by d.name`)
}

// Refusals lists what a device sent last that could not be used.
func (s *Store) Refusals(ctx context.Context, deviceID int64) ([]Refusal, error) {
	return collect[Refusal](ctx, s.pool, "select sequence, channel, text, reason from refused_readings where device_id = $1 order by received_at desc, sequence desc limit 50", deviceID)
}

// Probes lists the channels of live devices with their last reading and where
// each is assigned. Those of another cook's clock are left out.
func (s *Store) Probes(ctx context.Context, cookID int64) ([]ProbeNow, error) {
	return collect[ProbeNow](ctx, s.pool, `select p.id, p.device_id, d.name as device, p.channel, p.measures, coalesce(r.at, w.at) as at, r.c, w.kg, a.cook_id, a.cut_id, a.pit_run_id, a.holder_id, coalesce(a.point, '') as point, coalesce(a.place, '') as place
		from probes p join devices d on d.id = p.device_id
		left join lateral (select at, c from readings where probe_id = p.id order by at desc limit 1) r on true
		left join lateral (select at, kg from scale_readings where probe_id = p.id order by sequence desc limit 1) w on true
		left join lateral (select cook_id, cut_id, pit_run_id, hr.holder_id, point, place from probe_assignments pa left join holder_runs hr on hr.id = pa.holder_run_id
			where pa.probe_id = p.id and pa.to_at is null and voided_at is null order by pa.from_at desc limit 1) a on true
		where d.kind = 'live' and d.retired_at is null and (d.cook_id is null or d.cook_id = $1) order by d.name, p.channel`, cookID)
}

// AssignProbe says what a live probe measures from a moment on, and ends what
// it measured before. Nothing only ends.
func (s *Store) AssignProbe(ctx context.Context, who, cookID, probe int64, m Measured, from time.Time) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "update probe_assignments set to_at = greatest($2, from_at) where probe_id = $1 and to_at is null and voided_at is null", probe, from); err != nil {
			return err
		}
		if m == (Measured{}) {
			return nil
		}
		_, err := tx.Exec(ctx, "insert into probe_assignments (probe_id, cook_id, cut_id, pit_run_id, holder_run_id, point, place, from_at, recorded_by) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
			probe, cookID, m.CutID, m.PitRunID, m.HolderRunID, m.Point, m.Place, from, who)
		return err
	})
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
	tag, err := q.Exec(ctx, `with d as (update devices set last_sequence = greatest(last_sequence, $7), last_seen_at = now(), skew_s = coalesce($8, skew_s) where id = $9 returning id)
		`+insertReadings+`, d on conflict do nothing`, r.probes, r.at, r.c, r.value, r.scale, r.sequences, top, skew, device)
	return int(tag.RowsAffected()), err
}

const insertReadings = `insert into readings (probe_id, at, c, value, scale, sequence)
	select p, a, c, v, substr($5, n::int, 1), s from unnest($1::bigint[], $2::timestamptz[], $3::float8[], $4::float8[], $6::bigint[]) with ordinality x (p, a, c, v, s, n)`

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
		copied, err := tx.CopyFrom(ctx, pgx.Identifier{"readings"}, []string{"probe_id", "at", "c", "value", "scale", "sequence"}, pgx.CopyFromSlice(len(temps), func(i int) ([]any, error) {
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
	return collect[Arrived](ctx, s.pool, arrivedColumns+"r.probe_id in (select id from probes where device_id = $1) and r.sequence between $2 and $3 order by r.received_at, r.at", device, low, top)
}

// ArrivedSince reads what came for a cook after a moment of true time.
func (s *Store) ArrivedSince(ctx context.Context, cookID int64, since time.Time, most int) ([]Arrived, error) {
	return collect[Arrived](ctx, s.pool, arrivedColumns+"a.cook_id = $1 and r.received_at > $2 order by r.received_at, r.at limit $3", cookID, since, most)
}

// Notify tells all servers of a change; what names it by ids only.
func (s *Store) Notify(ctx context.Context, what string) error {
	_, err := s.pool.Exec(ctx, "select pg_notify('barn', $1)", what)
	return err
}

// LastWeights lists the latest weight of each scale.
func (s *Store) LastWeights(ctx context.Context) ([]ProbeNow, error) {
	return collect[ProbeNow](ctx, s.pool, `select p.id, p.device_id, d.name as device, p.channel, p.measures, w.at, null::float8 as c, w.kg, null::bigint as cook_id, null::bigint as cut_id, null::bigint as pit_run_id, null::bigint as holder_id, '' as point, '' as place
		from probes p join devices d on d.id = p.device_id
		join lateral (select at, kg from scale_readings where probe_id = p.id order by sequence desc limit 1) w on true
		where p.measures = 'weight' and d.retired_at is null order by w.at desc`)
}
