package pit

import (
	"fmt"
	"math"
	"strings"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
	"whitebarn/core/units"
	"whitebarn/core/words"
)

// SetUp is a way a pit is set up, with its burns.
type SetUp struct {
	Tag   string `json:"tag"`
	Burns []Burn `json:"burns"`
}

// Judged is what the burns of a set-up tell, and what it is good for.
type Judged struct {
	Tag     string   `json:"tag"`
	Told    []Told   `json:"told"`
	GoodFor string   `json:"good_for"`
	Why     string   `json:"why"`
	Uses    []string `json:"uses"` // keys: low, hot, many, line
}

// ComparedRow is one row of two set-ups side by side: means over their burns.
type ComparedRow struct {
	Key        string   `json:"key"`
	Name       string   `json:"name"`
	Unit       string   `json:"unit"` // min, dC, C, share, kg
	A          *float64 `json:"a"`
	B          *float64 `json:"b"`
	Difference *float64 `json:"difference"` // a less b
	Low        *float64 `json:"low_90"`     // of the difference; nil with one burn of each
	High       *float64 `json:"high_90"`
}

// Comparison is two set-ups at equal elapsed time.
type Comparison struct {
	A       Judged        `json:"a"`
	B       Judged        `json:"b"`
	SpanMin float64       `json:"span_min"` // after lighting, that all burns share
	Numbers []ComparedRow `json:"numbers"`
	Limits  []string      `json:"limits"`
}

// Headline says what each set-up is good for, in a sentence each.
func (c Comparison) Headline() string { return c.A.Sentence() + " " + c.B.Sentence() }

// Sentence is what the set-up is good for, with how soon it is hot and how evenly.
func (j Judged) Sentence() string {
	says := []string{j.GoodFor}
	if v, ok := mean(j.Told, func(t Told) *float64 { return t.WarmMin }); ok {
		says = append(says, fmt.Sprintf("hot in %.0f min", math.Round(v)))
	}
	if v, ok := mean(j.Told, func(t Told) *float64 { return t.SpreadC }); ok {
		says = append(says, fmt.Sprintf("{dC:%.1f} across", v))
	}
	return fmt.Sprintf("%s: %s.", j.Tag, strings.ToLower(says[0][:1])+says[0][1:]+strings.Join(append([]string{""}, says[1:]...), ", "))
}

// Alone is what one set-up tells by itself, over the time that all its burns share.
func Alone(s SetUp) (Judged, error) {
	span, err := spanOf(s)
	if err != nil {
		return Judged{}, err
	}
	return judge(s, span)
}

// CompareInput are two set-ups of a pit.
type CompareInput struct {
	A SetUp `json:"a"`
	B SetUp `json:"b"`
}

// CompareOf puts them side by side.
func CompareOf(in CompareInput) (Comparison, error) { return Compare(in.A, in.B) }

// Compare cuts all burns to the time they share and puts two set-ups side by side.
func Compare(a, b SetUp) (Comparison, error) {
	out := Comparison{Limits: []string{}}
	span, err := spanOf(a, b)
	if err != nil {
		return out, err
	}
	if out.A, err = judge(a, span); err != nil {
		return out, err
	}
	if out.B, err = judge(b, span); err != nil {
		return out, err
	}
	out.SpanMin = math.Floor(span / stepS)
	for _, row := range rows {
		out.Numbers = append(out.Numbers, row.of(out.A.Told, out.B.Told))
	}
	if len(a.Burns) == 1 || len(b.Burns) == 1 {
		out.Limits = append(out.Limits, fmt.Sprintf("One burn of %s: the day cannot be told apart from the set-up. Burn it again on another day.", alone(a, b)))
	}
	if a.Burns[0].SetC != b.Burns[0].SetC {
		out.Limits = append(out.Limits, "They were set to different temperatures: the set point cannot be told apart from the set-up.")
	}
	return out, nil
}

// spanOf is how long after lighting all burns of set-ups were read, s.
func spanOf(all ...SetUp) (float64, error) {
	span := math.Inf(1)
	for _, s := range all {
		if len(s.Burns) == 0 {
			return 0, fault.New("burns", "a set-up has no burn", "burn each at least once")
		}
		for _, burn := range s.Burns {
			if err := burn.Check(); err != nil {
				return 0, err
			}
			span = math.Min(span, burn.span())
		}
	}
	return span, nil
}

