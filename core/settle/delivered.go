package settle

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/trial"
)

// Fact is something that was done to a cut, or happened to it, as the record has it.
type Fact string

// The facts of delivery.
const (
	PitHeat     Fact = "pit_heat"      // mean of its pit where it lay, from on to the pull, C
	Spritzes    Fact = "spritzes"      // count
	WrapLiquid  Fact = "wrap_liquid"   // g in the wrap, of liquid, fat and what else was put in
	CoreAtPull  Fact = "core_at_pull"  // C
	HoldHours   Fact = "hold_hours"    // in a holder
	RestHours   Fact = "rest_hours"    // from the pull to the knife, without the hold
	ServingAge  Fact = "serving_age"   // h from the pull to the table
	WoodPieces  Fact = "wood_pieces"   // put on in its pit while it was on
	WaterFills  Fact = "water_fills"   // times water was given to its pit while it was on
	LidOpenings Fact = "lid_openings"  // of its pit while it was on
	FridgeToPit Fact = "fridge_to_pit" // minutes out of the fridge before it went on
	Air         Fact = "air"           // C, as noted while it was on
	WetBulb     Fact = "wet_bulb"      // C, in its pit while it lay bare, else wrapped
	Smoked      Fact = "smoked"        // h from on to the pull
)

// factRow is what the rules know of a fact: what is more of it is said as, how far arms
// may differ, and which roles make a difference part of what is asked about.
type factRow struct {
	fact      Fact
	name      string // "%s's pit ran hotter by %s"
	more      string // arm, then the gap
	unit      string // "dC", "h", "min", "g" or "" for a count
	tolerance float64
	why       string // of the tolerance
	roles     []trial.Role
	promise   []trial.Role // held equal under these names
}

// facts is the table of delivery. Tolerances are ours.
var facts = []factRow{
	{PitHeat, "Pit, mean", "%s's pit ran hotter by %s", "dC", pitGateC, "5 F, what two good thermometers differ by",
		[]trial.Role{trial.PitTemperature, trial.SmokerSetUp, trial.WaterPan, trial.FuelKind, trial.Lighting}, []trial.Role{trial.PitTemperature}},
	{Smoked, "On the fire", "%s was on the fire longer by %s", "h", math.Inf(1), "an outcome of its own", nil, nil},
	{CoreAtPull, "Core at the pull", "%s was pulled hotter by %s", "dC", 5 / 1.8, "5 F, a probe moved by an inch",
		[]trial.Role{trial.PullTemperature, trial.Finish}, []trial.Role{trial.PullTemperature, trial.Finish}},
	{Spritzes, "Spritzes", "%s was spritzed more often by %s", "", 1, "one in a cook", []trial.Role{trial.Spritz, trial.Mop, trial.Wrap,
		trial.WrapWhen}, []trial.Role{trial.Spritz}},
	{WrapLiquid, "Put into the wrap", "%s had more put into the wrap by %s", "g", 30, "two spoons",
		[]trial.Role{trial.Wrap, trial.WrapLiquid}, []trial.Role{trial.WrapLiquid}},
	{HoldHours, "Hold", "%s was held longer by %s", "h", 0.5, "half an hour", []trial.Role{trial.HoldTime, trial.HolderKind,
		trial.HoldTemperature, trial.Finish}, []trial.Role{trial.HoldTime}},
	{RestHours, "Rest", "%s rested longer by %s", "h", 0.25, "a quarter of an hour", []trial.Role{trial.RestTime, trial.HoldTime}, []trial.Role{trial.RestTime}},
	{ServingAge, "Pull to the table", "%s came to the table older by %s", "h", 0.5, "half an hour", []trial.Role{trial.ServingAge, trial.HoldTime, trial.RestTime},
		[]trial.Role{trial.ServingAge}},
	{WoodPieces, "Wood put on", "%s got more wood by %s", "", 2, "two pieces in a cook",
		[]trial.Role{trial.Wood, trial.WoodForm, trial.WoodAmount, trial.FuelKind, trial.SmokerSetUp},
		[]trial.Role{trial.Wood, trial.WoodAmount}},
	{WaterFills, "Water given", "%s's pit was given water more often by %s", "", 1, "once in a cook",
		[]trial.Role{trial.WaterPan, trial.SmokerSetUp}, []trial.Role{trial.WaterPan}},
	{LidOpenings, "Lid opened", "%s's lid was opened more often by %s", "", 3, "three times in a cook", []trial.Role{trial.Spritz, trial.Mop}, nil},
	{FridgeToPit, "Out of the fridge", "%s stood out of the fridge longer by %s", "min", 20, "twenty minutes", nil, nil},
	{WetBulb, "Wet bulb in the pit", "%s's pit was wetter: its wet bulb read higher by %s", "dC", 3,
		"what a wick that dries by half reads off",
		[]trial.Role{trial.WaterPan, trial.SmokerSetUp, trial.PitTemperature}, []trial.Role{trial.WaterPan}},
	{Air, "Air", "%s cooked in warmer air by %s", "dC", 8, "a change of weather", nil, nil},
}

