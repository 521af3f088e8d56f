package settle

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"whitebarn/core/design"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// scenario is a kind of trial to be simulated: five tasters, whole points of nine, one
// score in twenty missing; what matters is half a point.
type scenario struct {
	name         string
	arms, blocks int // blocks in all, each with every arm
	cooks        int
	truth        float64 // of the first arm over each other
	swing        float64 // sd between cooks of what an arm does
	cut          float64 // sd between cuts of one arm; 0 is the usual half point, below it none
	tasters      int     // 0 is five
	leaning      float64 // sd between tasters of what they like in an arm
	onRuns       int     // arms that share a run, of a level set on pit runs; 0: set on cuts
	onePit       bool    // a level a day
}

const matters = 0.5

// simulate cooks and tastes a trial of a scenario.
func (s scenario) simulate(r *rand.Rand) Trial {
	tasters, sd := max(s.tasters, 5), 0.5
	if s.tasters > 0 {
		tasters = s.tasters
	}
	if s.cut != 0 {
		sd = max(s.cut, 0)
	}
	t := Trial{Drawn: true, Scores: map[trial.OutcomeKey][]panel.Score{}, Ask: trial.Ask{
		Factors:  []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: matters}}}}
	for a := range s.arms {
		t.Ask.Arms = append(t.Ask.Arms, trial.Arm{Tag: fmt.Sprint("ARM", a), Levels: trial.Levels(fmt.Sprint("level ", a))})
	}
	if s.onRuns > 0 {
		t.Ask.Factors[0].SetOn = trial.UnitPitRun
		for a := range s.arms {
			t.Ask.Arms[a].Levels = trial.Levels(fmt.Sprint("heat ", a/s.onRuns))
		}
		if s.onRuns > 1 {
			t.Ask.Factors = append(t.Ask.Factors, trial.Factor{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut})
			t.Ask.Factors[0].Name = "heat"
			for a := range s.arms {
				t.Ask.Arms[a].Levels = append(t.Ask.Arms[a].Levels, trial.Levels(fmt.Sprint("wrap ", a%s.onRuns))...)
			}
		}
	}
	t.Look = Look{Times: 1, Planned: float64(s.blocks), Cooks: s.cooks}
	lean := make([]float64, tasters*s.arms)
	for i := range lean {
		lean[i] = s.leaning * r.NormFloat64()
	}
	swing := map[string]float64{}
	drawn := func(key string, sd float64) float64 {
		if _, ok := swing[key]; !ok {
			swing[key] = sd * r.NormFloat64()
		}
		return swing[key]
	}
	for b := range s.blocks {
		cook := b * s.cooks / s.blocks
		for a := range s.arms {
			if s.onePit && a != cook%s.arms {
				continue
			}
			name := fmt.Sprintf("%d.%d", b, a)
			c := Cut{Piece: design.Piece{Name: name, Root: name, Arm: a, Block: fmt.Sprint("b", b), Cook: fmt.Sprint("day ", cook+1), Pit: "Brick Pit",
				PitRunID: int64(cook + 1)}, MayCount: true}
			value := 5.5 + sd*r.NormFloat64() + drawn(fmt.Sprint("block ", b), 0.4) + drawn(fmt.Sprint("cook ", cook), 0.3) + drawn(fmt.Sprint("arm ", a, cook), s.swing)
			if s.onRuns > 0 {
				level := a / s.onRuns
				run := fmt.Sprint("run ", cook, level)
				value += drawn(run, 0.3)
				c.Units = map[trial.UnitKind]string{trial.UnitPitRun: run}
				c.PitRunID = int64(10*cook + level + 1)
				if !s.onePit {
					c.Pit = []string{"Brick Pit", "North Drum"}[(level+cook)%2]
				}
			}
			if a == 0 {
				value += s.truth
			}
			t.Cuts = append(t.Cuts, c)
			for p := range tasters {
				if r.IntN(20) == 0 {
					continue
				}
				at := value + 0.6*drawn(fmt.Sprint("taster ", p), 1) + lean[p*s.arms+a] + 1.2*r.NormFloat64()
				t.Scores[trial.Juiciness] = append(t.Scores[trial.Juiciness], panel.Score{Taster: fmt.Sprint("t", p), Cut: name, Flight: fmt.Sprint(b), Arm: a,
					Value: math.Min(9, math.Max(1, math.Round(at)))})
			}
		}
	}
	return t
}

// shares are how often something was said of the trials of a scenario, of all arm pairs
// with the first arm, or of whole trials where any was said.
type shares struct {
	clear, same, covered float64 // of these cooks
	nextClear, nextSame  float64
	piecesClear          float64
	told                 int // verdicts that have an interval
	trials, pairs        int
}