func alone(a, b SetUp) string {
	switch {
	case len(a.Burns) == 1 && len(b.Burns) == 1:
		return "each"
	case len(a.Burns) == 1:
		return a.Tag
	}
	return b.Tag
}

// span is how long after lighting every place of the grate was read, s.
func (b Burn) span() float64 {
	end := math.Inf(1)
	for _, t := range b.Traces {
		if t.Place == Grate {
			end = math.Min(end, t.Readings[len(t.Readings)-1].S)
		}
	}
	return end
}

// upTo leaves out what came after s. The weights burned are of the whole burn, and go.
func (b Burn) upTo(s float64) Burn {
	cut := b
	if b.span() > s {
		cut.FuelKg, cut.WaterKg = 0, 0
	}
	cut.Traces, cut.Additions, cut.Openings = nil, nil, nil
	for _, t := range b.Traces {
		n := 0
		for n < len(t.Readings) && t.Readings[n].S <= s {
			n++
		}
		if t.Readings = t.Readings[:n]; n >= 2 {
			cut.Traces = append(cut.Traces, t)
		}
	}
	for _, a := range b.Additions {
		if a.S <= s {
			cut.Additions = append(cut.Additions, a)
		}
	}
	for _, o := range b.Openings {
		if o.ShutS <= s {
			cut.Openings = append(cut.Openings, o)
		}
	}
	return cut
}

func judge(s SetUp, span float64) (Judged, error) {
	out := Judged{Tag: s.Tag}
	for _, b := range s.Burns {
		cut, err := Tell(b.upTo(span))
		if err != nil {
			return out, err
		}
		// How fast it burned is told of the whole burn.
		whole, err := Tell(b)
		if err != nil {
			return out, err
		}
		cut.FuelKgH, cut.WaterKgH = whole.FuelKgH, whole.WaterKgH
		out.Told = append(out.Told, cut)
	}
	out.GoodFor, out.Why, out.Uses = goodFor(s.Burns[0].SetC, out.Told)
	return out, nil
}

// row is a number that is read from a burn.
type row struct {
	key, name, unit string
	get             func(Told) *float64
}

func ofMiddle(get func(Ran) *float64) func(Told) *float64 {
	return func(t Told) *float64 {
		for _, r := range t.Points {
			if r.Point == t.Middle {
				return get(r)
			}
		}
		return nil
	}
}

var rows = []row{
	{"warm_up", "Warm-up, middle of the grate to the band", "min", func(t Told) *float64 { return t.WarmMin }},
	{"last_warm", "Warm-up, last place", "min", func(t Told) *float64 { return t.LastMin }},
	{"spread", "Spread over the places", "dC", func(t Told) *float64 { return t.SpreadC }},
	{"worst_spread", "Worst spread", "dC", func(t Told) *float64 { return t.WorstC }},
	{"in_band", "Share of time in the band", "share", ofMiddle(func(r Ran) *float64 { return r.InBand })},
	{"above", "Time over the band", "min", ofMiddle(func(r Ran) *float64 { return r.AboveMin })},
	{"dial", "Dial less grate", "dC", func(t Told) *float64 { return t.DialC }},
	{"peak", "Peak", "C", ofMiddle(func(r Ran) *float64 { return r.PeakC })},
	{"fall", "Fall in 10 min, after the peak", "dC", ofMiddle(func(r Ran) *float64 { return r.Fall10C })},
	{"refuel", "Refuel about every", "min", func(t Told) *float64 { return t.RefuelMin }},
	{"load", "One load keeps it in the band", "min", ofMiddle(func(r Ran) *float64 { return r.LoadAbove })},
	{"lid", "Back after the lid", "min", afterTheLid},
	{"fuel", "Fuel an hour", "kg", func(t Told) *float64 { return t.FuelKgH }},
	{"wet_bulb", "Wet bulb", "C", func(t Told) *float64 { return t.WetBulbC }},
	{"water", "Water gone an hour", "kg", func(t Told) *float64 { return t.WaterKgH }},
}

// afterTheLid is the mean time until the pit was back, of the lids after which it was.
func afterTheLid(t Told) *float64 {
	var each []float64
	for _, l := range t.Lids {
		if l.BackMin != nil {
			each = append(each, *l.BackMin)
		}
	}
	if len(each) == 0 {
		return nil
	}
	return ptr(stat.Mean(each, nil))
}

