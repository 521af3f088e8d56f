package plan

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/phase"
)

// Moment is a time that is not certain: four times in five it lies between
// early and late.
type Moment struct {
	Early  time.Time `json:"early"`
	Middle time.Time `json:"middle"`
	Late   time.Time `json:"late"`
}

// Block is a phase of an arm on the clock.
type Block struct {
	Phase int       `json:"phase"` // place in the arm's phases
	From  time.Time `json:"from"`
	To    Moment    `json:"to"`
}

// Lane is an arm worked back from the table.
type Lane struct {
	Arm     int        `json:"arm"`
	On      time.Time  `json:"on"`      // what the plan goes by
	Advised time.Time  `json:"advised"` // so that the planned hold is likely kept
	Latest  time.Time  `json:"latest"`  // for the chance wanted, the hold at its least
	Begin   time.Time  `json:"begin"`   // of the first thing done for it
	Pull    Moment     `json:"pull"`    // of its last cut
	Ready   float64    `json:"ready"`   // chance
	HoldS   [3]float64 `json:"hold_s"`  // that comes of it: low, middle, high
	Blocks  []Block    `json:"blocks"`
}

// CutPlan is what is expected of one cut.
type CutPlan struct {
	ID      int64     `json:"id"`
	On      time.Time `json:"on"`
	Pull    Moment    `json:"pull"`
	Ready   float64   `json:"ready"`
	Loss    float64   `json:"loss"`    // share of the weight, at the table
	Tender  float64   `json:"tender"`  // 1 is tender to the hand
	Dryness float64   `json:"dryness"` // share of the start water gone
	PullC   float64   `json:"pull_C"`
	Reached bool      `json:"reached"` // the usual cut meets every end condition
	House   int       `json:"house"`   // cooks of the barn it is reckoned from; 0 is the model alone
	Curve   []Point   `json:"curve"`
}

// Point is a place on the curve of the usual cut.
type Point struct {
	At   time.Time `json:"at"`
	Core float64   `json:"core_C"` // at a probe in the middle
}

// Late is what happens when it does not go well.
type Late struct {
	ByS   float64 `json:"by_s"`   // how late it is one time in ten; 0 is in time
	HoldS float64 `json:"hold_s"` // the shortest hold that is left then
	Words string  `json:"words"`
}

// Plan is a cook worked back from its serving time.
type Plan struct {
	Now       time.Time  `json:"now"` // of the cook's clock
	Serve     time.Time  `json:"serve"`
	Deadline  time.Time  `json:"deadline"` // when slicing begins
	Ready     float64    `json:"ready"`    // chance that all is ready by then
	Late      Late       `json:"late"`
	Lanes     []Lane     `json:"lanes"`
	Cuts      []CutPlan  `json:"cuts"`
	Pits      []PitPlan  `json:"pits"`
	Tasks     []Task     `json:"tasks"`
	Conflicts []Conflict `json:"conflicts"`
}

// work is a plan in the making.
type work struct {
	in      Input
	out     *Plan
	lengths []length
	members int
	wait    [][]float64 // of each cut, of each member: s behind its start
	afters  [][]float64 // of each cut, of each member: s after the pull, the hold not counted
}

// Of works a cook back from its serving time.
func Of(ctx context.Context, in Input) (Plan, error) {
	if err := in.Check(); err != nil {
		return Plan{}, err
	}
	lengths, err := lengthsOf(ctx, in)
	if err != nil {
		return Plan{}, err
	}
	return schedule(in, lengths), nil
}

func schedule(in Input, lengths []length) Plan {
	out := Plan{Now: in.Now, Serve: in.Serve, Deadline: in.Serve.Add(-seconds(in.SliceS)), Conflicts: []Conflict{}, Tasks: []Task{}}
	w := &work{in: in, out: &out, lengths: lengths, members: len(lengths[0].ends[0])}
	w.afters = make([][]float64, len(in.Cuts))
	for i, c := range in.Cuts {
		w.afters[i] = make([]float64, w.members)
		for p, after := range in.Arms[c.Arm].afters() {
			if after.Kind != phase.Hold {
				for m := range w.members {
					w.afters[i][m] += lengths[i].afters[p][m]
				}
			}
		}
	}
	w.starts()
	w.queue()
	w.lanes()
	w.cuts()
	w.late()
	w.pits()
	w.tasks()
	w.conflicts()
	return out
}

// done is when a member's cut could be held, s after it was to go on.
func (w *work) done(cut, member int) float64 {
	return w.lengths[cut].pull(member) + w.afters[cut][member]
}

// step to which starts are rounded, to the safe side.
const startStep = 5 * time.Minute

