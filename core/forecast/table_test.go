package forecast

import (
	"context"
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"
)

var (
	cooksEach = flag.Int("cooks", 0, "synthetic cooks of each kind for the forecast table")
	firstSeed = flag.Uint64("first-seed", 1000, "seed of the first cook")
)

// guess is how one forecast did.
type guess struct {
	model, line, curve float64 // min, of the error; late is over 0
	inside             bool
	width              float64 // min
}

// straight goes on at the rate of the last hour.
func straight(l Log, target float64) float64 {
	p := blocks(l.Probe, 60, l.Now)
	i := len(p) - 1
	for i > 0 && p[i].Time > l.Now-3600 {
		i--
	}
	var st, sc, stt, stc, n float64
	for _, s := range p[i:] {
		st, sc, stt, stc, n = st+s.Time, sc+s.C, stt+s.Time*s.Time, stc+s.Time*s.C, n+1
	}
	slope := (n*stc - st*sc) / (n*stt - st*st)
	level := (sc + slope*(n*l.Now-st)) / n
	return capped(l.Now, (target-level)/slope)
}

// wholeLog takes the core to go to the mean pit temperature at the mean rate so far.
func wholeLog(l Log, target float64) float64 {
	p := blocks(l.Probe, block, l.Now)
	_, pit := l.pitTrace()
	sum := 0.0
	for _, s := range pit {
		sum += s.C
	}
	top := sum / float64(len(pit))
	var st, sy, stt, sty, n float64
	for _, s := range p {
		y := math.Log(max(top-s.C, 0.5))
		st, sy, stt, sty, n = st+s.Time, sy+y, stt+s.Time*s.Time, sty+s.Time*y, n+1
	}
	rate := -(n*sty - st*sy) / (n*stt - st*st)
	last := p[len(p)-1]
	return capped(last.Time, math.Log((top-last.C)/max(top-target, 0.5))/rate)
}

func capped(now, left float64) float64 {
	if !(left > 0 && left < 24*3600) {
		left = 24 * 3600
	}
	return now + left
}

func judge(c trueCook, now float64, seed uint64) (guess, error) {
	l, ahead := c.until(now)
	cal, err := Calibrate(context.Background(), l, Options{Seed: seed})
	if err != nil {
		return guess{}, err
	}
	f, err := cal.Forecast(context.Background(), ahead)
	if err != nil {
		return guess{}, err
	}
	t := f.Coming[len(ahead)-1].Time
	return guess{
		model: (t.Middle - c.done) / 60, line: (straight(l, c.target) - c.done) / 60, curve: (wholeLog(l, c.target) - c.done) / 60,
		inside: c.done >= t.Low && c.done <= t.High, width: (min(t.High, l.Now+farthest) - t.Low) / 60,
	}, nil
}

// row sums up the forecasts of a set at one share of the cook.
type row struct{ guesses []guess }

func (r row) typical(of func(guess) float64, q float64) float64 {
	var v []float64
	for _, g := range r.guesses {
		v = append(v, of(g))
	}
	slices.Sort(v)
	return v[int(q*float64(len(v)-1))]
}

func (r row) model() float64 {
	return r.typical(func(g guess) float64 { return math.Abs(g.model) }, 0.5)
}
func (r row) line() float64 { return r.typical(func(g guess) float64 { return math.Abs(g.line) }, 0.5) }
func (r row) curve() float64 {
	return r.typical(func(g guess) float64 { return math.Abs(g.curve) }, 0.5)
}
func (r row) inside() float64 {
	n := 0.0
	for _, g := range r.guesses {
		if g.inside {
			n++
		}
	}
	return n / float64(len(r.guesses))
}

var moments = []struct {
	name string
	at   func(trueCook) float64
}{
	{"25 %", func(c trueCook) float64 { return 0.25 * c.done }},
	{"50 %", func(c trueCook) float64 { return 0.5 * c.done }},
	{"75 %", func(c trueCook) float64 { return 0.75 * c.done }},
	{"mid-stall", func(c trueCook) float64 { return c.stall }},
}

// judgeMany cooks and forecasts on all processors; the rows do not depend on how many.
func judgeMany(t *testing.T, k kind, wide float64, cooks int, seed uint64) []row {
	all := make([][]*guess, cooks)
	var work sync.WaitGroup
	for w := range 2 {
		work.Go(func() {
			for i := w; i < cooks; i += 2 {
				s := seed + uint64(i)
				c := cookTruth(rand.New(rand.NewPCG(s, uint64(k))), k, wide)
				all[i] = make([]*guess, len(moments))
				for m, at := range moments {
					if now := at.at(c); c.done > 0 && now > 1800 {
						g, err := judge(c, now, s)
						if err != nil {
							t.Errorf("cook %d at %s: %v", s, at.name, err)
							continue
						}
						all[i][m] = &g
					}
				}
			}
		})
	}
	work.Wait()
	rows := make([]row, len(moments))
	for _, one := range all {
		for m, g := range one {
			if g != nil {
				rows[m].guesses = append(rows[m].guesses, *g)
			}
		}
	}
	return rows
}

// TestForecastTable prints how good forecasts are on many synthetic cooks;
// make bench-forecast runs it.
func TestForecastTable(t *testing.T) {
	if *cooksEach == 0 {
		t.Skip("for make bench-forecast")
	}
	fmt.Println("| set | at | cooks | median error, min | 80th pct | bias | inside 80 % band | band, min | straight line | whole log |")
	fmt.Println("|---|---|---|---|---|---|---|---|---|---|")
	for _, set := range []struct {
		name string
		kind kind
		wide float64
	}{{"A other law", oneDimension, 1}, {"B section", section, 1}, {"C wide", oneDimension, 1.6}} {
		for m, r := range judgeMany(t, set.kind, set.wide, *cooksEach, *firstSeed) {
			fmt.Printf("| %s | %s | %d | %.0f | %.0f | %+.0f | %.0f %% | %.0f | %.0f | %.0f |\n", set.name, moments[m].name, len(r.guesses), r.model(),
				r.typical(func(g guess) float64 { return math.Abs(g.model) }, 0.8), r.typical(func(g guess) float64 { return g.model }, 0.5),
				100*r.inside(), r.typical(func(g guess) float64 { return g.width }, 0.5), r.line(), r.curve())
		}
	}
}
