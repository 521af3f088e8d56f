package thermal

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
	"whitebarn/core/safety"
)

// Quantity is what an end condition watches.
type Quantity string

// End conditions. Below ends once the value is at or under it, the others
// once at or over.
const (
	ByTime       Quantity = "time"        // s since the phase began
	ByCore       Quantity = "core"        // C, coldest point
	ByProbe      Quantity = "probe"       // C, where the probe is
	ByCoreBelow  Quantity = "core_below"  // C, coldest point, cooling
	ByProbeBelow Quantity = "probe_below" // C, where the probe is, cooling
	ByLoss       Quantity = "loss"        // share of the start mass
	ByTender     Quantity = "tender"      // index of the least tender place
	ByCrust      Quantity = "crust"       // kg/m2 of water the crust has lost: how set the bark is
	ByRendered   Quantity = "rendered"    // share of the fat rendered
	BySurface    Quantity = "surface"     // C, of its surface
)

// Until is one end condition.
type Until struct {
	Watch Quantity `json:"end"`
	Value float64  `json:"value"`
}

// mostUntil end conditions a phase may have.
const mostUntil = 4

// Phase is a stretch of a cook with one wrap and one way to end.
type Phase struct {
	Name     string
	Air      float64 // C, set point; unused when Log is given
	Log      *Trace  // what the pit did, in s since the start of the cook
	Offset   float64 // C, of the grate position
	Exchange Exchange
	Liquid   float64 // kg poured in at the start, until the end of the phase
	LiquidAt float64 // C
	Spritz   float64 // kg/m2 at the start; if it comes again, at SpritzFrom and every SpritzEvery from then
	// SpritzFrom and SpritzEvery are s into the phase; without an interval a spritz comes once.
	SpritzFrom, SpritzEvery float64
	End                     Quantity
	Value                   float64
	More                    []Until // further end conditions
	All                     bool    // the phase ends once all hold at the same time, not at the first
	Longest                 float64 // s; 0 is four days
}

// PhaseEnd is the state when a phase ended.
type PhaseEnd struct {
	Name    string
	Reached bool // false when the longest time ran out first
	Reading
}

// Run is one cut through its phases.
type Run struct {
	Cut    Cut
	Crust  Crust
	Phases []Phase
}

// Result is what a run came to. Readings are evenly spaced when asked for.
type Result struct {
	Ends      []PhaseEnd
	Readings  []Reading
	Masses    Masses
	Balance   Balance
	IndexMean float64
	Peak      float64    // C, highest the probe saw
	Lethality [2]float64 // share of the lethality of red meat and of poultry at the coldest point; 1 is enough
	Steps     int
}

const longestPhase = 4 * 24 * 3600.0

func (p Phase) check() error {
	if p.Log == nil {
		if err := within([]bound{{"air_C", p.Air + p.Offset, lowestAir, hottestAir, " C"}}); err != nil {
			return err
		}
	}
	if err := p.Exchange.check(); err != nil {
		return err
	}
	if err := within([]bound{
		{"air_offset_C", p.Offset, -60, 60, " C"},
		{"spritz_kg_m2", p.Spritz, 0, 2, " kg/m2"},
		{"spritz_from_s", p.SpritzFrom, 0, longestPhase, " s"},
		{"spritz_every_s", p.SpritzEvery, 0, longestPhase, " s"},
		{"max_s", p.Longest, 0, longestPhase, " s"},
	}); err != nil {
		return err
	}
	if n := 1 + len(p.More); n > mostUntil {
		return fault.New("more", fmt.Sprintf("the phase has %d end conditions", n), fmt.Sprintf("give up to %d", mostUntil))
	}
	if err := (Until{p.End, p.Value}).check(); err != nil {
		return err
	}
	for i, u := range p.More {
		if err := u.check(); err != nil {
			return fault.In(fmt.Sprintf("more.%d", i+1), err)
		}
	}
	return nil
}

func (u Until) check() error {
	switch u.Watch {
	case ByTime:
		return within([]bound{{"value", u.Value, 0, longestPhase, " s"}})
	case ByCore, ByProbe, ByCoreBelow, ByProbeBelow, BySurface:
		return within([]bound{{"value", u.Value, lowestAir, hottestAir, " C"}})
	case ByLoss, ByTender, ByCrust, ByRendered:
		return within([]bound{{"value", u.Value, 0, 1e6, ""}})
	}
	return fault.New("end", fmt.Sprintf("%q is no way for a phase to end", u.Watch),
		"give time, core, probe, core_below, probe_below, loss, tender, crust, rendered or surface")
}

