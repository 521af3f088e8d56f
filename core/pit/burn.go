// Package pit tells from burns without meat what a pit does as it is set up: how long it
// warms, how evenly it runs, how long an addition of fuel lasts, and what it is good for;
// and where a holder comes to rest. Times are seconds after lighting, temperatures C.
package pit

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
)

// Source is whose rules these are.
const Source = "This barn's rules: median of five minutes before peaks and falls are read, set-ups at equal elapsed time"

// ReadFor is how long after lighting a burn on record is read at most (ours).
const ReadFor = 24 * time.Hour

const (
	// UsualBandC is how far off its set point a pit is still at it (15 F).
	UsualBandC = 15 / 1.8
	// AlikeC is how far off set a place may be to be offered for a cut (5 F, ours).
	AlikeC = 5 / 1.8

	longestS = 48 * 3600.0
	smoothS  = 300.0
	stepS    = 60.0
)

// Elapsed is a temperature so long after lighting, or after a pan was put in.
type Elapsed struct {
	S float64 `json:"s"`
	C float64 `json:"c"`
}

// Place is what a probe point of a pit measures.
type Place string

// The places.
const (
	Grate   Place = "grate"
	Dial    Place = "dial"     // in the lid
	WetBulb Place = "wet bulb" // a wetted wick
)

// Values lists the places.
func (Place) Values() []string { return []string{string(Grate), string(Dial), string(WetBulb)} }

// Trace is what one probe point read. Middle marks that of the middle of the grate.
type Trace struct {
	Point    string    `json:"point"`
	Place    Place     `json:"place"`
	Middle   bool      `json:"middle"`
	Readings []Elapsed `json:"readings"`
}

// Addition is fuel or wood put on.
type Addition struct {
	S      float64 `json:"s"`
	What   string  `json:"what"` // wood or fuel
	With   string  `json:"with"` // in the crew's words
	Pieces int     `json:"pieces"`
}

// Opening is a lid that was opened and shut.
type Opening struct {
	S     float64 `json:"s"`
	ShutS float64 `json:"shut_s"`
}

// Burn is one run of a pit without meat.
type Burn struct {
	SetC      float64    `json:"set_c"`
	BandC     float64    `json:"band_c"` // 0 is the usual
	Traces    []Trace    `json:"traces"`
	Additions []Addition `json:"additions"`
	Openings  []Opening  `json:"openings"`
	FuelKg    float64    `json:"fuel_kg"`      // burned: what went in less what was left; 0 is not known
	WaterKg   float64    `json:"water_kg"`     // gone from the pan; 0 is not known
	Pressure  float64    `json:"pressure_hpa"` // of the air; 0 is that at the sea
}