// of puts the means side by side, with the interval that Welch's t gives where both were burned twice.
func (r row) of(a, b []Told) ComparedRow {
	va, vb := gather(a, r.get), gather(b, r.get)
	n := ComparedRow{Key: r.key, Name: r.name, Unit: r.unit}
	if len(va) > 0 {
		n.A = ptr(stat.Mean(va, nil))
	}
	if len(vb) > 0 {
		n.B = ptr(stat.Mean(vb, nil))
	}
	if n.A == nil || n.B == nil {
		return n
	}
	d := *n.A - *n.B
	n.Difference = &d
	if len(va) < 2 || len(vb) < 2 {
		return n
	}
	ua, ub := stat.Variance(va, nil)/float64(len(va)), stat.Variance(vb, nil)/float64(len(vb))
	if ua+ub == 0 {
		return n // burns that agree to the reading do not tell how far burns differ
	}
	df := (ua + ub) * (ua + ub) / (ua*ua/float64(len(va)-1) + ub*ub/float64(len(vb)-1))
	half := math.Sqrt(ua+ub) * distuv.StudentsT{Mu: 0, Sigma: 1, Nu: df}.Quantile(0.95)
	n.Low, n.High = ptr(d-half), ptr(d+half)
	return n
}

func gather(told []Told, get func(Told) *float64) (out []float64) {
	for _, t := range told {
		if v := get(t); v != nil {
			out = append(out, *v)
		}
	}
	return out
}

func mean(told []Told, get func(Told) *float64) (float64, bool) {
	v := gather(told, get)
	if len(v) == 0 {
		return 0, false
	}
	return stat.Mean(v, nil), true
}

// What a set-up is good for (ours): it is steady when it is in the band this share of the
// time; places are even when they differ by less than this; from a set point on it is hot.
const (
	steadyShare = 0.8
	evenC       = 15 / 1.8
)

var hotC = units.FToC(300)

// useWords are what a set-up can be good for; places that lie far apart leave one line of
// pieces that has the same heat.
var useWords = map[string]string{"many": "many pieces evenly", "low": "low and slow", "hot": "hot and fast", "line": "one line of pieces"}

// goodFor says it in a line, with the numbers that say so. Temperatures stand in {dC:} and
// {C:} for the reader's own unit.
func goodFor(setC float64, told []Told) (line, why string, uses []string) {
	in, _ := mean(told, ofMiddle(func(r Ran) *float64 { return r.InBand }))
	spread, spreadKnown := mean(told, func(t Told) *float64 { return t.SpreadC })
	peak, _ := mean(told, ofMiddle(func(r Ran) *float64 { return r.PeakC }))
	warm, isWarm := mean(told, func(t Told) *float64 { return t.WarmMin })
	if !isWarm {
		return "Not for this set point", fmt.Sprintf("It did not come to %s.", heat(setC)), nil
	}
	steady, even := in >= steadyShare, spreadKnown && spread <= evenC
	if even {
		uses = append(uses, "many")
	}
	if steady && setC < hotC {
		uses = append(uses, "low")
	}
	if setC >= hotC || peak >= hotC || (!steady && warm <= 30) {
		uses = append(uses, "hot")
	}
	if len(uses) > 0 && spreadKnown && !even {
		uses = append(uses, "line")
	}
	var said []string
	for _, u := range uses {
		said = append(said, useWords[u])
	}
	line = "Nothing in particular"
	if len(said) > 0 {
		line = words.Capital(strings.Join(said, ", "))
	}
	because := []string{fmt.Sprintf("hot in %.0f min", math.Round(warm)), fmt.Sprintf("%.0f %% of the time in the band", 100*in)}
	if spreadKnown {
		because = append(because, fmt.Sprintf("{dC:%.1f} across the grate", spread))
	}
	first := told[0]
	because = append(because, fmt.Sprintf("%d of %s within {dC:%.1f} of set", first.Alike, words.Plural(first.Places, "place"), AlikeC))
	return line, words.Capital(strings.Join(because, ", ")) + ".", uses
}

func heat(c float64) string { return fmt.Sprintf("{C:%.1f}", c) }
