package pit

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/humidity"
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
	WetBulbC  *float64   `json:"wet_bulb_c"` // mean, at the moments that the middle was read too
	RH        *float64   `json:"rh"`         // 0 to 1, of the mean; an upper bound in still air
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
		if s.place == WetBulb {
			continue // it is no temperature of the pit
		}
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
	if off, ok := meanOf(all, Dial, middle, from, end, func(dial, grate float64) float64 { return dial - grate }); ok {
		out.DialC = &off
	}
	out.humid(b, all, middle, from, end)
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

// meanOf is the mean, over the minutes in which the probe of a place and the middle were both
// read, of what the two say together.
func meanOf(all []series, of Place, middle series, from, to int, say func(v, middle float64) float64) (float64, bool) {
	i := slices.IndexFunc(all, func(s series) bool { return s.place == of })
	if i < 0 {
		return 0, false
	}
	var each []float64
	for m := from; m <= to; m++ {
		if v := say(all[i].at(m), middle.at(m)); !math.IsNaN(v) {
			each = append(each, v)
		}
	}
	return stat.Mean(each, nil), len(each) > 0
}

// seaPa is the usual pressure at the sea.
const seaPa = 101325.0

// humid is told from the means of both bulbs over the same minutes.
func (t *Told) humid(b Burn, all []series, middle series, from, to int) {
	both := func(v, other float64) float64 { return v + 0*other } // NaN where either was not read
	wet, ok := meanOf(all, WetBulb, middle, from, to, both)
	if !ok {
		return
	}
	dry, _ := meanOf(all, WetBulb, middle, from, to, func(v, grate float64) float64 { return grate + 0*v })
	t.WetBulbC = &wet
	if air, err := humidity.OfBulbs(dry, wet, cmp.Or(100*b.Pressure, seaPa)); err == nil {
		t.RH = &air.RH
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

// Lead is how long before it is needed a pit is lit, by the slowest of its burns, min.
func Lead(burns []Told) *float64 {
	var longest *float64
	for _, b := range burns {
		if b.LeadMin != nil && (longest == nil || *b.LeadMin > *longest) {
			longest = b.LeadMin
		}
	}
	return longest
}

// Refuel is how often fuel is put on, by the middle of what the burns say, min.
func Refuel(burns []Told) *float64 {
	var each []float64
	for _, b := range burns {
		if b.RefuelMin != nil {
			each = append(each, *b.RefuelMin)
		}
	}
	if len(each) == 0 {
		return nil
	}
	return ptr(logbook.Median(each))
}
