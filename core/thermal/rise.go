package thermal

// Where a rise is looked for: from the fridge to near boiling, read every so often.
const (
	riseFromC  = 4.0
	riseToC    = 90.0
	riseEvery  = 10.0 // s
	riseWindow = 60.0 // s
	riseCells  = 14
)

// FastestRise is how fast the core of a cut can rise in air of a temperature, in C a
// minute, over the steepest minute of a cook. A cut the model does not take gives 0.
func FastestRise(c Cut, x Exchange, airC float64) float64 {
	c.StartTemperature = riseFromC
	run := Run{Cut: c, Crust: UsualCrust, Phases: []Phase{{Name: "rise", Air: airC, Exchange: x, End: ByCore, Value: min(riseToC, airC-1)}}}
	out, err := Simulate(run, Settings{Cells: riseCells, Tolerance: 0.3}, riseEvery)
	if err != nil {
		return 0
	}
	fastest := 0.0
	from := 0
	for i, r := range out.Readings {
		for r.Time-out.Readings[from].Time > riseWindow {
			from++
		}
		if from < i {
			fastest = max(fastest, (r.Core-out.Readings[from].Core)/(r.Time-out.Readings[from].Time)*60)
		}
	}
	return fastest
}