func (s scenario) run(seed uint64, trials int) shares {
	r := rand.New(rand.NewPCG(seed, 15))
	var n shares
	for range trials {
		row := AsKept(Of(s.simulate(r))).Rows[0]
		n.trials++
		var clear, next, pieces bool
		for _, p := range row.Pairs {
			truth := 0.0
			if p.A == 0 {
				truth = s.truth
			}
			clear = clear || p.Cooks.Word == verdict.Clear
			next = next || p.Next.Word == verdict.Clear
			pieces = pieces || p.Pieces != nil && p.Pieces.Word == verdict.Clear
			if s.truth > 0 && p.A != 0 { // a pair that is truly the same beside one that is not
				continue
			}
			if p.Cooks.Word == verdict.Same {
				n.same++
			}
			if p.Next.Word == verdict.Same {
				n.nextSame++
			}
			if p.Cooks.CI90 != nil {
				n.told++
				if p.Cooks.CI90[0] <= truth && truth <= p.Cooks.CI90[1] {
					n.covered++
				}
			}
			n.pairs++
		}
		for _, x := range []struct {
			was bool
			of  *float64
		}{{clear, &n.clear}, {next, &n.nextClear}, {pieces, &n.piecesClear}} {
			if x.was {
				*x.of++
			}
		}
	}
	for _, v := range []*float64{&n.clear, &n.nextClear, &n.piecesClear} {
		*v /= float64(n.trials)
	}
	n.same, n.nextSame = n.same/float64(n.pairs), n.nextSame/float64(n.pairs)
	n.covered /= math.Max(1, float64(n.told))
	return n
}

// looked reads nil trials early, as named, as planned, and once more after going on by half
// as many cooks: how often any of the looks says clear.
func (s scenario) looked(seed uint64, trials int) float64 {
	r := rand.New(rand.NewPCG(seed, 16))
	false1 := 0
	more := s
	more.cooks, more.blocks = s.cooks*3/2, s.blocks*3/2
	for range trials {
		all := more.simulate(r)
		until := func(cooks int) Trial {
			t := all
			t.Look.Planned, t.Look.Cooks = float64(s.blocks), s.cooks
			t.Cuts = slices.DeleteFunc(slices.Clone(all.Cuts), func(c Cut) bool {
				var day int
				fmt.Sscanf(c.Cook, "day %d", &day)
				return day > cooks
			})
			names := map[string]bool{}
			for _, c := range t.Cuts {
				names[c.Name] = true
			}
			t.Scores = map[trial.OutcomeKey][]panel.Score{trial.Juiciness: slices.DeleteFunc(slices.Clone(all.Scores[trial.Juiciness]),
				func(x panel.Score) bool { return !names[x.Cut] })}
			return t
		}
		earlier := map[trial.OutcomeKey]map[[2]int][]verdict.Look{trial.Juiciness: {}}
		said := false
		for i, look := range []struct {
			cooks int
			kind  LookKind
		}{{s.cooks / 2, Interim}, {s.cooks, AfterInterim}, {more.cooks, Other}} {
			t := until(look.cooks)
			t.Look.Kind, t.Look.Times, t.Look.Earlier = look.kind, i+1, earlier
			p := Of(t).Rows[0].Pairs[0]
			said = said || p.Cooks.Word == verdict.Clear || p.Next.Word == verdict.Clear
			for at, l := range t.Looks()[trial.Juiciness] {
				earlier[trial.Juiciness][at] = append(earlier[trial.Juiciness][at], l)
			}
		}
		if said {
			false1++
		}
	}
	return float64(false1) / float64(trials)
}

// nils are trials in which no arm differs; the swing of days is for the next cook's word.
func nils() (out []scenario) {
	for arms := 2; arms <= 4; arms++ {
		for _, blocks := range []int{4, 8, 16} {
			for cooks := 1; cooks <= 3; cooks++ {
				if blocks/cooks >= 2 {
					out = append(out, scenario{name: fmt.Sprintf("nil %d arms %d blocks %d cooks", arms, blocks, cooks), arms: arms, blocks: blocks, cooks: cooks})
				}
			}
		}
	}
	return out
}