// done says whether the condition holds at this value.
func (u Until) done(at float64) bool {
	if u.Watch == ByCoreBelow || u.Watch == ByProbeBelow {
		return at <= u.Value
	}
	return at >= u.Value
}

// Simulate takes a cut through its phases. Readings are kept every so many
// seconds; none when every is 0.
func Simulate(run Run, set Settings, every float64) (Result, error) {
	b, err := NewBody(run.Cut, run.Crust, set)
	if err != nil {
		return Result{}, err
	}
	var out Result
	err = b.Follow(run.Phases, every, &out)
	return out, err
}

// Follow takes the body through phases, writing over out and reusing its
// memory. It allocates only where out has no room yet.
func (b *Body) Follow(phases []Phase, every float64, out *Result) error {
	*out = Result{Ends: out.Ends[:0], Readings: out.Readings[:0], Peak: math.Inf(-1)}
	f := follower{Body: b, every: every, due: b.clock, out: out}
	for i := range phases {
		p := &phases[i]
		if err := p.check(); err != nil {
			return fault.In(fmt.Sprintf("phases.%d", i+1), err)
		}
		if err := f.phase(p); err != nil {
			return err
		}
	}
	out.Masses, out.Balance = b.Masses(), b.Balance()
	out.IndexMean = b.mean(b.now.collagen) / b.cut.CollagenTime
	return nil
}

// follower is a body under way through a list of phases.
type follower struct {
	*Body
	every, due float64
	near       int        // place in the pit's log
	rate       [2]float64 // of lethality, at the last step
	out        *Result
}

func (f *follower) phase(p *Phase) error {
	wet := math.Inf(1) // when the next spritz comes
	switch {
	case p.Spritz > 0 && p.SpritzEvery > 0:
		wet = f.clock + max(p.SpritzFrom, firstStep)
	case p.Spritz > 0:
		f.Spritz(p.Spritz)
	}
	if p.Liquid > 0 {
		if err := f.Pour(p.Liquid, p.LiquidAt); err != nil {
			return err
		}
		defer f.Drain()
	}
	var many [mostUntil]Until
	until := append(append(many[:0], Until{p.End, p.Value}), p.More...)
	longest := p.Longest
	if longest == 0 {
		longest = longestPhase
	}
	byTime := p.End == ByTime && len(p.More) == 0
	if byTime {
		longest = p.Value
	}
	start := f.clock
	f.dt = min(f.dt, firstStep)
	f.keep(p, 0)
	was, is := f.watch(until, &f.now, 0), [mostUntil]float64{}
	reached := byTime || over(until, p.All, was)
	for (byTime || !reached) && f.clock-start < longest-1e-9 {
		if f.clock >= wet-1e-9 {
			f.Spritz(p.Spritz)
			wet += max(p.SpritzEvery, shortestStep)
		}
		dt := f.advance(p, min(f.dt, longest-(f.clock-start), wet-f.clock))
		if !byTime {
			is = f.watch(until, &f.next, f.clock+dt-start)
			if reached = over(until, p.All, is); reached {
				dt = f.shorten(p, dt, crossing(until, p.All, was, is))
			}
			was = is
		}
		f.keep(p, dt)
		f.commit(dt)
	}
	f.out.Ends = append(f.out.Ends, PhaseEnd{Name: p.Name, Reached: reached, Reading: f.reading(&f.now, f.clock, f.air(p, f.clock, 0).whole)})
	return nil
}

// watch is what each condition looks at, elapsed s into the phase.
func (f *follower) watch(until []Until, s *state, elapsed float64) (at [mostUntil]float64) {
	for i, u := range until {
		at[i] = f.watched(u.Watch, s, elapsed)
	}
	return at
}

// over says whether a phase ends here.
func over(until []Until, all bool, at [mostUntil]float64) bool {
	for i, u := range until {
		if u.done(at[i]) != all {
			return !all
		}
	}
	return all
}

// crossing is the share of a step after which its phase ends: when the first
// of the conditions is crossed, or the last of them.
func crossing(until []Until, all bool, was, is [mostUntil]float64) float64 {
	share := 1.0
	if all {
		share = 0
	}
	for i, u := range until {
		if !u.done(is[i]) || u.done(was[i]) {
			continue
		}
		at := (u.Value - was[i]) / (is[i] - was[i])
		if all {
			share = max(share, at)
		} else {
			share = min(share, at)
		}
	}
	return share
}

