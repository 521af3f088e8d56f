package plan

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"sync"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
	"whitebarn/core/forecast"
	"whitebarn/core/phase"
	"whitebarn/core/thermal"
)

// What the ensemble adds to the cut's and the pit's own unknowns (our own fits).
const (
	modelDoubt = 0.10 // sd of the logarithm of a length the model gives
	feelSpread = 0.15 // sd of the logarithm of how tender tender is to a hand
	barkSpread = 0.20 // and of how set a set bark is
	// ofOneCut is the share of the variance that is one cut's own: what is unknown
	// of the family, the model and the barn moves all cuts together. It brings the
	// cuts of an arm to differ by 0.7 h, the usual spread between cuts.
	ofOneCut = 0.2
)

// barkSet is how much water a crust has lost when cooks call the bark set, in
// kg/m2: bare shoulders and briskets at 225 to 275 F come there as their core
// passes 165 F, and stay there (our own fit).
const barkSet = 1.0

// fatRendered is the share of the fat gone when cooks call it rendered (ours).
const fatRendered = 0.5

// houseLeast is how many of the barn's own cooks replace the model's length.
const houseLeast = 3

// unknowns of a member: the cut's and pit's, the model's, the hand's, the eye's.
const (
	ofModel = forecast.Unknowns + iota
	ofHand
	ofEye
	allUnknowns
)

// length is how long a cut takes, over the ensemble.
type length struct {
	ends    [][]float64 // of each smoke phase, of each member: s from on
	afters  [][]float64 // of each phase after the pull, of each member: s it lasts
	usual   thermal.Result
	reached bool // the usual cut meets every condition within the longest time
}

// pull is when a member's cut comes off, s from on.
func (l length) pull(member int) float64 { return l.ends[len(l.ends)-1][member] }

// lengthsOf runs the ensemble of every cut. The cuts share out over the
// processors; the answer does not depend on how many there are.
func lengthsOf(ctx context.Context, in Input) ([]length, error) {
	members := in.members()
	random := rand.New(rand.NewPCG(in.Seed, 17))
	pits := make([][][allUnknowns]float64, len(in.Pits))
	for i := range pits {
		pits[i] = spreadOut(random, members)
	}
	common := spreadOut(random, members)
	cuts := make([][][allUnknowns]float64, len(in.Cuts))
	for i := range cuts {
		cuts[i] = spreadOut(random, members)
		for m := range cuts[i] {
			for u := range cuts[i][m] {
				cuts[i][m][u] = math.Sqrt(ofOneCut)*cuts[i][m][u] + math.Sqrt(1-ofOneCut)*common[m][u]
			}
		}
	}
	out, errs := make([]length, len(in.Cuts)), make([]error, len(in.Cuts))
	var work sync.WaitGroup
	workers := min(runtime.GOMAXPROCS(0), len(in.Cuts))
	for w := range workers {
		work.Go(func() {
			for i := w; i < len(in.Cuts) && ctx.Err() == nil; i += workers {
				for m := range members {
					for u := range forecast.Unknowns {
						if forecast.OfPit(u) {
							cuts[i][m][u] = pits[in.Cuts[i].Pit][m][u]
						}
					}
				}
				out[i], errs[i] = in.lengthOf(in.Cuts[i], cuts[i])
			}
		})
	}
	work.Wait()
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	for i, err := range errs {
		if err != nil {
			return nil, fault.In(fmt.Sprintf("cuts[%d]", i), err)
		}
	}
	return out, nil
}

// spreadOut draws a Latin hypercube of standard normal numbers: each unknown
// takes every part of its range once (McKay, Beckman and Conover, 1979).
func spreadOut(random *rand.Rand, members int) [][allUnknowns]float64 {
	out := make([][allUnknowns]float64, members)
	for u := range allUnknowns {
		for m, stratum := range random.Perm(members) {
			out[m][u] = distuv.UnitNormal.Quantile((float64(stratum) + random.Float64()) / float64(members))
		}
	}
	return out
}

// Ensembles need no more cells and no finer step than these.
var coarse = thermal.Settings{Cells: 14, Tolerance: 0.3}