// TestVerdictsAreTrueAsOftenAsTheySay cooks many trials of known truth, by a fixed seed. The
// same at length: make bench-verdict.
func TestVerdictsAreTrueAsOftenAsTheySay(t *testing.T) {
	trials := slow(100, 30)
	limit := 0.06 + 2*math.Sqrt(0.06*0.94/float64(trials)) // few trials a scenario: an allowance for luck
	all, falseClear := 0, 0.0
	for i, s := range nils() {
		got := s.run(uint64(100+i), trials)
		all++
		falseClear += got.clear
		if got.clear > limit {
			t.Errorf("%s: clear in %.1f of 100", s.name, 100*got.clear)
		}
	}
	if mean := falseClear / float64(all); mean > 0.06 {
		t.Errorf("over all nil trials clear is said in %.1f of 100, want at most 6", 100*mean)
	}
	for cooks := 3; cooks <= 6; cooks++ {
		got := scenario{arms: 2, blocks: 2 * cooks, cooks: cooks, swing: 0.35}.run(uint64(200+cooks), trials)
		if got.nextClear > limit {
			t.Errorf("%d cooks that swing: the next cook is clear in %.1f of 100", cooks, 100*got.nextClear)
		}
	}
	for _, blocks := range []int{8, 16} {
		got := scenario{arms: 2, blocks: blocks, cooks: 1, truth: matters}.run(uint64(300+blocks), 400)
		if got.same > 0.06 {
			t.Errorf("%d blocks, apart by what matters: the same in %.1f of 100", blocks, 100*got.same)
		}
		if got.covered < 0.86 || got.covered > 0.94 {
			t.Errorf("%d blocks: the 90 %% interval holds the truth in %.1f of 100", blocks, 100*got.covered)
		}
	}
	for sharing := 1; sharing <= 2; sharing++ {
		got := scenario{arms: 2 * sharing, blocks: 8, cooks: 4, onRuns: sharing}.run(uint64(400+sharing), trials)
		if got.clear > limit {
			t.Errorf("set on runs, %d arms sharing one: clear in %.1f of 100", sharing, 100*got.clear)
		}
	}
	if got := (scenario{arms: 2, blocks: 16, cooks: 8, onRuns: 1, onePit: true, truth: 4 * matters}).run(500, 60); got.clear < 0.5 {
		t.Errorf("one pit, a level a day, 8 days, apart by four times what matters: clear in %.0f of 100, want most", 100*got.clear)
	}
	if got := (scenario{arms: 2, blocks: 12, cooks: 6}).looked(600, 80); got > 0.09 {
		t.Errorf("read early, as planned and after going on: clear in %.1f of 100", 100*got)
	}
	for _, tasters := range []int{3, 5, 10} {
		got := scenario{arms: 2, blocks: 4, cooks: 1, tasters: tasters, leaning: 0.5, cut: -1}.run(uint64(700+tasters), trials)
		if got.piecesClear > limit {
			t.Errorf("%d tasters of their own liking: these pieces are clear in %.1f of 100", tasters, 100*got.piecesClear)
		}
	}
	// Tasters who part on the arms taste every cut: their liking must not pass for the cuts'.
	if got := (scenario{arms: 2, blocks: 8, cooks: 1, tasters: 4, leaning: 0.5}).run(724, trials); got.clear > limit {
		t.Errorf("four tasters of their own liking: these cooks are clear in %.1f of 100", 100*got.clear)
	}
}

// BenchmarkVerdicts measures at length how often what a verdict says is so.
func BenchmarkVerdicts(b *testing.B) {
	all := nils()
	for cooks := 3; cooks <= 6; cooks++ {
		all = append(all, scenario{name: fmt.Sprintf("nil %d cooks that swing", cooks), arms: 2, blocks: 2 * cooks, cooks: cooks, swing: 0.35})
	}
	for arms := 2; arms <= 4; arms++ {
		for _, blocks := range []int{4, 8, 16} {
			all = append(all, scenario{name: fmt.Sprintf("apart by d %d arms %d blocks", arms, blocks), arms: arms, blocks: blocks, cooks: 1, truth: matters})
			all = append(all, scenario{name: fmt.Sprintf("apart by 2 d %d arms %d blocks", arms, blocks), arms: arms, blocks: blocks, cooks: 1, truth: 2 * matters})
		}
	}
	for sharing := 1; sharing <= 2; sharing++ {
		all = append(all, scenario{name: fmt.Sprintf("nil on runs %d sharing", sharing), arms: 2 * sharing, blocks: 8, cooks: 4, onRuns: sharing})
	}
	all = append(all, scenario{name: "nil one pit a level a day", arms: 2, blocks: 16, cooks: 8, onRuns: 1, onePit: true},
		scenario{name: "4 d one pit a level a day", arms: 2, blocks: 16, cooks: 8, onRuns: 1, onePit: true, truth: 4 * matters})
	for _, tasters := range []int{3, 5, 7, 10} {
		all = append(all, scenario{name: fmt.Sprintf("nil pieces alike %d tasters", tasters), arms: 2, blocks: 4, cooks: 1, tasters: tasters, leaning: 0.5, cut: -1})
		all = append(all, scenario{name: fmt.Sprintf("nil %d tasters of their own liking", tasters), arms: 2, blocks: 8, cooks: 1, tasters: tasters, leaning: 0.5})
	}
	trials := 1000
	if testing.Short() {
		trials, all = 2, all[:2]
	}
	for i, s := range all {
		b.Run(s.name, func(b *testing.B) {
			for range b.N {
				got := s.run(uint64(1000+i), trials)
				b.ReportMetric(100*got.clear, "clear/100")
				b.ReportMetric(100*got.same, "same/100")
				b.ReportMetric(100*got.covered, "covered/100")
				b.ReportMetric(100*got.nextClear, "next-clear/100")
				b.ReportMetric(100*got.nextSame, "next-same/100")
				b.ReportMetric(100*got.piecesClear, "pieces-clear/100")
			}
		})
	}
	b.Run("nil read early, as planned and late", func(b *testing.B) {
		for range b.N {
			b.ReportMetric(100*scenario{arms: 2, blocks: 12, cooks: 6}.looked(2000, trials), "clear/100")
		}
	})
}