// Check refuses a burn that nothing can be told from.
func (b Burn) Check() error {
	var wrong fault.List
	if !(b.SetC >= 50 && b.SetC <= 400) {
		wrong.Add("set_c", fmt.Sprintf("%g C is no set point of a pit", b.SetC), "give 50 to 400 C")
	}
	if !(b.BandC >= 0 && b.BandC <= 50) {
		wrong.Add("band_c", fmt.Sprintf("%g C is no band", b.BandC), "give 0 to 50 C; 0 is the usual 15 F")
	}
	grates := 0
	for i, t := range b.Traces {
		if t.Place == Grate {
			grates++
		}
		at := fmt.Sprintf("traces[%d].readings", i)
		if len(t.Readings) < 2 {
			wrong.Add(at, fmt.Sprintf("%s has %d readings", t.Point, len(t.Readings)), "leave it out, or give what it read")
		}
		if !slices.IsSortedFunc(t.Readings, func(x, y Elapsed) int { return cmp.Compare(x.S, y.S) }) {
			wrong.Add(at, t.Point+" is not in the order of time", "sort its readings")
		}
		if slices.ContainsFunc(t.Readings, func(r Elapsed) bool { return !within(r.S) || !(r.C > -60 && r.C < 900) }) {
			wrong.Add(at, t.Point+" has a reading that no pit has", "give -60 to 900 C, at 0 to 48 h after lighting")
		}
	}
	for i, a := range b.Additions {
		if !within(a.S) {
			wrong.Add(fmt.Sprintf("additions[%d].s", i), "it is not in the burn", "give 0 to 48 h after lighting, in seconds")
		}
	}
	for i, o := range b.Openings {
		if !within(o.S) || !within(o.ShutS) || o.ShutS < o.S {
			wrong.Add(fmt.Sprintf("openings[%d].shut_s", i), "it is not shut after it was opened, in the burn",
				"give 0 to 48 h after lighting, in seconds")
		}
	}
	if !(b.FuelKg >= 0 && b.FuelKg < 1000) {
		wrong.Add("fuel_kg", fmt.Sprintf("%g kg is not burned in a pit", b.FuelKg), "give what went in less what was left, 0 to 1000 kg")
	}
	if !(b.WaterKg >= 0 && b.WaterKg < 1000) {
		wrong.Add("water_kg", fmt.Sprintf("%g kg does not go from a pan", b.WaterKg), "give what went in less what was left, 0 to 1000 kg")
	}
	if b.Pressure != 0 && !(b.Pressure >= 300 && b.Pressure <= 1200) {
		wrong.Add("pressure_hpa", fmt.Sprintf("%g hPa is no pressure of the air", b.Pressure), "give 300 to 1200 hPa, or 0 for that at the sea")
	}
	if grates == 0 {
		wrong.Add("traces", "nothing was read on the grate", "give a probe on the grate; the dial does not count for it")
	}
	return wrong.Err()
}

// within says whether a time is in any burn.
func within(s float64) bool { return s >= 0 && s <= longestS }

func (b Burn) band() float64 {
	if b.BandC > 0 {
		return b.BandC
	}
	return UsualBandC
}

// series is a trace by the minute, smoothed by the median of five; NaN where nothing was read.
type series struct {
	point  string
	place  Place
	middle bool
	c      []float64 // at 0, 60, 120 s ...
}

func smooth(t Trace) series {
	last := t.Readings[len(t.Readings)-1].S
	out := series{point: t.Point, place: t.Place, middle: t.Middle, c: make([]float64, int(last/stepS)+1)}
	lo, hi := 0, 0
	for i := range out.c {
		at := float64(i) * stepS
		for lo < len(t.Readings) && t.Readings[lo].S < at-smoothS/2 {
			lo++
		}
		for hi < len(t.Readings) && t.Readings[hi].S <= at+smoothS/2 {
			hi++
		}
		out.c[i] = math.NaN()
		if hi > lo {
			window := make([]float64, 0, hi-lo)
			for _, r := range t.Readings[lo:hi] {
				window = append(window, r.C)
			}
			out.c[i] = logbook.Median(window)
		}
	}
	return out
}

// Smoothed is a trace as it is read: by the minute, smoothed, thinned to at most so many.
func (t Trace) Smoothed(most int) (out []Elapsed) {
	s := smooth(t)
	every := (len(s.c) + most - 1) / most
	for m := 0; m < len(s.c); m += max(every, 1) {
		if !math.IsNaN(s.c[m]) {
			out = append(out, Elapsed{float64(m) * stepS, s.c[m]})
		}
	}
	return out
}

// at is the smoothed temperature in a minute; NaN is not read.
func (s series) at(minute int) float64 {
	if minute < 0 || minute >= len(s.c) {
		return math.NaN()
	}
	return s.c[minute]
}

// reaches is the first minute at or over c from a minute on; -1 is never.
func (s series) reaches(c float64, from int) int {
	for m := max(from, 0); m < len(s.c); m++ {
		if s.c[m] >= c {
			return m
		}
	}
	return -1
}

