package pit

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/logbook"
)

// Told is all that a burn tells. What cannot be told is nil.
type Told struct {
	FromMin   float64    `json:"from_min"` // the span that is judged: all points warm, to the first that ends
	ToMin     float64    `json:"to_min"`
	Middle    string     `json:"middle"` // the point that stands for the grate
	WarmMin   *float64   `json:"warm_up_min"`
	LastMin   *float64   `json:"last_place_warm_min"`
	LeadMin   *float64   `json:"plan_lead_min"` // warm-up and ten minutes, up to the next five (ours)
	Points    []Ran      `json:"points"`
	SpreadC   *float64   `json:"spread_c"` // hottest less coldest place at the same moment, mean
	WorstC    *float64   `json:"worst_spread_c"`
	DialC     *float64   `json:"dial_minus_grate_c"`
	Responses []Response `json:"responses"`
	Lids      []Recovery `json:"lids"`
	RefuelMin *float64   `json:"refuel_min"`
	FuelKgH   *float64   `json:"fuel_kg_per_h"`
	WaterKgH  *float64   `json:"water_kg_per_h"`
	Alike     int        `json:"places_within_5_f"`
	Places    int        `json:"places"`
}

// Tell reads a burn. The error is that of Check.
func Tell(b Burn) (Told, error) {
	if err := b.Check(); err != nil {
		return Told{}, err
	}
	all := make([]series, len(b.Traces))
	var grates []series
	end := math.MaxInt
	for i, t := range b.Traces {
		all[i] = smooth(t)
		if t.Place == Grate {
			grates = append(grates, all[i])
			end = min(end, len(all[i].c)-1)
		}
	}
	low := b.SetC - b.band()
	middle := b.middle(grates)
	out := Told{Middle: middle.point, ToMin: float64(end), Places: len(grates)}
	warm := middle.reaches(low, 0)
	if warm > end {
		warm = -1
	}
	from, everyWarm := 0, true
	for _, g := range grates {
		m := g.reaches(low, 0)
		if m < 0 || m > end {
			everyWarm = false
			continue
		}
		from = max(from, m)
	}
	if warm >= 0 {
		out.WarmMin = ptr(float64(warm))
		out.LeadMin = ptr(5 * math.Ceil((float64(warm)+10)/5))
	}
	if everyWarm {
		out.LastMin = ptr(float64(from))
	} else {
		// A place that never warms must not hide what the others do: it is judged from the middle on.
		from = max(warm, 0)
	}
	out.FromMin = float64(from)
	for _, s := range all {
		own := s.reaches(low, 0)
		if own > end {
			own = -1
		}
		r := b.ran(s, own, from, end)
		if r.Evenly && s.place == Grate {
			out.Alike++
		}
		out.Points = append(out.Points, r)
	}
	out.spread(grates, from, end)
	out.dial(all, middle, from, end)
	out.Responses = b.responses(middle, warm, end)
	out.Lids = b.recoveries(middle, end)
	out.refuel(b, middle, warm, end)
	if hours := float64(end) / 60; hours > 0 {
		if b.FuelKg > 0 {
			out.FuelKgH = ptr(b.FuelKg / hours)
		}
		if b.WaterKg > 0 {
			out.WaterKgH = ptr(b.WaterKg / hours)
		}
	}
	return out, nil
}

// middle is the point that is marked so, else the one nearest to the mean of all of them.
func (b Burn) middle(grates []series) series {
	if i := slices.IndexFunc(grates, func(s series) bool { return s.middle }); i >= 0 {
		return grates[i]
	}
	means := make([]float64, len(grates))
	for i, g := range grates {
		_, c := g.known(0, len(g.c)-1)
		means[i] = stat.Mean(c, nil)
	}
	centre, best := stat.Mean(means, nil), 0
	for i, m := range means {
		if math.Abs(m-centre) < math.Abs(means[best]-centre) {
			best = i
		}
	}
	return grates[best]
}

// spread is told each minute that every place was read.
func (t *Told) spread(grates []series, from, to int) {
	if len(grates) < 2 {
		return
	}
	var each []float64
	for m := from; m <= to; m++ {
		low, high := math.Inf(1), math.Inf(-1)
		for _, g := range grates {
			low, high = math.Min(low, g.at(m)), math.Max(high, g.at(m))
		}
		if !math.IsNaN(high - low) {
			each = append(each, high-low)
		}
	}
	if len(each) > 0 {
		t.SpreadC, t.WorstC = ptr(stat.Mean(each, nil)), ptr(slices.Max(each))
	}
}

func (t *Told) dial(all []series, middle series, from, to int) {
	i := slices.IndexFunc(all, func(s series) bool { return s.place == Dial })
	if i < 0 {
		return
	}
	var off []float64
	for m := from; m <= to; m++ {
		if d := all[i].at(m) - middle.at(m); !math.IsNaN(d) {
			off = append(off, d)
		}
	}
	if len(off) > 0 {
		t.DialC = ptr(stat.Mean(off, nil))
	}
}

// refuel is how often: as long as the additions held it that were seen to come back, in the
// middle; else as long as one load kept the band. One that moved it by less than 5 F is not
// told apart from the pit's own swing (ours).
func (t *Told) refuel(b Burn, middle series, warm, to int) {
	var held []float64
	for _, r := range t.Responses {
		if r.HeldMin != nil && *r.RiseC >= AlikeC {
			held = append(held, *r.HeldMin)
		}
	}
	if len(held) > 0 {
		t.RefuelMin = ptr(logbook.Median(held))
		return
	}
	t.RefuelMin = b.ran(middle, warm, max(warm, 0), to).LoadAbove
}
