package thermal

import (
	"math"
	"math/rand/v2"
	"testing"
)

// minutePit is a pit log with noise from minute to minute.
func minutePit(minutes int, seed uint64) *Trace {
	r := rand.New(rand.NewPCG(seed, 1))
	var times, values []float64
	drift := 0.0
	for i := range minutes {
		drift = 0.9*drift + 2*r.NormFloat64()
		times = append(times, float64(i)*60)
		values = append(values, 121+drift)
	}
	log, err := NewTrace(times, values)
	if err != nil {
		panic(err)
	}
	return log
}

func longCook(log *Trace) Run {
	return Run{
		Cut: Cut{
			Mass: 5.9, HalfThickness: 0.054, Shape: 0.5, Density: 1050, Conductivity: 0.45, Lean: 0.76, Fat: 0.24,
			LeanWater: 0.745, BrineKept: 0.5, JuiceTime: 4860, RenderShare: 0.6, CollagenTime: 12240, StartTemperature: 4, ProbeDepth: -1,
		},
		Crust:  UsualCrust,
		Phases: []Phase{{Name: "smoke", Air: 121, Log: log, Exchange: Exchange{HeatTransfer: 7, Emissivity: 0.9, DewPoint: 40}, End: ByTime, Value: 18 * 3600}},
	}
}

func benchmarkCook(b *testing.B, log *Trace, set Settings) {
	run := longCook(log)
	body, err := NewBody(run.Cut, run.Crust, set)
	if err != nil {
		b.Fatal(err)
	}
	var out Result
	b.ReportAllocs()
	for b.Loop() {
		if err := body.Reset(run.Cut, run.Crust, set); err != nil {
			b.Fatal(err)
		}
		if err := body.Follow(run.Phases, 600, &out); err != nil {
			b.Fatal(err)
		}
	}
	if math.IsNaN(out.Peak) {
		b.Fatal("no number came out")
	}
	b.ReportMetric(float64(out.Steps), "steps")
}

// An 18 h cook of a 13 lb brisket; the goals are 1.2 ms and 2 ms.
func BenchmarkCookSteadyPit(b *testing.B) { benchmarkCook(b, nil, Settings{}) }
func BenchmarkCookLoggedPit(b *testing.B) { benchmarkCook(b, minutePit(18*60, 7), Settings{}) }

// One member of an ensemble; a thousand should take under 1.5 s on two cores.
func BenchmarkEnsembleMember(b *testing.B) {
	benchmarkCook(b, minutePit(18*60, 7), Settings{Cells: 20, Tolerance: 0.2})
}