// starts sets the latest and the advised start of every arm. The latest ones
// go together: each arm is given the same share of its own bad luck, the
// smallest with which the chance that all are ready is the one wanted.
func (w *work) starts() {
	used := w.in.used()
	done := make([][]float64, len(used)) // of each arm, of each member: its last cut
	sorted := make([][]float64, len(used))
	for i, a := range used {
		done[i] = make([]float64, w.members)
		for m := range w.members {
			for _, c := range w.in.cutsOf(a) {
				done[i][m] = max(done[i][m], w.done(c, m))
			}
		}
		sorted[i] = slices.Sorted(slices.Values(done[i]))
	}
	chance := func(share float64) float64 {
		n := 0
		for m := range w.members {
			all := true
			for i := range used {
				all = all && done[i][m] <= quantile(sorted[i], share)
			}
			if all {
				n++
			}
		}
		return float64(n) / float64(w.members)
	}
	low, top := 0.0, 1.0
	for range 20 {
		if mid := (low + top) / 2; chance(mid) >= w.in.Chance {
			top = mid
		} else {
			low = mid
		}
	}
	for i, a := range used {
		planned, least := 0.0, 0.0
		if h := w.in.Arms[a].hold(); h != nil {
			planned, _ = h.Fixed()
			least = h.LeastS
		}
		l := Lane{Arm: a}
		l.Latest = w.out.Deadline.Add(-seconds(least + quantile(sorted[i], top))).Truncate(startStep)
		l.Advised = w.out.Deadline.Add(-seconds(planned + quantile(sorted[i], 0.5))).Truncate(startStep)
		if l.Latest.Before(l.Advised) {
			l.Advised = l.Latest
		}
		l.On = l.Advised
		if on := w.wentOn(a); !on.IsZero() {
			l.On = on
		} else if earliest := w.earliest(a); w.ahead() && l.On.Before(earliest) {
			l.On = earliest
		}
		w.out.Lanes = append(w.out.Lanes, l)
	}
}

// ahead says whether the table is still to come; a cook of the past is worked
// out as if it were.
func (w *work) ahead() bool { return w.in.Now.Before(w.in.Serve) }

// wentOn is when the first cut of an arm went on; zero while none has.
func (w *work) wentOn(arm int) time.Time {
	var first time.Time
	for _, c := range w.in.cutsOf(arm) {
		if on := w.in.Cuts[c].On; !on.IsZero() && (first.IsZero() || on.Before(first)) {
			first = on
		}
	}
	return first
}

// earliest is when an arm could go on, were its pits lit now.
func (w *work) earliest(arm int) time.Time {
	warm := 0.0
	for _, c := range w.in.cutsOf(arm) {
		warm = max(warm, w.in.Pits[w.in.Cuts[c].Pit].WarmS)
	}
	return w.in.Now.Add(seconds(warm))
}

// quantile of sorted values, linear between them.
func quantile(sorted []float64, p float64) float64 {
	at := p * float64(len(sorted)-1)
	i := min(int(at), len(sorted)-2)
	if i < 0 {
		return sorted[0]
	}
	return sorted[i] + (at-float64(i))*(sorted[i+1]-sorted[i])
}

// queue lets the cuts of each pit wait for a free place, member by member.
func (w *work) queue() {
	w.wait = make([][]float64, len(w.in.Cuts))
	for i := range w.wait {
		w.wait[i] = make([]float64, w.members)
	}
	for p, pit := range w.in.Pits {
		var mine []int
		for i, c := range w.in.Cuts {
			if c.Pit == p {
				mine = append(mine, i)
			}
		}
		stays := make([]stay, len(mine))
		for m := range w.members {
			for n, i := range mine {
				c := w.in.Cuts[i]
				stays[n] = stay{want: w.laneOf(c.Arm).On.Sub(w.out.Deadline).Seconds(), takes: w.lengths[i].pull(m), place: c.Position, set: w.in.Arms[c.Arm].smokes()[0].SetC}
			}
			for n, late := range waits(stays, pit.Positions) {
				w.wait[mine[n]][m] = late
			}
		}
	}
}

// slack is how long before slicing a member's cut could be held, in s; what a
// hold takes of it at least is not yet off.
func (w *work) slack(cut, member int) float64 {
	on := w.laneOf(w.in.Cuts[cut].Arm).On
	return w.out.Deadline.Sub(on).Seconds() - w.wait[cut][member] - w.done(cut, member)
}

func (w *work) least(cut int) float64 {
	if h := w.in.Arms[w.in.Cuts[cut].Arm].hold(); h != nil {
		return h.LeastS
	}
	return 0
}

// ready is the share of members in which all these cuts are.
func (w *work) ready(cuts []int) float64 {
	n := 0
	for m := range w.members {
		all := true
		for _, c := range cuts {
			all = all && w.slack(c, m) >= w.least(c)
		}
		if all {
			n++
		}
	}
	return float64(n) / float64(w.members)
}

// over gathers a number of each member, sorted.
func (w *work) over(f func(member int) float64) []float64 {
	out := make([]float64, w.members)
	for m := range out {
		out[m] = f(m)
	}
	slices.Sort(out)
	return out
}
