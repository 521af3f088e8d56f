package store

import (
	"context"
	"fmt"
	"math"
	"time"

	"github.com/jackc/pgx/v5"
)

// numbers are the sequence numbers of a device while a batch of it is taken.
type numbers struct {
	last     int64 // of its newest run: where it goes on
	highest  int64 // of all its runs
	restarts int   // in this batch
}

// lastRoom is where numbers end that a device can go on from: one near the largest integer
// is a slip of its memory. The reading is kept, and the count goes on from before.
const lastRoom = math.MaxInt64 / 2

// sameTime is how far apart in time a reading that has none of its own may be sent again.
const sameTime = 10 * time.Minute

// spot is where a reading goes.
type spot struct{ probe, sequence int64 }

// lastOf is the number to go on from after readings that follow each other.
func lastOf(last int64, in []LiveReading) int64 {
	for _, r := range in {
		if r.Sequence < lastRoom {
			last = max(last, r.Sequence)
		}
	}
	return last
}

// sort returns the readings that are not there yet, in their order, and follows the
// numbers: one that was given before to another time or value begins a new run.
func (n *numbers) sort(ctx context.Context, tx pgx.Tx, probes map[string]int64, in []LiveReading) (fresh []LiveReading, err error) {
	there, err := n.known(ctx, tx, probes, in)
	if err != nil {
		return nil, err
	}
	for _, r := range in {
		r.At = r.At.Truncate(time.Microsecond) // as far as the record tells times apart
		at := spot{probes[r.Channel], r.Sequence}
		if isThere(there[at], r) {
			continue
		}
		if len(there[at]) > 0 && r.Sequence <= n.last {
			n.restarts++
			n.last = r.Sequence
		} else {
			n.last = lastOf(n.last, []LiveReading{r})
		}
		n.highest = max(n.highest, r.Sequence)
		there[at] = append(there[at], r)
		fresh = append(fresh, r)
	}
	return fresh, nil
}

// known reads what stands under the numbers of a batch.
func (n *numbers) known(ctx context.Context, tx pgx.Tx, probes map[string]int64, in []LiveReading) (map[spot][]LiveReading, error) {
	there := map[spot][]LiveReading{}
	var ids, sequences []int64
	for _, r := range in {
		if r.Sequence <= n.highest {
			ids, sequences = append(ids, probes[r.Channel]), append(sequences, r.Sequence)
		}
	}
	if len(ids) == 0 {
		return there, nil
	}
	rows, err := tx.Query(ctx, `with x as (select distinct p, s from unnest($1::bigint[], $2::bigint[]) x (p, s))
		select r.probe_id, r.sequence, r.at, r.c from x join readings r on r.probe_id = x.p and r.sequence = x.s
		union all select r.probe_id, r.sequence, r.at, r.kg from x join scale_readings r on r.probe_id = x.p and r.sequence = x.s`, ids, sequences)
	if err != nil {
		return nil, fmt.Errorf("look for readings sent before: %w", err)
	}
	var at spot
	var r LiveReading
	_, err = pgx.ForEachRow(rows, []any{&at.probe, &at.sequence, &r.At, &r.Canonical}, func() error {
		there[at] = append(there[at], r)
		return nil
	})
	return there, err
}

// isThere says whether a reading is among those kept under its number.
func isThere(kept []LiveReading, r LiveReading) bool {
	for _, k := range kept {
		if k.Canonical == r.Canonical && (k.At.Equal(r.At) || r.Untimed && k.At.Sub(r.At).Abs() <= sameTime) {
			return true
		}
	}
	return false
}

// keep records where the numbers are, and that the device was heard.
func (n *numbers) keep(ctx context.Context, tx pgx.Tx, device int64, refused int, skew *float64) error {
	_, err := tx.Exec(ctx, `update devices set last_sequence = $2, highest_sequence = $3, last_seen_at = now(), skew_s = coalesce($4, skew_s),
		refused = refused + $5, restarts = restarts + $6, restarted_at = case when $6 > 0 then now() else restarted_at end where id = $1`,
		device, n.last, n.highest, skew, refused, n.restarts)
	return err
}

// ofProbes parts readings into those whose channel is registered and those of one channel too many.
func ofProbes(probes map[string]int64, in []LiveReading) (kept []LiveReading, tooMany []Refusal) {
	for _, r := range in {
		if probes[r.Channel] != 0 {
			kept = append(kept, r)
			continue
		}
		tooMany = append(tooMany, Refusal{r.Sequence, r.Channel, fmt.Sprintf("%g %s", r.Value, r.Unit),
			fmt.Sprintf("this device has %d channels already: send each probe under one name, or register another device", MostChannels)})
	}
	return kept, tooMany
}
