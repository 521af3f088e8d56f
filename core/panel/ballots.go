package panel

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/verdict"
)

// Score is what one taster gave one sample of one cut on one attribute. Flight groups the
// samples that were served together; Place is where on the piece the sample is from.
type Score struct {
	Taster, Cut, Flight string
	Arm                 int
	Value               float64
	Place               string
	Position            int  // on the taster's plate, from 1; 0 is not known
	Open                bool // the taster knew what it was
	BySight             bool // it looked like what it is
}

// CutMean is a cut's mean over tasters and places, and how many ballots are behind it.
type CutMean struct {
	Value   float64
	Ballots int
}

// CutMeans is each cut's mean over places and tasters, adjusted for who tasted it, when
// and where: the least squares of score ~ cut + place + taster in a flight, over all that
// hangs together by its tasters. A cut that was served twice counts all its samples once,
// in whatever order they come.
func CutMeans(scores []Score) map[string]CutMean {
	out := map[string]CutMean{}
	for _, together := range islands(scores) {
		fit(together, out)
	}
	return out
}

// fit adds the means of what was tasted together.
func fit(scores []Score, out map[string]CutMean) {
	cuts, places, seats := map[string]int{}, map[string]int{}, map[string]int{}
	y := make([]float64, len(scores))
	var cut, place, seat []int
	plain := map[string][]float64{}
	for i, s := range scores {
		y[i] = s.Value
		cut = append(cut, number(cuts, s.Cut))
		place = append(place, number(places, s.Place))
		seat = append(seat, number(seats, s.seat()))
		plain[s.Cut] = append(plain[s.Cut], s.Value)
	}
	terms := []verdict.Term{{Levels: cut, N: len(cuts)}, {Levels: place, N: len(places)}, {Levels: seat, N: len(seats)}}
	// A place that only some cuts have cannot be told from them: it is left in their means.
	without := []verdict.Term{terms[0], terms[2]}
	whole, less := verdict.FitTerms(y, terms...), verdict.FitTerms(y, without...)
	for name, i := range cuts {
		mean, ok := whole.MeanOf(i, terms...)
		if !ok {
			mean, ok = less.MeanOf(i, without...)
		}
		if !ok {
			mean = stat.Mean(plain[name], nil)
		}
		out[name] = CutMean{mean, len(plain[name])}
	}
}

// seat is a taster in a flight.
func (s Score) seat() string { return s.Flight + "\x00" + s.Taster }

// islands are the scores that hang together by cuts and tasters, each in one order.
func islands(scores []Score) [][]Score {
	sorted := slices.Clone(scores)
	slices.SortStableFunc(sorted, func(a, b Score) int {
		return cmp.Or(cmp.Compare(a.Flight, b.Flight), cmp.Compare(a.Taster, b.Taster), cmp.Compare(a.Cut, b.Cut), cmp.Compare(a.Place, b.Place),
			cmp.Compare(a.Value, b.Value))
	})
	parent := map[string]string{}
	var root func(string) string
	root = func(k string) string {
		if p, ok := parent[k]; ok && p != k {
			parent[k] = root(p)
			return parent[k]
		}
		parent[k] = k
		return k
	}
	for _, s := range sorted {
		parent[root("cut "+s.Cut)] = root("seat " + s.seat())
	}
	var out [][]Score
	at := map[string]int{}
	for _, s := range sorted {
		r := root("cut " + s.Cut)
		if _, ok := at[r]; !ok {
			at[r] = len(out)
			out = append(out, nil)
		}
		out[at[r]] = append(out[at[r]], s)
	}
	return out
}

// TasterMean is what one taster gave one arm, equal weight to each cut and place, over so
// many samples.
type TasterMean struct {
	Taster  string
	Arm     int
	Value   float64
	Samples int
}

// TasterMeans is each taster's mean of each arm, for the question whether the panel told
// these pieces apart. They come by taster, then arm.
func TasterMeans(scores []Score) []TasterMean {
	type sample struct {
		taster     string
		arm        int
		cut, place string
	}
	values := map[sample][]float64{}
	for _, s := range scores {
		k := sample{s.Taster, s.Arm, s.Cut, s.Place}
		values[k] = append(values[k], s.Value)
	}
	keys := make([]sample, 0, len(values))
	for k := range values {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(a, b sample) int {
		return cmp.Or(cmp.Compare(a.taster, b.taster), cmp.Compare(a.arm, b.arm), cmp.Compare(a.cut, b.cut), cmp.Compare(a.place, b.place))
	})
	var out []TasterMean
	for _, k := range keys {
		if n := len(out); n == 0 || out[n-1].Taster != k.taster || out[n-1].Arm != k.arm {
			out = append(out, TasterMean{Taster: k.taster, Arm: k.arm})
		}
		m := &out[len(out)-1]
		m.Value = (m.Value*float64(m.Samples) + stat.Mean(values[k], nil)) / float64(m.Samples+1)
		m.Samples++
	}
	return out
}

// Parting is how far tasters part on two arms, beyond what their scores scatter: the
// components of the variance of their mean contrast. They come as the variance of the
// tasters' own contrasts and, taken off, what of it the scatter within a taster and arm
// explains; where nothing tells the scatter, nothing is taken off. Nil where fewer than two
// tasters had both.
func Parting(scores []Score, a, b int) []verdict.Component {
	means := map[string][2]*TasterMean{}
	for _, m := range TasterMeans(scores) {
		if i := slices.Index([]int{a, b}, m.Arm); i >= 0 {
			pair := means[m.Taster]
			pair[i] = &m
			means[m.Taster] = pair
		}
	}
	var contrasts []float64
	samples := 0.0 // mean of 1/n of the one arm + 1/n of the other
	for _, name := range slices.Sorted(maps.Keys(means)) {
		if pair := means[name]; pair[0] != nil && pair[1] != nil {
			contrasts = append(contrasts, pair[0].Value-pair[1].Value)
			samples += 1/float64(pair[0].Samples) + 1/float64(pair[1].Samples)
		}
	}
	m := float64(len(contrasts))
	if m < 2 {
		return nil
	}
	out := []verdict.Component{{Value: stat.Variance(contrasts, nil) / m, DF: m - 1}}
	if ms, df := scatter(scores); df > 0 {
		out = append(out, verdict.Component{Value: -ms * samples / (m * m), DF: float64(df)})
	}
	return out
}

// scatter is the mean square of scores within a taster and arm, cuts taken off.
func scatter(scores []Score) (ms float64, df int) {
	cuts, cells := map[string]int{}, map[string]int{}
	y := make([]float64, len(scores))
	var cut, cell []int
	for i, s := range scores {
		y[i] = s.Value
		cut = append(cut, number(cuts, s.Cut))
		cell = append(cell, number(cells, fmt.Sprintf("%s\x00%d", s.Taster, s.Arm)))
	}
	fit := verdict.FitTerms(y, verdict.Term{Levels: cut, N: len(cuts)}, verdict.Term{Levels: cell, N: len(cells)})
	return fit.MS, fit.DF
}

func number(of map[string]int, name string) int {
	n, ok := of[name]
	if !ok {
		n = len(of)
		of[name] = n
	}
	return n
}
