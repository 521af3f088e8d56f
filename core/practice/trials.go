package practice

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"

	"whitebarn/core/design"
	"whitebarn/core/fault"
	"whitebarn/core/panel"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
	"whitebarn/core/yield"
)

// Share is how often something was said of two arms on an outcome.
type Share struct {
	Key   trial.OutcomeKey `json:"key"`
	Name  string           `json:"name"`
	A     int              `json:"a"`
	B     int              `json:"b"`
	Truth float64          `json:"truth"` // first less second
	Clear int              `json:"clear"` // of these cooks
	Wrong int              `json:"wrong"` // clear, of an arm that is not truly better
	Same  int              `json:"same"`
	Next  int              `json:"next"` // clear for the next cook
}

// Trials is what so many simulated trials of one layout would have said.
type Trials struct {
	Trials int     `json:"trials"`
	Shares []Share `json:"shares"`
	Says   string  `json:"says"`
}

// MostTrials at once.
const MostTrials = 500

// Run simulates trials of an ask as it is laid out, each with cuts, days and tasters of its
// own, and reads each as a real one is read.
func Run(ctx context.Context, ask trial.Ask, truths []Truth, trials int, seed uint64) (Trials, error) {
	if trials < 1 || trials > MostTrials {
		return Trials{}, fault.New("trials", fmt.Sprintf("%d trials", trials), fmt.Sprintf("give 1 to %d", MostTrials))
	}
	if len(truths) != len(ask.Arms) || len(ask.Arms) < 2 {
		return Trials{}, fault.New("arms", words.Plural(len(ask.Arms), "arm"), "compare two arms or more")
	}
	out := Trials{Shares: []Share{}}
	for _, chosen := range ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok || d.Better == trial.Description {
			continue
		}
		for a := range ask.Arms {
			for b := a + 1; b < len(ask.Arms); b++ {
				out.Shares = append(out.Shares, Share{Key: d.Key, Name: d.Name, A: a, B: b, Truth: gapOf(d, truths[a], truths[b])})
			}
		}
	}
	r := rand.New(rand.NewPCG(seed, 200))
	for range trials {
		if err := ctx.Err(); err != nil {
			return out, err
		}
		out.count(settle.Of(simulate(r, ask, truths)))
	}
	out.Say(ask)
	return out, nil
}

// gapOf is the true difference; on a just-about-right scale of how far off.
func gapOf(d trial.OutcomeDefault, a, b Truth) float64 {
	if d.Right {
		return math.Abs(a.Of(d)-panel.JustRight) - math.Abs(b.Of(d)-panel.JustRight)
	}
	return a.Of(d) - b.Of(d)
}

// truly is the arm that is better, -1 for none.
func (s Share) truly(better trial.Better) int {
	switch {
	case math.Abs(s.Truth) < 1e-9:
		return -1
	case (s.Truth > 0) == (better == trial.Up):
		return s.A
	}
	return s.B
}

func (t *Trials) count(r settle.Result) {
	t.Trials++
	at := 0
	for _, row := range r.Rows {
		for _, p := range row.Pairs {
			s := &t.Shares[at]
			at++
			switch p.Cooks.Word {
			case verdict.Clear:
				s.Clear++
				if *p.Cooks.Winner != s.truly(row.Outcome.Better) {
					s.Wrong++
				}
			case verdict.Same:
				s.Same++
			}
			if p.Next.Word == verdict.Clear {
				s.Next++
			}
		}
	}
}

// Add puts another batch of trials of the same layout to these.
func (t *Trials) Add(more Trials, ask trial.Ask) {
	t.Trials += more.Trials
	for i := range more.Shares {
		s, m := &t.Shares[i], more.Shares[i]
		s.Clear, s.Wrong, s.Same, s.Next = s.Clear+m.Clear, s.Wrong+m.Wrong, s.Same+m.Same, s.Next+m.Next
	}
	t.Say(ask)
}

