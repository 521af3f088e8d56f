package forecast

import (
	"context"
	"math"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"whitebarn/core/thermal"
)

// TestForecastsHoldOnCooksOfAnotherKind is the table in small, with fixed seeds.
func TestForecastsHoldOnCooksOfAnotherKind(t *testing.T) {
	for _, set := range []struct {
		name string
		kind kind
	}{{"other law", oneDimension}, {"section", section}} {
		rows := judgeMany(t, set.kind, 1, 16, 77)
		inside, n := 0.0, 0.0
		for m, r := range rows {
			if best := min(r.line(), r.curve()); r.model() > 1.15*best {
				t.Errorf("%s at %s: the model is off by %.0f min, a rule of thumb by %.0f", set.name, moments[m].name, r.model(), best)
			}
			inside += r.inside() * float64(len(r.guesses))
			n += float64(len(r.guesses))
		}
		if share := inside / n; share < 0.66 || share > 0.97 {
			t.Errorf("%s: %.0f %% of the ends fall in the 80 %% band", set.name, 100*share)
		}
	}
}

// aCook is one synthetic cook that is wrapped and takes its time.
func aCook(t *testing.T) trueCook {
	t.Helper()
	for seed := uint64(40); ; seed++ {
		if c := cookTruth(rand.New(rand.NewPCG(seed, 0)), oneDimension, 1); c.wrapAt > 0 && c.done > 7*3600 {
			return c
		}
	}
}

func calibrated(t *testing.T, c trueCook, share float64) (*Calibration, []Ahead) {
	t.Helper()
	l, ahead := c.until(share * c.done)
	cal, err := Calibrate(t.Context(), l, Options{Seed: 9})
	if err != nil {
		t.Fatal(err)
	}
	return cal, ahead
}

