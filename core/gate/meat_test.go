package gate

import (
	"math/rand/v2"
	"testing"
	"time"

	"whitebarn/core/logbook"
)

// The quick look at a climb says of every reading what looking back at each says.
func TestAClimbIsSeenAsReadingByReading(t *testing.T) {
	random := rand.New(rand.NewPCG(34, 1))
	for run := range 300 {
		at, c := time.Date(2026, 9, 19, 8, 0, 0, 0, time.UTC), 20.0
		fastest := []float64{0.5, 2, 5, 20}[run%4]
		var trace []logbook.Point
		for range 400 {
			at = at.Add(time.Duration([]float64{1, 1, 5, 30, 90, 600}[random.IntN(6)] * float64(time.Second)))
			c += random.NormFloat64() * []float64{0.1, 0.5, 3}[random.IntN(3)]
			trace = append(trace, logbook.Point{At: at, C: float64(int(c*10)) / 10})
		}
		up, seen := climb{trace: trace, fastest: fastest}, 0
		for i := range trace {
			got, want := up.rises(i), rises(trace, i, fastest)
			if got != want {
				t.Fatalf("run %d: reading %d is said to rise %v, want %v", run, i, got, want)
			}
			if want {
				seen++
			}
		}
		if fastest < 5 && seen == 0 {
			t.Fatalf("run %d: nothing rises faster than %v C a minute", run, fastest)
		}
	}
}
