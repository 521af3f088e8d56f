// Package practice lets a rehearsal be tasted to its verdict: tasters that are simulated from
// what the cook model says a cut became, with the truth hidden until the end.
package practice

import (
	"math"
	"math/rand/v2"

	"whitebarn/core/panel"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/trial"
)

// Truth is what an arm really is on each outcome, in the outcome's unit.
type Truth map[trial.OutcomeKey]float64

// saltWanted is the salt that most like, as a share of the meat (ours).
const saltWanted = 0.012

// TruthOf turns what the cook model says of an arm into what a panel of many would score. The
// maps are ours: tender at an index of 1 is 6, and levels off; juice falls a point with
// each twelfth of the water; a set bark is 7.
func TruthOf(f plan.Foreseen, doses []prep.Dose) Truth {
	salt := 0.0
	for _, d := range doses {
		switch d.Kind {
		case prep.DrySalt, prep.WetBrine:
			salt += d.Share
		case prep.Injection:
			salt += d.Share * d.Strength
		}
	}
	t := Truth{
		trial.Tenderness:  nine(6 + 2.2*math.Log(math.Max(f.Tender, 0.05))),
		trial.Juiciness:   nine(9 - 12*(f.Dryness-0.12)),
		trial.Bark:        nine(2 + 5*math.Min(1.25, f.Crust/plan.CrustSet)),
		trial.Flavour:     nine(6.5 - 80*math.Abs(salt-saltWanted)),
		trial.SaltRight:   panel.JustRight + 100*(salt-saltWanted),
		trial.MoistRight:  panel.JustRight - 6*(f.Dryness-0.3),
		trial.CookedYield: 100 * (1 - f.Loss),
		trial.CookTime:    f.PullS / 3600,
		trial.KnifeTime:   f.KnifeS / 3600,
	}
	t[trial.Overall] = nine(0.3*t[trial.Tenderness] + 0.3*t[trial.Juiciness] + 0.2*t[trial.Bark] + 0.2*t[trial.Flavour])
	t[trial.Smoke], t[trial.SmokeRight], t[trial.Colour] = 5.5, panel.JustRight, nine(4+2*math.Min(1.5, f.Crust/plan.CrustSet))
	return t
}

func nine(v float64) float64 { return math.Max(1, math.Min(9, v)) }

// Of is the truth of an outcome; what the model knows nothing of is the middle of its scale in
// every arm.
func (t Truth) Of(d trial.OutcomeDefault) float64 {
	if v, ok := t[d.Key]; ok {
		return v
	}
	if d.Kind == trial.FromPanel {
		return 5
	}
	zero, one := d.Worth(10, d.SmallestDifference)
	return (zero + one) / 2
}

// Spreads of tasters and days (ours, as the table of outcomes has them).
const (
	leanSD = 0.6 // of a taster's own level
	daySD  = 0.35
)

// Panel is a table of simulated tasters.
type Panel struct {
	lean []float64
	luck map[string]float64
	r    *rand.Rand
}

// NewPanel draws so many tasters.
func NewPanel(r *rand.Rand, tasters int) *Panel {
	p := &Panel{luck: map[string]float64{}, r: r, lean: make([]float64, tasters)}
	for i := range p.lean {
		p.lean[i] = leanSD * r.NormFloat64()
	}
	return p
}

// once is drawn the first time and kept: a cut's own luck, a day's swing of an arm.
func (p *Panel) once(key string, sd float64) float64 {
	v, ok := p.luck[key]
	if !ok {
		v = p.r.NormFloat64()
		p.luck[key] = v
	}
	return sd * v
}

// Value is what a cut of an arm became on a day: its truth, and luck of its own.
func (p *Panel) Value(d trial.OutcomeDefault, truth float64, cut, day, arm string) float64 {
	key := string(d.Key)
	swing := daySD
	if d.Kind != trial.FromPanel {
		swing = d.SDBetweenCuts / 2
	}
	return truth + p.once(key+"\x00cut\x00"+cut, d.SDBetweenCuts) + p.once(key+"\x00day\x00"+day+"\x00"+arm, swing)
}

// Score is what a taster gives a cut, in whole points of its scale.
func (p *Panel) Score(d trial.OutcomeDefault, taster int, value float64) int {
	least, most := 1.0, 9.0
	if d.Right {
		most = 5
	}
	v := value + p.r.NormFloat64()*d.SDTaster
	if !d.Right {
		v += p.lean[taster%len(p.lean)]
	}
	return int(math.Round(math.Max(least, math.Min(most, v))))
}
