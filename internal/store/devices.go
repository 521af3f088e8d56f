package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// Device is something that sends readings: live, or a logger's files.
type Device struct {
	ID           int64      `json:"id"`
	Name         string     `json:"name"`
	CookID       *int64     `json:"cook_id"` // whose clock it lives by
	LastSequence int64      `json:"last_sequence"`
	Restarts     int        `json:"restarts"` // how often it started its numbers anew
	RestartedAt  *time.Time `json:"restarted_at"`
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
	Since    *time.Time `json:"since"` // its readings count there
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
	return collect[Device](ctx, s.pool, `select d.id, d.name, d.cook_id, d.last_sequence, d.restarts, d.restarted_at, d.last_seen_at as last_seen, d.skew_s, d.refused, d.retired_at is not null as retired,
		(select count(*) from readings r join probes p on p.id = r.probe_id where p.device_id = d.id and r.received_at > now() - interval '1 minute') as readings
		from devices d where d.kind = 'live' order by d.name`)
}

// Refusals lists what a device sent last that could not be used.
func (s *Store) Refusals(ctx context.Context, deviceID int64) ([]Refusal, error) {
	return collect[Refusal](ctx, s.pool, "select sequence, channel, text, reason from refused_readings where device_id = $1 order by id desc limit 50", deviceID)
}

// Probes lists the channels of live devices with their last reading and where
// each is assigned. Those of another cook's clock are left out.
func (s *Store) Probes(ctx context.Context, cookID int64) ([]ProbeNow, error) {
	return collect[ProbeNow](ctx, s.pool,
		`select p.id, p.device_id, d.name as device, p.channel, p.measures, coalesce(r.at, w.at) as at, r.c, w.kg,
		a.cook_id, a.cut_id, a.pit_run_id, a.holder_id, coalesce(a.point, '') as point, coalesce(a.place, '') as place, a.from_at as since
		from probes p join devices d on d.id = p.device_id
		left join lateral (select at, c from readings where probe_id = p.id order by at desc limit 1) r on true
		left join lateral (select at, kg from scale_readings where probe_id = p.id order by at desc limit 1) w on true
		left join lateral (select cook_id, cut_id, pit_run_id, hr.holder_id, point, place, pa.from_at from probe_assignments pa left
		join holder_runs hr on hr.id = pa.holder_run_id
			where pa.probe_id = p.id and pa.to_at is null and voided_at is null order by pa.from_at desc limit 1) a on true
		where d.kind = 'live' and d.retired_at is null and (d.cook_id is null or d.cook_id = $1) order by d.name, p.channel`, cookID)
}

// FreeSince is when what a probe measured last ended; zero if it never measured anything.
func (s *Store) FreeSince(ctx context.Context, probe int64) (time.Time, error) {
	var at *time.Time
	err := s.pool.QueryRow(ctx, "select max(to_at) from probe_assignments where probe_id = $1 and voided_at is null", probe).Scan(&at)
	if err != nil || at == nil {
		return time.Time{}, err
	}
	return *at, nil
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

// Notify tells all servers of a change; what names it by ids only.
func (s *Store) Notify(ctx context.Context, what string) error {
	_, err := s.pool.Exec(ctx, "select pg_notify('barn', $1)", what)
	return err
}

// NotifyChange tells all servers which parts of a trial changed, or, with 0, which of the
// barn's own.
func (s *Store) NotifyChange(ctx context.Context, trialID int64, parts ...string) error {
	return s.Notify(ctx, fmt.Sprintf("changed %d %s", trialID, strings.Join(parts, ",")))
}

// LastWeights lists the latest weight of each scale.
func (s *Store) LastWeights(ctx context.Context) ([]ProbeNow, error) {
	return collect[ProbeNow](ctx, s.pool,
		`select p.id, p.device_id, d.name as device, p.channel, p.measures, w.at, null::float8 as c, w.kg,
		null::bigint as cook_id, null::bigint as cut_id, null::bigint as pit_run_id, null::bigint as holder_id, '' as point, '' as place, null::timestamptz as since
		from probes p join devices d on d.id = p.device_id
		join lateral (select at, kg from scale_readings where probe_id = p.id order by at desc limit 1) w on true
		where p.measures = 'weight' and d.retired_at is null order by w.at desc`)
}