func forecastOf(t *testing.T, cal *Calibration, ahead []Ahead) Forecast {
	t.Helper()
	f, err := cal.Forecast(t.Context(), ahead)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func TestTheBandNarrowsAsTheCookGoesOn(t *testing.T) {
	c := aCook(t)
	before := math.Inf(1)
	for _, share := range []float64{0.1, 0.5, 0.9} {
		cal, ahead := calibrated(t, c, share)
		f := forecastOf(t, cal, ahead)
		done := f.Coming[len(f.Coming)-1].Time
		if w := done.High - done.Low; w >= before {
			t.Errorf("at %.0f %% the band is %.0f min wide, before it was %.0f", 100*share, w/60, before/60)
		} else {
			before = w
		}
		if len(f.Fan) == 0 || f.Fan[0].Time < cal.log.Now-1 || f.Fan[0].Probe.Low > f.Fan[0].Probe.High {
			t.Errorf("the fan begins %+v at %g", f.Fan[:min(1, len(f.Fan))], cal.log.Now)
		}
	}
}

func TestASeedGivesOneForecast(t *testing.T) {
	c := aCook(t)
	cal, ahead := calibrated(t, c, 0.4)
	again, _ := calibrated(t, c, 0.4)
	if a, b := forecastOf(t, cal, ahead), forecastOf(t, again, ahead); !reflect.DeepEqual(a, b) {
		t.Errorf("the same log and seed give %+v and %+v", a.Coming, b.Coming)
	}
}

// TestWhatIfsPointTheRightWay: foil and a hotter pit are sooner, a hold is tenderer.
func TestWhatIfsPointTheRightWay(t *testing.T) {
	c := aCook(t)
	cal, ahead := calibrated(t, c, 0.35)
	last := ahead[len(ahead)-1]
	bare := last
	bare.Exchange = c.log.Stages[0].Exchange
	foil, _ := thermal.WrapOf("foil")
	generic, _ := thermal.SurroundingsOf("generic")
	wrapped := last
	wrapped.Exchange = generic.Exchange(foil)
	hotter := bare
	hotter.Air += 15
	at := func(a Ahead) Coming { return forecastOf(t, cal, []Ahead{a}).Coming[0] }
	b, w, h := at(bare), at(wrapped), at(hotter)
	if w.Time.Middle >= b.Time.Middle || h.Time.Middle >= b.Time.Middle {
		t.Errorf("bare ends at %.1f h, in foil at %.1f, 15 C hotter at %.1f; want both sooner", b.Time.Middle/3600, w.Time.Middle/3600, h.Time.Middle/3600)
	}
	if w.Loss.Middle >= b.Loss.Middle {
		t.Errorf("foil loses %.3f, bare %.3f; want less", w.Loss.Middle, b.Loss.Middle)
	}
	box, _ := thermal.SurroundingsOf("box")
	early := bare
	early.Value = 85
	hold := Ahead{Name: "hold", Air: 66, Exchange: box.Exchange(foil), End: thermal.ByTime, Value: 8 * 3600}
	f := forecastOf(t, cal, []Ahead{early, hold})
	if p, q := f.Coming[0].Index.Middle, f.Coming[1].Index.Middle; q <= p {
		t.Errorf("a hold takes tenderness from %.2f to %.2f, want it to grow", p, q)
	}
	if early, late := b.By(b.Time.Low), b.By(b.Time.High); early > 0.15 || late < 0.85 {
		t.Errorf("the chance is %.2f at the low end and %.2f at the high end, want 0.1 and 0.9", early, late)
	}
}

func TestAHouseLearnsFromItsFinishedCooks(t *testing.T) {
	slow := make([]float64, unknowns)
	slow[thickness] = 1.5
	if got := Learn([][]float64{slow, slow, slow, slow})[thickness]; got != 0.75 {
		t.Errorf("four cooks that were 1.5 widths thicker teach %.2f, want half of it", got)
	}
	c := aCook(t)
	l, ahead := c.until(1500) // before the log itself knows
	middle := func(centre []float64) float64 {
		cal, err := Calibrate(t.Context(), l, Options{Seed: 3, Centre: centre})
		if err != nil {
			t.Fatal(err)
		}
		f := forecastOf(t, cal, ahead)
		return f.Coming[len(ahead)-1].Time.Middle
	}
	if a, b := middle(nil), middle(Learn([][]float64{slow, slow, slow, slow})); b <= a {
		t.Errorf("a house whose cuts are thick expects the end at %.1f h, any house at %.1f; want it later", b/3600, a/3600)
	}
}

func TestALogThatContradictsTheModelIsSaid(t *testing.T) {
	for _, c := range []struct {
		what   string
		change func(*Log)
		want   DoubtKind
		stops  bool
	}{
		{"nothing", func(*Log) {}, "", false},
		{"the probe falls out into the pit", func(l *Log) {
			for i, s := range l.Probe {
				if s.Time > l.Now-1500 {
					l.Probe[i].C = l.SetPoint - 2
				}
			}
		}, SlippedProbe, true},
		{"the fire goes out", func(l *Log) {
			for i, s := range l.Pit {
				if d := s.Time - (l.Now - 3000); d > 0 {
					l.Pit[i].C = 25 + (l.SetPoint-25)*math.Exp(-d/1200)
				}
			}
		}, DeadFire, true},
		{"the probe's battery dies", func(l *Log) {
			for i, s := range l.Probe {
				if s.Time > l.Now-2400 {
					l.Probe = l.Probe[:i]
					break
				}
			}
		}, SilentProbe, false},
		{"the cut is a fifth of the weight written down", func(l *Log) { l.Mass *= 6 }, WrongCut, false},
	} {
		cook := aCook(t)
		l, _ := cook.until(0.45 * cook.done)
		c.change(&l)
		doubts := Doubts(l)
		if len(doubts) == 0 {
			cal, err := Calibrate(t.Context(), l, Options{Seed: 1})
			if err != nil {
				t.Errorf("%s: %v", c.what, err)
				continue
			}
			doubts = cal.Doubts()
		}
		switch {
		case c.want == "" && len(doubts) > 0:
			t.Errorf("a good log is doubted: %+v", doubts)
		case c.want != "" && (len(doubts) == 0 || doubts[0].Kind != c.want || doubts[0].Stops != c.stops):
			t.Errorf("%s: the doubts are %+v, want %s", c.what, doubts, c.want)
		}
	}
}

func TestALogThatCannotBeUsedIsRefused(t *testing.T) {
	good, ahead := aCook(t).until(4 * 3600)
	for _, c := range []struct {
		want   string
		change func(*Log)
	}{
		{"twenty minutes", func(l *Log) { l.Probe = l.Probe[:8] }},
		{"stages", func(l *Log) { l.Stages = nil }},
		{"set_point_C", func(l *Log) { l.SetPoint = 900 }},
		{"now", func(l *Log) { l.Now = -1 }},
		{"mass", func(l *Log) { l.Family.Mass = 0 }},
	} {
		l := good
		c.change(&l)
		if _, err := Calibrate(t.Context(), l, Options{}); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("the refusal is %v, want one of %s", err, c.want)
		}
	}
	// Readings out of order, twice, and wild change nothing that matters.
	mixed := good
	mixed.Probe = append([]Sample{{60, math.NaN()}, {90, 9999}, {-5, 4}}, good.Probe...)
	rand.New(rand.NewPCG(1, 1)).Shuffle(len(mixed.Probe), func(i, j int) { mixed.Probe[i], mixed.Probe[j] = mixed.Probe[j], mixed.Probe[i] })
	var ends []float64
	for _, l := range []Log{good, mixed} {
		cal, err := Calibrate(t.Context(), l, Options{Seed: 2})
		if err != nil {
			t.Fatal(err)
		}
		f := forecastOf(t, cal, ahead)
		ends = append(ends, f.Coming[len(ahead)-1].Time.Middle)
	}
	if math.Abs(ends[0]-ends[1]) > 120 {
		t.Errorf("shuffled readings move the end from %.0f to %.0f s", ends[0], ends[1])
	}
	stopped, stop := context.WithCancel(t.Context())
	stop()
	if _, err := Calibrate(stopped, good, Options{}); err == nil {
		t.Error("a calibration goes on though nobody waits")
	}
}

// Eight cuts, calibrated afresh and forecast, one after another over all processors.
func BenchmarkForecastEightCuts(b *testing.B) {
	c := cookTruth(rand.New(rand.NewPCG(41, 0)), oneDimension, 1)
	l, ahead := c.until(0.5 * c.done)
	b.ReportAllocs()
	for b.Loop() {
		done := make(chan error, 8)
		for i := range 8 {
			go func() {
				cal, err := Calibrate(context.Background(), l, Options{Seed: uint64(i)})
				if err == nil {
					_, err = cal.Forecast(context.Background(), ahead)
				}
				done <- err
			}()
		}
		for range 8 {
			if err := <-done; err != nil {
				b.Fatal(err)
			}
		}
	}
}