// Allowed is how far apart arms may be in something that is measured in hours.
func Allowed(f Fact) time.Duration {
	return time.Duration(rowOf(f).tolerance * float64(time.Hour))
}

func rowOf(f Fact) factRow {
	return facts[slices.IndexFunc(facts, func(r factRow) bool { return r.fact == f })]
}

// DeliveredFact is what each arm was given of one thing: means over the cuts that count, nil
// where it is not on record.
type DeliveredFact struct {
	Fact      Fact       `json:"fact"`
	Name      string     `json:"name"`
	Unit      string     `json:"unit"` // C, h, min, g or nothing for a count
	Values    []*float64 `json:"values"`
	Tolerance float64    `json:"tolerance"` // 0: nothing is asked of it
	Apart     bool       `json:"apart"`     // beyond it, and not what was varied
	Promised  bool       `json:"promised"`  // and it was to be held equal
}

// shownUnit is what a fact's value is in, by what its difference is said in.
var shownUnit = map[string]string{"dC": "C"}

// delivered compares what the arms were given.
func (t Trial) delivered() []DeliveredFact {
	out := []DeliveredFact{}
	for _, row := range facts {
		d := DeliveredFact{Fact: row.fact, Name: row.name, Unit: row.unit, Values: make([]*float64, len(t.Ask.Arms))}
		if shown, ok := shownUnit[row.unit]; ok {
			d.Unit = shown
		}
		if !math.IsInf(row.tolerance, 1) {
			d.Tolerance = row.tolerance
		}
		known := false
		for arm := range t.Ask.Arms {
			if d.Values[arm] = t.armFact(arm, row.fact); d.Values[arm] != nil {
				known = true
			}
		}
		if !known {
			continue
		}
		for a := range t.Ask.Arms {
			for b := a + 1; b < len(t.Ask.Arms); b++ {
				if gap, ok := d.gap(a, b); ok && math.Abs(gap) > row.tolerance && !t.varied(a, b, row.roles) {
					d.Apart = true
				}
			}
		}
		d.Promised = d.Apart && slices.ContainsFunc(t.Ask.Held, func(h trial.Held) bool { return h.Role != "" && slices.Contains(row.promise, h.Role) })
		out = append(out, d)
	}
	return out
}

// gap is what the first of two arms got more than the second.
func (d DeliveredFact) gap(a, b int) (float64, bool) {
	if d.Values[a] == nil || d.Values[b] == nil {
		return 0, false
	}
	return *d.Values[a] - *d.Values[b], true
}

// varied says whether two arms differ in one of some roles: then a difference of what was
// delivered is what was asked about, or follows from it.
func (t Trial) varied(a, b int, roles []trial.Role) bool {
	for i, f := range t.Ask.Factors {
		if slices.Contains(roles, f.Role) && !f.Same(t.Ask.Arms[a].Levels[i], t.Ask.Arms[b].Levels[i]) {
			return true
		}
	}
	return false
}

