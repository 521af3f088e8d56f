package demo

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"whitebarn/core/units"
	"whitebarn/internal/standin"
)

// piece is a cut on a demo cook's grate.
type piece struct {
	name   string
	kg     float64
	thickM float64 // 0 when not measured
	wrapC  float64 // wrapped in paper once it passes this; 0: never
	pullC  float64 // pulled when it passes this
	wraps  time.Time
	pulled time.Time
	offKg  float64
}

// day is one demo cook: its pit, its pieces and its log.
type day struct {
	on     time.Time
	pieces []*piece
	wood   []time.Time
	spritz []time.Time
	pitC   []float64
	at     []time.Time
	coresC [][]float64
}

// lighting is how long before the cuts the pit is lit.
const lighting = 45 * time.Minute

// burn plays the day in the simulated barn, minute by minute, until an hour
// after the last pull.
func burn(seed uint64, on time.Time, pit standin.Pit, family string, pieces []*piece) (*day, error) {
	d := &day{on: on, pieces: pieces}
	pit.Name, pit.Channel = "pit", "pit"
	script := standin.Script{Seed: seed, Every: standin.Duration(time.Minute), Pits: []standin.Pit{pit}}
	for _, p := range pieces {
		c := standin.Cut{Name: p.name, Family: family, Weight: fmt.Sprintf("%g kg", p.kg), Pit: "pit", On: standin.Duration(lighting), Channel: p.name,
			PullAt: fmt.Sprintf("%g C", p.pullC), Probe: standin.Probe{Noise: 0.15}}
		if p.thickM > 0 {
			c.Thick = fmt.Sprintf("%g mm", 1000*p.thickM)
		}
		if p.wrapC > 0 {
			c.Wrap, c.WrapAt = "paper", fmt.Sprintf("%g C", p.wrapC)
		}
		script.Cuts = append(script.Cuts, c)
	}
	start := on.Add(-lighting)
	for minute := range 60 * 16 {
		at := on.Add(time.Duration(minute) * time.Minute)
		if minute%50 == 5 {
			d.wood = append(d.wood, at)
			script.Events = append(script.Events, standin.Event{At: standin.Duration(at.Sub(start)), Do: "lid", Pit: "pit"})
		}
		if minute == 150 || minute == 225 || minute == 300 {
			d.spritz = append(d.spritz, at)
			script.Events = append(script.Events, standin.Event{At: standin.Duration(at.Sub(start)), Do: "lid", Pit: "pit", For: standin.Duration(80 * time.Second)})
			for _, p := range pieces {
				script.Events = append(script.Events, standin.Event{At: standin.Duration(at.Sub(start)), Do: "spritz", Cut: p.name})
			}
		}
	}
	barn, err := standin.New(script, start)
	if err != nil {
		return nil, err
	}
	last := map[string]float64{}
	var done time.Time
	for at := start.Add(time.Minute); done.IsZero() || at.Sub(done) <= time.Hour; at = at.Add(time.Minute) {
		if err := barn.Advance(at, func(r standin.Reading) { last[r.Channel] = r.Value }); err != nil {
			return nil, err
		}
		if open := d.note(barn, at, last); open == 0 && done.IsZero() {
			done = at
		}
	}
	d.wood = before(d.wood, done)
	d.spritz = before(d.spritz, done)
	return d, nil
}

// note takes down a minute of the day and returns how many pieces still cook.
func (d *day) note(barn *standin.Barn, at time.Time, last map[string]float64) (open int) {
	d.at, d.pitC = append(d.at, at), append(d.pitC, last["pit"])
	row := make([]float64, len(d.pieces))
	for i, p := range d.pieces {
		row[i] = last[p.name]
		now := barn.Cut(p.name)
		if p.wraps.IsZero() && now.Wrap != "none" {
			p.wraps = at
		}
		if p.pulled.IsZero() && now.Out {
			p.pulled, p.offKg = at, now.Kg
		}
		if p.pulled.IsZero() {
			open++
		}
	}
	d.coresC = append(d.coresC, row)
	return open
}

func before(in []time.Time, end time.Time) []time.Time {
	return slices.DeleteFunc(in, func(t time.Time) bool { return t.After(end) })
}

// csv writes the log as a logger of the barn would: local time, Fahrenheit.
func (d *day) csv(zone *time.Location, pit string) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	header := []string{"Time", pit + " (F)"}
	for _, p := range d.pieces {
		header = append(header, p.name+" (F)")
	}
	_ = w.Write(header) // a buffer does not fail
	f := func(c float64) string { return fmt.Sprintf("%.1f", units.CToF(c)) }
	for i, at := range d.at {
		row := []string{at.In(zone).Format("2006-01-02 15:04:05"), f(d.pitC[i])}
		for j, p := range d.pieces {
			switch {
			case at.Before(d.on), !p.pulled.IsZero() && at.After(p.pulled.Add(12*time.Minute)):
				row = append(row, "--")
			default:
				row = append(row, f(d.coresC[i][j]))
			}
		}
		_ = w.Write(row)
	}
	w.Flush()
	return b.Bytes()
}

// poundsOunces types a weight as the crew does, to a quarter of an ounce.
func poundsOunces(kg float64) string {
	quarters := math.Round(kg * 1000 / units.GramsPerPound * units.OuncesPerPound * 4)
	lb := math.Floor(quarters / 64)
	oz := (quarters - lb*64) / 4
	text := strconv.FormatFloat(oz, 'f', -1, 64) + " oz"
	if lb > 0 {
		text = fmt.Sprintf("%.0f lb ", lb) + text
	}
	return text
}
