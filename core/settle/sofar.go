package settle

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/evidence"
	"whitebarn/core/humidity"
	"whitebarn/core/trial"
)

// SoFar is what an arm of a cook under way was given up to now. Means are over
// its cuts; a nil was not measured.
type SoFar struct {
	Arm      int        `json:"arm"`
	Cuts     int        `json:"cuts"`
	Hours    float64    `json:"hours"` // on the fire
	SetC     float64    `json:"set_c"`
	MeanC    *float64   `json:"mean_c"`
	LastC    *float64   `json:"last_c"` // mean of the last hour
	Spritzes float64    `json:"spritzes"`
	HandsMin float64    `json:"hands_min"` // of all its cuts together
	NightMin float64    `json:"night_min"`
	Air      []AirSoFar `json:"air"` // where a wet bulb was read
}

// AirSoFar is how wet the air of an arm's pits was over a stretch of its time on the fire.
type AirSoFar struct {
	Stretch string   `json:"stretch"` // bare or wrapped
	WetC    float64  `json:"wet_bulb_c"`
	RH      *float64 `json:"rh"` // at most, 0 to 1; nil: no dry bulb beside it
}

// AirsOf are the means over the cuts of an arm, under a pressure in Pa.
func AirsOf(cuts []evidence.Cut, pa float64) []AirSoFar {
	out := []AirSoFar{}
	for _, name := range []string{evidence.Bare, evidence.Wrapped} {
		var wet, dry []float64
		for _, c := range cuts {
			for _, a := range c.Air {
				if a.Stretch != name || a.WetC == nil {
					continue
				}
				wet = append(wet, *a.WetC)
				if a.DryC != nil {
					dry = append(dry, *a.DryC)
				}
			}
		}
		if len(wet) == 0 {
			continue
		}
		s := AirSoFar{Stretch: name, WetC: stat.Mean(wet, nil)}
		if len(dry) == len(wet) {
			if air, err := humidity.OfBulbs(stat.Mean(dry, nil), s.WetC, pa); err == nil {
				s.RH = &air.RH
			}
		}
		out = append(out, s)
	}
	return out
}

// Uneven says which arms are being given another heat than the others, against
// what was planned for each, while it can still be mended. Pits that are what is
// varied are held against their own set points too. The gate is that of the verdict.
func Uneven(a trial.Ask, arms []SoFar) []string {
	out := []string{}
	for i, p := range arms {
		for _, q := range arms[i+1:] {
			if p.MeanC == nil || q.MeanC == nil {
				continue
			}
			if s := uneven(a, p, q); s != "" {
				out = append(out, s)
			}
		}
	}
	return out
}

func uneven(a trial.Ask, p, q SoFar) string {
	over := func(v *float64, s SoFar) float64 { return *v - s.SetC }
	gap := over(p.MeanC, p) - over(q.MeanC, q)
	last := gap
	if p.LastC != nil && q.LastC != nil {
		last = over(p.LastC, p) - over(q.LastC, q)
	}
	name := func(gap float64) (string, string) {
		if gap < 0 {
			return a.Arms[q.Arm].Tag, a.Arms[p.Arm].Tag
		}
		return a.Arms[p.Arm].Tag, a.Arms[q.Arm].Tag
	}
	const mend = "Swap their places, or bring the pits together."
	switch hot, cool := name(gap); {
	case math.Abs(gap) > pitGateC && math.Abs(last) > pitGateC && (gap > 0) == (last > 0):
		return fmt.Sprintf("%s has had {dC:%.2f} more heat than %s, and still has. Pit heat and %s could not be told apart. %s", hot, math.Abs(gap), cool, a.Varied(p.Arm, q.Arm), mend)
	case math.Abs(gap) > pitGateC:
		return fmt.Sprintf("%s has had {dC:%.2f} more heat than %s so far; in the last hour they were alike. Keep it so.", hot, math.Abs(gap), cool)
	}
	if hot, cool := name(last); math.Abs(last) > pitGateC {
		return fmt.Sprintf("In the last hour %s ran {dC:%.2f} hotter than %s; over the whole cook they are still alike. %s", hot, math.Abs(last), cool, mend)
	}
	return ""
}
