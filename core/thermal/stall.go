package thermal

// Stall is a stretch of a cook in which the core hardly rises.
type Stall struct {
	From, To float64 // s
	Core     float64 // C at its start
}

const (
	stallWindow   = 1800.0     // s over which the rate is taken
	stallShare    = 0.4        // of the fastest rate before
	stallRate     = 5.0 / 3600 // C/s
	stallShortest = 1800.0     // s
	stallLow      = 50.0       // C, between these a stall is a stall
	stallTop      = 90.0
)

// StallOf finds the longest stall in a core trace with times in s, rising:
// where the rate over the half hour around is under two fifths of the fastest
// before it and under 5 C an hour, for half an hour at least, between 50 and
// 90 C. The second value is false when there is none.
func StallOf(times, core []float64) (Stall, bool) {
	var best, run Stall
	fastest, inRun := 0.0, false
	low, top := 0, 0
	for i, t := range times {
		for times[low] < t-stallWindow/2 {
			low++
		}
		for top+1 < len(times) && times[top+1] <= t+stallWindow/2 {
			top++
		}
		if t-times[0] < stallWindow/2 || times[len(times)-1]-t < stallWindow/2 || top == low {
			continue
		}
		rate := (core[top] - core[low]) / (times[top] - times[low])
		slow := rate < min(stallShare*fastest, stallRate) && core[i] > stallLow && core[i] < stallTop
		fastest = max(fastest, rate)
		if slow && !inRun {
			run = Stall{From: t, Core: core[i]}
		}
		if inRun = slow; slow {
			run.To = t
			if run.To-run.From > best.To-best.From {
				best = run
			}
		}
	}
	return best, best.To-best.From >= stallShortest
}