// Say puts it into a sentence: of the outcome in which arms truly differ most, by what matters.
func (t *Trials) Say(ask trial.Ask) {
	if t.Trials == 0 {
		return
	}
	best, size := -1, 0.0
	for i, s := range t.Shares {
		matters := 1.0
		for _, c := range ask.Outcomes {
			if c.Key == s.Key && c.SmallestDifference > 0 {
				matters = c.SmallestDifference
			}
		}
		if by := math.Abs(s.Truth) / matters; best < 0 || by > size {
			best, size = i, by
		}
	}
	if best < 0 {
		return
	}
	s := t.Shares[best]
	tens := func(n int) string { return fmt.Sprintf("%.0f", math.Round(10*float64(n)/float64(t.Trials))) }
	t.Says = fmt.Sprintf("With this layout you would have said clear on %s %s times in 10, wrongly %s.", strings.ToLower(s.Name), tens(s.Clear), tens(s.Wrong))
}

// simulate cooks and tastes one trial.
func simulate(r *rand.Rand, ask trial.Ask, truths []Truth) settle.Trial {
	tasters, cooks, blocks := max(ask.Hand.Tasters, 1), max(ask.Hand.CookDays, 1), max(ask.Hand.Blocks, 1)
	size := len(ask.Arms)
	inBlocks := ask.Hand.BlockSize > 1
	if inBlocks {
		size = min(size, ask.Hand.BlockSize)
	}
	p := NewPanel(r, tasters)
	t := settle.Trial{Ask: ask, Drawn: true, Scores: map[trial.OutcomeKey][]panel.Score{}, Look: settle.Look{Times: 1, Planned: float64(blocks), Cooks: cooks}}
	first := r.IntN(len(ask.Arms))
	for b := range blocks {
		cook := b * cooks / blocks
		for k := range size {
			arm := (first + b + k) % len(ask.Arms)
			if size == len(ask.Arms) {
				arm = k
			}
			t.Cuts = append(t.Cuts, cutOf(ask, b, arm, cook, inBlocks))
			p.taste(&t, truths[arm], tasters)
		}
	}
	return t
}

// cutOf is a cut that counts, in the pit run of its level where one is set on runs.
func cutOf(ask trial.Ask, block, arm, cook int, inBlocks bool) settle.Cut {
	c := settle.Cut{Piece: design.Piece{Name: fmt.Sprintf("%d.%d", block+1, arm+1), Arm: arm, Cook: fmt.Sprint("day ", cook+1), Pit: "pit"}, MayCount: true,
		Measured: map[trial.OutcomeKey]float64{}}
	c.Root = c.Name
	if inBlocks {
		c.Block = fmt.Sprint(block + 1)
	}
	if run := ask.RunOf(arm); run != "" {
		unit := fmt.Sprint(cook, " ", run)
		c.Units = map[trial.UnitKind]string{trial.UnitPitRun: unit, trial.UnitHolderRun: unit, trial.UnitBatch: unit}
		c.Pit = "pit " + run
	}
	return c
}

// taste scores and measures the last cut.
func (p *Panel) taste(t *settle.Trial, truth Truth, tasters int) {
	c := &t.Cuts[len(t.Cuts)-1]
	for _, chosen := range t.Ask.Outcomes {
		d, ok := chosen.Outcome()
		if !ok {
			continue
		}
		value := p.Value(d, truth.Of(d), c.Name, c.Cook, fmt.Sprint(c.Arm))
		if d.Kind != trial.FromPanel {
			c.Measured[d.Key] = value
			if d.Key == trial.CookedYield {
				c.Account.CookedYieldRested = &yield.Measure{Value: value / 100}
			}
			continue
		}
		for i := range tasters {
			t.Scores[d.Key] = append(t.Scores[d.Key], panel.Score{Taster: fmt.Sprint("taster ", i+1), Cut: c.Name, Flight: c.Cook + c.Block, Arm: c.Arm,
				Value: float64(p.Score(d, i, value))})
		}
	}
}