// armFact is the mean of a fact over an arm's cuts that count.
func (t Trial) armFact(arm int, f Fact) *float64 {
	sum, n := 0.0, 0
	for _, c := range t.Cuts {
		if v, ok := c.Facts[f]; ok && c.MayCount && c.Arm == arm {
			sum, n = sum+v, n+1
		}
	}
	if n == 0 {
		return nil
	}
	sum /= float64(n)
	return &sum
}

// said is a difference in its unit, for the reader's units.
func (r factRow) said(gap float64) string {
	switch r.unit {
	case "dC":
		return fmt.Sprintf("{dC:%.2f}", gap)
	case "h":
		return fmt.Sprintf("%.1f h", gap)
	case "min":
		return fmt.Sprintf("%.0f min", gap)
	case "g":
		return fmt.Sprintf("%.0f g", gap)
	}
	return fmt.Sprintf("%.1f", gap)
}

// factsOf reads what was done to a cut off the record.
func factsOf(t evidence.Trial, c evidence.Cut) map[Fact]float64 {
	out := map[Fact]float64{}
	_, pull, ok := c.Cooked()
	if !ok {
		return out
	}
	out[Smoked] = c.OnFire(pull).Hours()
	out[Spritzes] = float64(c.Count(logbook.Spritz, pull))
	out[FridgeToPit] = c.Out().Minutes()
	if c.Heat.MeanC != nil {
		out[PitHeat] = *c.Heat.MeanC
	}
	if wet := c.WetBulb(); wet != nil {
		out[WetBulb] = *wet
	}
	wrapped := false
	for _, a := range c.Acts {
		switch {
		case a.Act == logbook.Wrap && !a.At.After(pull):
			wrapped = true
			out[WrapLiquid] += logbook.ParcelG(a.Detail.Parcel)
		case a.Act == logbook.Probe && a.Detail.C != nil && math.Abs(a.At.Sub(pull).Minutes()) <= 20:
			if was, ok := out[CoreAtPull]; !ok || *a.Detail.C < was {
				out[CoreAtPull] = *a.Detail.C // the coldest that was read about the pull
			}
		}
	}
	if !wrapped {
		out[WrapLiquid] = 0
	}
	ofPit(t, c, out)
	if carved, ok := c.Carved(); ok && carved.After(pull) {
		held := c.Held(carved).Hours()
		out[HoldHours] = held
		out[RestHours] = math.Max(0, carved.Sub(pull).Hours()-held)
	}
	if !c.Served.IsZero() {
		if age, ok := c.ServingAge(c.Served); ok {
			out[ServingAge] = age.Hours()
		}
	}
	return out
}

// ofPit adds what was done to the pit while a cut was in it, and to the weather.
func ofPit(t evidence.Trial, c evidence.Cut, out map[Fact]float64) {
	on, pull, _ := c.Cooked()
	lay, in := c.Lies()
	parts := t.OnPits(c, pull)
	if in {
		out[WoodPieces], out[WaterFills], out[LidOpenings] = 0, 0, 0
	}
	air, notes := 0.0, 0.0
	for _, a := range t.Acts {
		if a.At.Before(on) || a.At.After(pull) {
			continue
		}
		if a.Detail.AirC != nil && (a.CookID == 0 || a.CookID == lay.CookID) {
			air, notes = air+*a.Detail.AirC, notes+1
		}
		if a.PitRunID == 0 || !slices.ContainsFunc(parts, func(p evidence.Part) bool {
			return p.Run.ID == a.PitRunID && !a.At.Before(p.From) &&
				!a.At.After(p.To)
		}) {
			continue
		}
		switch a.Act {
		case logbook.Wood:
			out[WoodPieces] += float64(max(1, a.Detail.Pieces))
		case logbook.Water:
			out[WaterFills]++
		case logbook.Lid:
			out[LidOpenings]++
		}
	}
	if notes > 0 {
		out[Air] = air / notes
	}
}