func (in Input) lengthOf(c Cut, draws [][allUnknowns]float64) (length, error) {
	arm := in.Arms[c.Arm]
	smokes, afters := len(arm.smokes()), len(arm.afters())
	out := length{ends: make([][]float64, smokes), afters: make([][]float64, afters), reached: true}
	for i := range out.ends {
		out.ends[i] = make([]float64, len(draws))
	}
	for i := range out.afters {
		out.afters[i] = make([]float64, len(draws))
	}
	var usual [allUnknowns]float64
	res, err := in.simulate(c, usual, append(arm.smokes(), arm.afters()...), thermal.Settings{Cells: 20, Tolerance: 0.2}, 600)
	if err != nil {
		return out, err
	}
	out.usual = res
	for _, e := range res.Ends {
		out.reached = out.reached && e.Reached
	}
	phases := arm.smokes()
	for i, p := range arm.afters() { // what the clock ends needs no model
		s, fixed := p.Fixed()
		if !fixed {
			phases = append(arm.smokes(), arm.afters()[:i+1]...)
		}
		for m := range draws {
			out.afters[i][m] = s
		}
	}
	for m, z := range draws {
		r, err := in.simulate(c, z, phases, coarse, 0)
		if err != nil {
			return out, err
		}
		for i := range out.ends {
			out.ends[i][m] = r.Ends[i].Time
		}
		for i := smokes; i < len(phases); i++ {
			out.afters[i-smokes][m] = r.Ends[i].Time - r.Ends[i-1].Time
		}
	}
	out.doubt(arm.smokes(), draws, res.Ends[smokes-1].Time, c.House)
	return out, nil
}

// doubt widens the lengths that the model gave by what it does not know, or
// moves them to what the house knows of its own cooks. Stretches that end by
// the clock stay as they are.
func (l *length) doubt(phases []phase.Phase, draws [][allUnknowns]float64, usual float64, house []float64) {
	members := len(draws)
	logs := make([]float64, members)
	for m, z := range draws {
		logs[m] = math.Log(l.pull(m)/usual) + modelDoubt*z[ofModel]
	}
	if n := len(house); n >= houseLeast {
		mean, sd := stat.MeanStdDev(logs, nil)
		own := make([]float64, n)
		for i, r := range house {
			own[i] = math.Log(r)
		}
		middle, s := stat.MeanStdDev(own, nil)
		// A few cooks say little of their spread, so the model's counts as four.
		const likeModel = 4
		s = math.Sqrt((float64(n-1)*s*s + likeModel*sd*sd) / (float64(n-1) + likeModel))
		s *= math.Sqrt(1 + 1/float64(n))
		for m := range logs {
			u := 0.0
			if sd > 0 {
				u = (logs[m] - mean) / sd
			}
			logs[m] = middle + s*u
		}
	}
	for m := range draws {
		factor := usual * math.Exp(logs[m]) / l.pull(m)
		from, was := 0.0, 0.0
		for i, p := range phases {
			took := l.ends[i][m] - was
			was = l.ends[i][m]
			if _, fixed := p.Fixed(); !fixed {
				took *= factor
			}
			from += took
			l.ends[i][m] = from
		}
	}
}

// simulate takes a cut of these unknowns through phases from the fire on.
func (in Input) simulate(c Cut, z [allUnknowns]float64, phases []phase.Phase, set thermal.Settings, every float64) (thermal.Result, error) {
	var guess [forecast.Unknowns]float64
	copy(guess[:], z[:])
	cut, crust, offset := forecast.Piece(in.Family, c.Kg, c.ThicknessM, c.StartC, in.Learned, guess)
	set.Pressure = in.Pressure
	run := thermal.Run{Cut: cut, Crust: crust}
	wrap := thermal.Wraps[0]
	for _, p := range phases {
		if p.Wrap != "" || p.Kind.InPit() || p.Kind.Cooks() {
			var err error
			if wrap, err = wrapOf(p.Wrap); err != nil {
				return thermal.Result{}, err
			}
		}
		t := thermal.Phase{Name: p.Name, Air: p.SetC + wrap.AirAdd, Liquid: p.LiquidG / 1000, LiquidAt: liquidC, Longest: phase.Longest}
		place := in.around(c, p)
		switch {
		case p.Kind.InPit():
			t.Offset = offset
			if p.PitID == 0 || p.PitID == in.Pits[c.Pit].ID {
				t.Offset += c.OffsetC
			}
			if p.SpritzEveryS > 0 {
				t.Spritz, t.SpritzEvery, t.SpritzFrom = thermal.UsualSpritz, p.SpritzEveryS, p.SpritzFromS
			}
		case p.Kind == phase.Rest:
			t.Air = roomC
		case p.Kind == phase.Chill && p.SetC == 0:
			t.Air = fridgeC
		case p.Kind == phase.Fry:
			t.Air = p.SetC
		case p.Kind.Cooks():
			t.Air = min(max(p.SetC, searC), phase.Hottest-20)
		}
		t.Exchange = place.Exchange(wrap)
		t.End, t.Value, t.More, t.All = ending(p, z)
		run.Phases = append(run.Phases, t)
	}
	return thermal.Simulate(run, set, every)
}

