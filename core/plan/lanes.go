package plan

import (
	"math"
	"slices"
	"time"

	"whitebarn/core/phase"
	"whitebarn/core/thermal"
)

func (w *work) laneOf(arm int) *Lane {
	i := slices.IndexFunc(w.out.Lanes, func(l Lane) bool { return l.Arm == arm })
	return &w.out.Lanes[i]
}

func moment(from time.Time, sorted []float64) Moment {
	at := func(p float64) time.Time { return from.Add(seconds(min(quantile(sorted, p), phase.Longest))) }
	return Moment{at(0.1), at(0.5), at(0.9)}
}

// lanes lays the phases of each arm on the clock.
func (w *work) lanes() {
	for i := range w.out.Lanes {
		l := &w.out.Lanes[i]
		arm, cuts := w.in.Arms[l.Arm], w.in.cutsOf(l.Arm)
		last := func(f func(cut, m int) float64) []float64 {
			return w.over(func(m int) float64 {
				top := math.Inf(-1)
				for _, c := range cuts {
					top = max(top, f(c, m))
				}
				return top
			})
		}
		l.Pull = moment(l.On, last(func(c, m int) float64 { return w.wait[c][m] + w.lengths[c].pull(m) }))
		l.Ready = w.ready(cuts)
		hold := w.over(func(m int) float64 {
			low := math.Inf(1)
			for _, c := range cuts {
				low = min(low, w.slack(c, m))
			}
			return max(low, 0)
		})
		l.HoldS = [3]float64{quantile(hold, 0.1), quantile(hold, 0.5), quantile(hold, 0.9)}
		w.leads(l)
		from := l.On
		smoke, after := 0, 0
		for n, p := range arm.Phases {
			var to Moment
			switch {
			case p.Kind.Lead():
				continue
			case arm.atFire(n):
				to = moment(l.On, last(func(c, m int) float64 { return w.wait[c][m] + w.lengths[c].ends[smoke][m] }))
				smoke++
			default:
				upto := after
				after++
				to = moment(l.On, last(func(c, m int) float64 { return w.afterwards(c, m, upto) }))
			}
			l.Blocks = append(l.Blocks, Block{n, from, to})
			from = to.Middle
		}
	}
}

// afterwards is when a phase after the pull ends, s from the arm's start. The
// hold ends so that what follows it ends as slicing begins.
func (w *work) afterwards(cut, member, upto int) float64 {
	at := w.wait[cut][member] + w.lengths[cut].pull(member)
	held := max(w.slack(cut, member), 0)
	for i, p := range w.in.Arms[w.in.Cuts[cut].Arm].afters()[:upto+1] {
		if p.Kind == phase.Hold {
			at += max(held, p.LeastS)
			held = 0
		} else {
			at += w.lengths[cut].afters[i][member]
		}
	}
	return at
}

// leads lays what is done before the fire on the clock, the last ending as the
// arm goes on.
func (w *work) leads(l *Lane) {
	arm := w.in.Arms[l.Arm]
	to := l.On
	for n := len(arm.Phases) - 1; n >= 0; n-- {
		p := arm.Phases[n]
		if !p.Kind.Lead() {
			continue
		}
		s, _ := p.Fixed()
		from := to.Add(-seconds(s))
		l.Blocks = append(l.Blocks, Block{n, from, Moment{to, to, to}})
		to = from
	}
	slices.Reverse(l.Blocks)
	l.Begin = to
}

// cuts says what is expected of each cut.
func (w *work) cuts() {
	for i, c := range w.in.Cuts {
		l := w.laneOf(c.Arm)
		usual := w.lengths[i].usual
		arm := w.in.Arms[c.Arm]
		pulled := usual.Ends[len(arm.smokes())-1]
		end := usual.Ends[len(usual.Ends)-1]
		p := CutPlan{ID: c.ID, On: l.On, Reached: w.lengths[i].reached, Loss: end.Loss, Tender: end.Index, Dryness: end.Dryness,
			PullC: pulled.Core, Ready: w.ready([]int{i})}
		p.Pull = moment(l.On, w.over(func(m int) float64 { return w.wait[i][m] + w.lengths[i].pull(m) }))
		if len(c.House) >= houseLeast {
			p.House = len(c.House)
		}
		for _, r := range usual.Readings {
			p.Curve = append(p.Curve, pointOf(l.On, r))
		}
		p.Curve = append(p.Curve, pointOf(l.On, end.Reading))
		w.out.Cuts = append(w.out.Cuts, p)
	}
	all := make([]int, len(w.in.Cuts))
	for i := range all {
		all[i] = i
	}
	w.out.Ready = w.ready(all)
}

// pointOf is where a probe in the middle stands: off the fire the coldest place is the surface.
func pointOf(on time.Time, r thermal.Reading) Point { return Point{on.Add(seconds(r.Time)), r.Probe} }
