package demo

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"time"

	"whitebarn/core/units"
)

// piece is a cut on a demo cook's grate. The cook is a small lumped model with
// a fixed seed: enough for believable logs, no more.
type piece struct {
	name   string
	kg     float64
	tauH   float64 // heating time constant at the size of this cut
	evapC  float64 // cooling by a bare wet surface, C an hour at 70 C
	wrapC  float64 // wrapped once it passes this; 0: never
	pullC  float64 // pulled when it passes this
	coreC  float64
	wraps  time.Time
	pulled time.Time
	loss   float64 // share of its weight
}

// day is one demo cook: its pit, its pieces and its log.
type day struct {
	on      time.Time
	setC    float64
	pieces  []*piece
	wood    []time.Time
	spritz  []time.Time
	pitC    []float64
	at      []time.Time
	coresC  [][]float64
	stepMin int
}

// burn runs the day minute by minute until an hour after the last pull.
func burn(r *rand.Rand, on time.Time, setC float64, pieces []*piece) *day {
	d := &day{on: on, setC: setC, pieces: pieces, stepMin: 1}
	noise, lid := 0.0, 0.0
	last := time.Time{}
	for minute := -40; minute < 60*16; minute++ {
		at := on.Add(time.Duration(minute) * time.Minute)
		hours := float64(minute) / 60
		noise = 0.92*noise + 0.9*r.NormFloat64()
		lid *= 0.88
		warm := 1 - math.Exp(-float64(minute+40)/11)
		pit := 14 + (setC-14)*warm + 3.5*math.Sin(hours*2.1) + noise - lid
		cooking := last.IsZero()
		if minute >= 0 && cooking {
			if minute%50 == 5 {
				d.wood = append(d.wood, at)
				lid += 16
			}
			if minute == 150 || minute == 225 || minute == 300 {
				d.spritz = append(d.spritz, at)
				lid += 22
			}
		}
		d.at, d.pitC = append(d.at, at), append(d.pitC, pit)
		row := make([]float64, len(pieces))
		open := 0
		for i, p := range pieces {
			if minute >= 0 {
				p.step(at, hours, pit)
			}
			if p.pulled.IsZero() {
				open++
			}
			row[i] = p.coreC + 0.15*r.NormFloat64()
		}
		d.coresC = append(d.coresC, row)
		if open == 0 && last.IsZero() {
			last = at
		}
		if !last.IsZero() && at.Sub(last) > time.Hour {
			break
		}
	}
	return d
}

// step moves a piece on by a minute.
func (p *piece) step(at time.Time, hours, pitC float64) {
	const dt = 1.0 / 60
	surroundings := pitC
	if !p.pulled.IsZero() {
		surroundings = 45
		p.coreC += (surroundings - p.coreC) / (2.5 * p.tauH) * dt
		return
	}
	// A wet surface cools with vapour pressure; a crust closes it with time.
	evap := p.evapC * math.Exp(0.045*(p.coreC-70)) * math.Exp(-math.Max(0, hours-4)/3)
	if !p.wraps.IsZero() {
		evap *= 0.2
	}
	p.coreC += ((surroundings-p.coreC)/p.tauH - evap) * dt
	drip := 0.036
	if !p.wraps.IsZero() {
		drip = 0.09 // fat and juice run under paper
	}
	p.loss += (drip + 0.0024*evap) * dt
	if p.wrapC > 0 && p.wraps.IsZero() && p.coreC >= p.wrapC {
		p.wraps = at
	}
	if p.coreC >= p.pullC {
		p.pulled = at
	}
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