const (
	roomC   = 22.0
	fridgeC = 3.5
	searC   = 250.0
)

// surroundingsOf are the surroundings of a phase that is in no pit.
var surroundingsOf = map[phase.Kind]string{
	phase.Rest: "counter", phase.Hold: "box", phase.Chill: "fridge", phase.Reheat: "oven", phase.Sear: "coals", phase.Coals: "coals",
	phase.Broil:   "broiler",
	phase.Griddle: "griddle", phase.Fry: "oil",
}

// Begins is what begins with a cut that goes on in a kind of cooker; empty is smoke.
func Begins(cooker string) string {
	for _, kind := range []phase.Kind{phase.Griddle, phase.Coals, phase.Fry, phase.Broil} {
		if surroundingsOf[kind] == cooker {
			return string(kind)
		}
	}
	if cooker == "oven" {
		return cooker
	}
	return ""
}

// around is what a cut lies in during a phase.
func (in Input) around(c Cut, p phase.Phase) thermal.Surroundings {
	if p.Kind.InPit() || p.PitID != 0 {
		return in.cooker(c, p).Surroundings
	}
	s, err := thermal.SurroundingsOf(surroundingsOf[p.Kind])
	if err != nil {
		return in.Pits[c.Pit].Surroundings
	}
	return s
}

func wrapOf(key string) (thermal.Wrap, error) {
	if key == "" {
		return thermal.Wraps[0], nil
	}
	return thermal.WrapOf(key)
}

// ending says a phase's end conditions in the model's terms.
func ending(p phase.Phase, z [allUnknowns]float64) (end thermal.Quantity, value float64, more []thermal.Until, all bool) {
	until := make([]thermal.Until, len(p.Ends))
	for i, c := range p.Ends {
		until[i] = thermal.Until{Value: c.Value}
		u := &until[i]
		switch c.Watch {
		case phase.ByTime, phase.GivenUp:
			u.Watch = thermal.ByTime
		case phase.BySurface:
			u.Watch = thermal.BySurface
		case phase.ByLook, phase.ByOil: // a few minutes over hard heat
			u.Watch, u.Value = thermal.ByTime, usualLookS*math.Exp(barkSpread*z[ofEye])
		case phase.ByCore:
			u.Watch = thermal.ByCore
		case phase.ByCooling:
			u.Watch = thermal.ByProbeBelow
		case phase.ByLoss:
			u.Watch = thermal.ByLoss
		case phase.ByFeel:
			u.Watch, u.Value = thermal.ByTender, math.Exp(feelSpread*z[ofHand])
		case phase.ByBark:
			u.Watch, u.Value = thermal.ByCrust, barkSet*math.Exp(barkSpread*z[ofEye])
		case phase.ByRendered:
			u.Watch, u.Value = thermal.ByRendered, min(fatRendered*math.Exp(barkSpread*z[ofEye]), 0.95)
		}
	}
	return until[0].Watch, until[0].Value, until[1:], p.All
}

// usualLookS is how long a crust takes over hard heat until it looks right (ours).
const usualLookS = 360.0

// UsualLength is how long the model says a cut takes, on to pull, when nothing
// about it is out of the ordinary, in s. What a finished cut took over this is
// its share in a later cut's House.
func UsualLength(in Input, cut int) (float64, error) {
	c := in.Cuts[cut]
	smokes := in.Arms[c.Arm].smokes()
	r, err := in.simulate(c, [allUnknowns]float64{}, smokes, coarse, 0)
	if err != nil {
		return 0, err
	}
	return r.Ends[len(smokes)-1].Time, nil
}