// highest and lowest are the first such minutes from one up to another, both counted; -1 where nothing was read.
func (s series) highest(from, to int) int {
	return s.best(from, to, func(a, b float64) bool { return a > b })
}
func (s series) lowest(from, to int) int {
	return s.best(from, to, func(a, b float64) bool { return a < b })
}
func (s series) best(from, to int, better func(a, b float64) bool) int {
	best := -1
	for m := max(from, 0); m <= min(to, len(s.c)-1); m++ {
		if !math.IsNaN(s.c[m]) && (best < 0 || better(s.c[m], s.c[best])) {
			best = m
		}
	}
	return best
}

// known are the temperatures that were read from one minute up to another, and when.
func (s series) known(from, to int) (hours, c []float64) {
	for m := max(from, 0); m <= min(to, len(s.c)-1); m++ {
		if !math.IsNaN(s.c[m]) {
			hours, c = append(hours, float64(m)/60), append(c, s.c[m])
		}
	}
	return hours, c
}

// Ran is how a probe point ran from its warm-up to the end of the span. What cannot be told is nil.
type Ran struct {
	Point     string   `json:"point"`
	Place     Place    `json:"place"`
	WarmMin   *float64 `json:"warm_up_min"` // to the band; nil: it never was
	MeanC     *float64 `json:"mean_c"`
	SDC       *float64 `json:"sd_c"`
	OffC      *float64 `json:"off_set_c"`
	InBand    *float64 `json:"share_in_band"`
	AboveMin  *float64 `json:"above_band_min"`
	DriftC    *float64 `json:"drift_c_per_h"`
	SwingC    *float64 `json:"largest_swing_c"`
	PeakC     *float64 `json:"peak_c"`
	PeakMin   *float64 `json:"peak_min"`
	Fall10C   *float64 `json:"fall_c_per_10_min"` // from the peak to the lowest after it, before more is put on
	Evenly    bool     `json:"within_5_f"`        // near enough to set for a cut
	LoadAbove *float64 `json:"load_above_band_low_min"`
}

// ran tells of a point from one minute to another.
func (b Burn) ran(s series, warm, from, to int) Ran {
	out := Ran{Point: s.point, Place: s.place}
	if warm >= 0 {
		out.WarmMin = ptr(float64(warm))
	}
	hours, c := s.known(from, to)
	if len(c) == 0 {
		return out
	}
	mean, low, high := stat.Mean(c, nil), b.SetC-b.band(), b.SetC+b.band()
	var within, above float64
	for _, v := range c {
		if v >= low && v <= high {
			within++
		}
		if v > high {
			above++
		}
	}
	out.MeanC, out.OffC = &mean, ptr(mean-b.SetC)
	out.InBand, out.AboveMin = ptr(within/float64(len(c))), ptr(above*stepS/60)
	out.SwingC = ptr(slices.Max(c) - slices.Min(c))
	out.Evenly = math.Abs(mean-b.SetC) <= AlikeC
	if len(c) > 2 {
		_, slope := stat.LinearRegression(hours, c, nil, false)
		out.SDC, out.DriftC = ptr(stat.StdDev(c, nil)), &slope
	}
	if p := s.highest(0, to); p >= 0 {
		out.PeakC, out.PeakMin = ptr(s.c[p]), ptr(float64(p))
		end := to
		for _, a := range b.Additions {
			if m := minute(a.S); m > p && m < end {
				end = m
			}
		}
		if l := s.lowest(p, end); l > p {
			out.Fall10C = ptr((s.c[p] - s.c[l]) / float64(l-p) * 10)
		}
	}
	// One load: from when it first was in the band to when it last was, with nothing put on.
	if len(b.Additions) == 0 && warm >= 0 {
		last := -1
		for m := warm; m <= to; m++ {
			if s.at(m) >= low {
				last = m
			}
		}
		if last >= 0 && last < to {
			out.LoadAbove = ptr(float64(last - warm))
		}
	}
	return out
}

func minute(s float64) int { return int(math.Ceil(s / stepS)) }

func ptr[T any](v T) *T { return &v }