// advance leaves an accepted step in next and returns its length.
func (f *follower) advance(p *Phase, dt float64) float64 {
	for {
		err := f.attempt(&p.Exchange, dt, f.air(p, f.clock, dt))
		f.out.Steps++
		grow := 2.0
		if err > 0 {
			grow = min(max(0.85/math.Sqrt(err), 0.2), 2)
		}
		f.dt = min(max(dt*grow, shortestStep), longestStep)
		if err <= 1 || dt <= shortestStep {

			f.ripen(dt)
			return dt
		}
		dt = f.dt
	}
}

func (f *follower) air(p *Phase, from, dt float64) air {
	if p.Log == nil {
		t := p.Air + p.Offset
		return air{t, t, t}
	}
	if dt == 0 {
		t := p.Log.At(from) + p.Offset
		return air{t, t, t}
	}
	a := p.Log.areaUntil(from, &f.near)
	m := p.Log.areaUntil(from+dt/2, &f.near)
	e := p.Log.areaUntil(from+dt, &f.near)
	return air{(e-a)/dt + p.Offset, (m-a)/(dt/2) + p.Offset, (e-m)/(dt/2) + p.Offset}
}

// shorten goes back to the share of a step at which the phase ends.
func (f *follower) shorten(p *Phase, dt, share float64) float64 {
	if !(share > 0 && share < 1) {
		return dt
	}
	dt *= share
	f.attempt(&p.Exchange, dt, f.air(p, f.clock, dt))
	f.ripen(dt)
	return dt
}

func (b *Body) watched(q Quantity, s *state, elapsed float64) float64 {
	switch q {
	case ByTime:
		return elapsed
	case ByCore, ByCoreBelow:
		return b.core(s)
	case ByProbe, ByProbeBelow:
		return b.at(s, b.cut.ProbeDepth)
	case ByLoss:
		return b.loss(s)
	case ByTender:
		return b.index(s)
	case ByCrust:
		return -s.film
	case ByRendered:
		return 1 - b.mean(s.unmelted)
	case BySurface:
		return s.skin
	}
	return 0
}

// keep writes down the readings that fall due in the step of dt about to be taken.
func (f *follower) keep(p *Phase, dt float64) {
	s := &f.now
	if dt > 0 {
		s = &f.next
	}
	f.out.Peak = max(f.out.Peak, f.at(s, f.cut.ProbeDepth))
	f.lethality(s, dt)
	if f.every == 0 || f.due > f.clock+dt {
		return
	}
	from := f.reading(&f.now, f.clock, f.air(p, f.clock, 0).whole)
	to := f.reading(s, f.clock+dt, f.air(p, f.clock+dt, 0).whole)
	for ; f.due <= to.Time; f.due += f.every {
		u := 0.0
		if dt > 0 {
			u = (f.due - from.Time) / dt
		}
		f.out.Readings = append(f.out.Readings, between(from, to, u))
	}
}

// lethality adds what the coldest point does to germs in a step.
func (f *follower) lethality(s *state, dt float64) {
	if f.out.Lethality[0] >= 1 && f.out.Lethality[1] >= 1 {
		return // enough is kept
	}
	cold := f.core(s)
	for i, species := range [...]safety.Species{safety.RedMeat, safety.Poultry} {
		rate := 0.0
		if cold > germsDie {
			rate = safety.LethalRate(safety.Meat{Species: species, Handling: safety.Intact}, cold)
		}
		f.out.Lethality[i] = min(1, f.out.Lethality[i]+dt*(rate+f.rate[i])/2)
		f.rate[i] = rate
	}
}

// germsDie is a temperature in C under which no table gives credit.
const germsDie = 54.0

func between(a, b Reading, u float64) Reading {
	mix := func(x, y float64) float64 { return x + u*(y-x) }
	return Reading{
		Time: mix(a.Time, b.Time), Air: mix(a.Air, b.Air), Core: mix(a.Core, b.Core), Probe: mix(a.Probe, b.Probe),
		Surface: mix(a.Surface, b.Surface), Loss: mix(a.Loss, b.Loss), Index: mix(a.Index, b.Index),
		Dryness: mix(a.Dryness, b.Dryness), Film: mix(a.Film, b.Film), Rendered: mix(a.Rendered, b.Rendered),
	}
}
