package watch

import (
	"context"
	"math"
	"sync"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/rest"
	"whitebarn/core/settle"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/units"
)

// Resting is a cut from the pull to the knife: on the fire still, off it, or cut.
type Resting struct {
	CutID    int64       `json:"cut_id"`
	State    RestState   `json:"state"`
	Pull     *time.Time  `json:"pull"`
	Likely   *Coming     `json:"likely"` // of a cut that is on: its pull
	Knife    time.Time   `json:"knife"`  // it was, or is to be, cut
	Cut      bool        `json:"cut"`
	RestS    *float64    `json:"rest_s"` // from the pull to the knife
	NowC     *float64    `json:"now_c"`  // read in the last half hour
	NowAt    *time.Time  `json:"now_at"`
	PullC    *float64    `json:"pull_c"`
	PeakC    *float64    `json:"peak_c"` // as read, or to come
	PeakAt   *time.Time  `json:"peak_at"`
	Coming   []RestPoint `json:"coming"`
	Tender   []float64   `json:"tender"` // expected on nine points: at the pull, after half an hour, now, at the knife
	Window   rest.Window `json:"window"`
	From     *time.Time  `json:"from"` // it is within the window
	To       *time.Time  `json:"to"`   // nil: as far as is seen
	KnifeC   *float64    `json:"knife_c"`
	HolderID int64       `json:"holder_run_id"`
	HoldFrom *time.Time  `json:"hold_from"`
	Enough   *time.Time  `json:"enough"`      // a hold is: tender to the hand
	Early    *time.Time  `json:"enough_low"`  // at the earliest
	Late     *time.Time  `json:"enough_high"` // at the latest; nil is not before the knife
	Missing  string      `json:"missing"`     // why nothing is forecast; empty where it is
}

// RestState is where a cut is on its way to the knife.
type RestState string

// The states.
const (
	StillOn RestState = "on"
	IsRest  RestState = "resting"
	InHold  RestState = "held"
	IsCold  RestState = "chilled"
	IsCut   RestState = "cut"
	NotOn   RestState = "not on"
)

// Values lists the states.
func (RestState) Values() []string {
	return []string{string(NotOn), string(StillOn), string(IsRest), string(InHold), string(IsCold), string(IsCut)}
}

// RestPoint is where the probe will be, and how tender the cut is expected then.
type RestPoint struct {
	At     time.Time `json:"at"`
	Low    float64   `json:"low"`
	Middle float64   `json:"middle"`
	High   float64   `json:"high"`
	Tender float64   `json:"tender"`
}

// HolderNow is what a holder did while cuts were in it.
type HolderNow struct {
	RunID  int64    `json:"run_id"`
	Name   string   `json:"name"`
	SetC   float64  `json:"set_c"` // 0 is not said
	LowC   *float64 `json:"low_c"` // the lowest it swung to while it held; nil: not measured
	FloorC float64  `json:"floor_c"`
	Cuts   int      `json:"cuts"`
}

// Drop is what the oil did as something went in.
type Drop struct {
	PitRunID int64     `json:"pit_run_id"`
	At       time.Time `json:"at"`
	logbook.Oil
}

// RestView is a cook from the pull on.
type RestView struct {
	Now     time.Time   `json:"now"`
	Serve   time.Time   `json:"serve"`
	Knife   time.Time   `json:"knife"` // slicing begins
	Cuts    []Resting   `json:"cuts"`
	Even    rest.Even   `json:"even"`
	Holders []HolderNow `json:"holders"`
	Drops   []Drop      `json:"drops"`
}

// restFor is how long after the pull a cut is followed, and seen how far ahead.
const (
	restFor   = 30 * time.Hour
	restAhead = 2 * time.Hour
)

// Rest looks at every cut of a cook from the pull on.
func (w *Watcher) Rest(ctx context.Context, cookID int64, now time.Time) (RestView, error) {
	c, err := w.ready(ctx, cookID, now)
	if err != nil {
		return RestView{}, err
	}
	v := RestView{Now: c.now, Serve: c.ServeAt, Knife: c.ServeAt.Add(-time.Duration(c.outline.SliceS * float64(time.Second))), Cuts: make([]Resting, len(c.placed)),
		Holders: c.holdersNow(), Drops: c.drops()}
	ahead := map[int64]*Coming{}
	if len(c.burning) > 0 {
		out, err := w.Forecast(ctx, cookID, now)
		if err != nil {
			return v, err
		}
		for _, o := range out {
			ahead[o.CutID] = o.Done
		}
	}
	var work sync.WaitGroup
	for i, k := range c.placed {
		work.Go(func() { v.Cuts[i] = w.resting(ctx, c, k, v.Knife, ahead[k.ID]) })
	}
	work.Wait()
	if !c.trial.Ask.HoldsVary() {
		v.Even = rest.EvenOf(c.piecesOff(v.Cuts), settle.Allowed(settle.RestHours), time.Duration(c.outline.SliceS*float64(time.Second)))
	}
	return v, ctx.Err()
}

// piecesOff are the cuts that are off, or likely to be, by the time of the knife.
func (c cook) piecesOff(cuts []Resting) (out []rest.Piece) {
	for i, r := range cuts {
		arm := c.trial.Arm(c.placed[i].ArmID)
		if arm < 0 || r.State == NotOn {
			continue
		}
		p := rest.Piece{Name: c.trial.Ask.Arms[arm].Tag + " " + c.placed[i].Name, Arm: arm, Knife: r.Knife, Cut: r.Cut}
		switch {
		case r.Pull != nil:
			p.Pull = *r.Pull
		case r.Likely != nil:
			p.Pull = r.Likely.Middle
		default:
			continue
		}
		if p.Knife.After(p.Pull) {
			out = append(out, p)
		}
	}
	return out
}

func (w *Watcher) resting(ctx context.Context, c cook, k evidence.Cut, knife time.Time, likely *Coming) Resting {
	out := Resting{CutID: k.ID, State: NotOn, Knife: knife, Coming: []RestPoint{}, Tender: []float64{}}
	if _, on := k.On(); !on {
		return out
	}
	b := c.burn(k)
	last := c.lastRead(b)
	if !last.At.IsZero() {
		out.NowC, out.NowAt = &last.C, &last.At
	}
	out.Window = rest.WindowOf(c.target(b), c.trial.Ask.Species, phase.After(c.phases(b)))
	pull, pulled := k.Pulled()
	if !pulled {
		out.State, out.Likely = StillOn, likely
		if likely != nil {
			s := knife.Sub(likely.Middle).Seconds()
			out.RestS = &s
		}
		return out
	}
	out.Pull, out.State = &pull, c.stateOf(k)
	if at, cut := k.Carved(); cut {
		out.Knife, out.Cut, out.State = at, true, IsCut
	} else if !knife.After(c.now) {
		out.Knife = c.now
	}
	if run, from := k.HeldSince(c.now); run != 0 {
		out.HolderID, out.HoldFrom = run, &from
	}
	s := out.Knife.Sub(pull).Seconds()
	out.RestS = &s
	if c.now.Sub(pull) > restFor {
		out.Missing = "it was pulled long ago"
		return out
	}
	w.cooling(ctx, c, b, pull, &out)
	return out
}

// stateOf is where a cut that was pulled is now.
func (c cook) stateOf(k evidence.Cut) RestState {
	s := IsRest
	for _, a := range k.Acts {
		if a.At.After(c.now) {
			continue
		}
		switch a.Act {
		case logbook.Hold:
			s = InHold
		case logbook.Chill:
			s = IsCold
		case logbook.Pull, logbook.Reheat, logbook.Sear, logbook.Fry, logbook.Broil, logbook.Crisp, logbook.Torch:
			s = IsRest
		}
	}
	return s
}

// lastRead is what was read of a cut last, in the last half hour.
func (c cook) lastRead(b burning) (p logbook.Point) {
	trace := evidence.Deciding(c.coresKnown(b, c.now.Add(-30*time.Minute)), c.pullPlace(b))
	if n := len(trace); n > 0 {
		p = trace[n-1]
	}
	for _, a := range b.Acts {
		if a.Act == logbook.Probe && a.Detail.C != nil && !a.At.Before(p.At) && c.now.Sub(a.At) < 30*time.Minute && !a.At.After(c.now) {
			p = logbook.Point{At: a.At, C: *a.Detail.C}
		}
	}
	return p
}

// cooling forecasts a cut from its pull on, and follows what is read of it.
func (w *Watcher) cooling(ctx context.Context, c cook, b burning, pull time.Time, out *Resting) {
	cal, missing := w.atPull(ctx, c, b, pull)
	if cal == nil {
		out.Missing = missing
		return
	}
	ahead := rest.Ahead(c.staysAfter(b, pull, out.Knife))
	if len(ahead) == 0 {
		return
	}
	f, err := cal.Forecast(ctx, ahead)
	if err != nil {
		out.Missing = "the record could not be read"
		return
	}
	sincePull := c.now.Sub(pull).Seconds()
	pulledAt := pull.Sub(b.on).Seconds()
	var read []rest.Point
	for _, p := range evidence.Deciding(c.coresKnown(b, pull.Add(-5*time.Minute)), c.pullPlace(b)) {
		if !p.At.Before(pull) {
			read = append(read, rest.Point{Time: p.At.Sub(b.on).Seconds(), C: p.C})
		}
	}
	read = calm(read)
	nowC := math.NaN()
	if out.NowC != nil {
		nowC = *out.NowC
	}
	fan := rest.Followed(f.Fan, pulledAt+sincePull, nowC)
	path := rest.Path(read, fan)
	if len(read) == 0 {
		path = rest.Path(nil, f.Fan)
	}
	w.tell(b, f, fan, path, out)
}

// tell puts a forecast into words of time and temperature.
func (w *Watcher) tell(b burning, f forecast.Forecast, fan []forecast.FanPoint, path []rest.Point, out *Resting) {
	moment := func(s float64) *time.Time {
		if math.IsInf(s, 0) || math.IsNaN(s) {
			return nil
		}
		t := after(b.on, s)
		return &t
	}
	for _, p := range fan {
		out.Coming = append(out.Coming, RestPoint{after(b.on, p.Time), p.Probe.Low, p.Probe.Middle, p.Probe.High, rest.Tender(p.Index.Middle)})
	}
	if len(path) > 0 {
		out.PullC = &path[0].C
		peak, _ := rest.Peak(path)
		out.PeakC, out.PeakAt = &peak.C, moment(peak.Time)
	}
	if from, to, ok := rest.Within(path, out.Window); ok {
		out.From, out.To = moment(from), moment(to)
	}
	knife := out.Knife.Sub(b.on).Seconds()
	for i := 1; i < len(path); i++ {
		if path[i-1].Time <= knife && path[i].Time >= knife {
			a, z := path[i-1], path[i]
			c := a.C + (z.C-a.C)*(knife-a.Time)/math.Max(z.Time-a.Time, 1)
			out.KnifeC = &c
		}
	}
	index := func(t float64) float64 {
		for _, p := range f.Fan {
			if p.Time >= t {
				return rest.Tender(p.Index.Middle)
			}
		}
		return rest.Tender(f.Fan[len(f.Fan)-1].Index.Middle)
	}
	if len(f.Fan) > 0 {
		start := f.Fan[0].Time
		now := knife
		if len(fan) > 0 {
			now = min(fan[0].Time, knife)
		}
		out.Tender = []float64{index(start), index(start + 1800), index(now), index(knife)}
	}
	enough := rest.Enough(f.Fan)
	out.Enough, out.Early, out.Late = moment(enough.Middle), moment(enough.Low), moment(enough.High)
}

// calm is the running median over three readings.
func calm(in []rest.Point) []rest.Point {
	out := make([]rest.Point, len(in))
	for i, p := range in {
		out[i] = p
		if i > 0 && i+1 < len(in) {
			out[i].C = forecast.MedianC(in[i-1 : i+2])
		}
	}
	return out
}

// atPull is the model fitted to the log of a cut up to its pull, kept while the log stays.
func (w *Watcher) atPull(ctx context.Context, c cook, b burning, pull time.Time) (*forecast.Calibration, string) {
	then := c
	then.now = pull
	l, err := w.log(ctx, then, b)
	if err != nil {
		return nil, "the record could not be read"
	}
	key := restKey{b.ID, pull, len(l.Probe), len(l.Pit), len(l.Stages)}
	w.mu.Lock()
	cal := w.pulled[key]
	w.mu.Unlock()
	if cal != nil {
		return cal, ""
	}
	cal, doubts, err := w.calibrate(ctx, then, b, l)
	switch {
	case err != nil:
		return nil, "no thermometer was in it before the pull"
	case cal == nil && len(doubts) > 0:
		return nil, doubts[0].Words
	case cal == nil:
		return nil, "the log contradicts the model"
	}
	w.mu.Lock()
	if len(w.pulled) > mostPulled {
		clear(w.pulled)
	}
	w.pulled[key] = cal
	w.mu.Unlock()
	return cal, ""
}

// restKey names a fit by the cut and by how much there was to fit.
type restKey struct {
	cut                int64
	pull               time.Time
	probe, pit, stages int
}

const mostPulled = 64

// staysAfter are the places of a cut from its pull: as logged up to now, then as planned
// up to the knife, and for a while as it lies then.
func (c cook) staysAfter(b burning, pull, knife time.Time) (out []rest.Stay) {
	wrap := thermal.Wraps[0]
	for _, k := range b.Changes(c.trial.Ask.Said(c.trial.ArmOf(b.Cut), trial.Wrap), c.now) {
		if !k.At.After(pull) {
			wrap = k.Wrap
		}
	}
	phases := c.phases(b)
	lies := func(s float64) rest.Stay { return rest.Room(tented(wrap, phases), s) }
	held, at := false, pull
	step := func(to time.Time) {
		out = append(out, lies(to.Sub(at).Seconds()))
		at = to
	}
	for _, a := range b.Acts {
		if !a.At.After(pull) || a.At.After(c.now) {
			continue
		}
		switch a.Act {
		case logbook.Wrap, logbook.Unwrap:
			step(a.At)
			wrap = thermal.Wraps[0]
			if a.Act == logbook.Wrap {
				wrap = evidence.Material(a.Detail, c.trial.Ask.Said(c.trial.ArmOf(b.Cut), trial.Wrap))
			}
		case logbook.Hold:
			step(a.At)
			air := c.holderAir(b.Cut, a.At)
			held = true
			lies = func(s float64) rest.Stay { return rest.In("box", air, wrap, s) }
		case logbook.Chill:
			step(a.At)
			held = true
			lies = func(s float64) rest.Stay { return rest.In("fridge", fridgeC, wrap, s) }
		}
	}
	if knife.Before(c.now) || b.carvedBefore(c.now) {
		step(knife)
		return out
	}
	step(c.now)
	planned := rest.Planned(phases, c.now.Sub(pull).Seconds(), knife.Sub(c.now).Seconds(), wrap, held)
	if len(planned) == 0 {
		planned = []rest.Stay{lies(knife.Sub(c.now).Seconds())}
	}
	last := planned[len(planned)-1]
	last.S = restAhead.Seconds()
	return append(append(out, planned...), last)
}

const fridgeC = 3.5

// tented is a bare cut under the tent that its rest is planned under.
func tented(wrap thermal.Wrap, phases []phase.Phase) thermal.Wrap {
	if wrap != thermal.Wraps[0] {
		return wrap
	}
	for _, p := range phase.After(phases) {
		if w, err := thermal.WrapOf(p.Wrap); err == nil && p.Kind == phase.Rest {
			return w
		}
	}
	return wrap
}

func (b burning) carvedBefore(t time.Time) bool {
	at, ok := b.Carved()
	return ok && !at.After(t)
}

// holderAir is what a holder keeps: as it measured since, else as it is set, else the usual.
func (c cook) holderAir(k evidence.Cut, from time.Time) float64 {
	run := k.Holder()
	var sum, n float64
	for _, p := range c.probes {
		if !c.trial.InHolder(p, run) {
			continue
		}
		for _, r := range between(c.traces[p.Key()], from, c.now) {
			sum, n = sum+r.C, n+1
		}
	}
	if n > 0 {
		return sum / n
	}
	for _, h := range c.trial.Holders {
		if h.ID == run && h.SetC > 0 {
			return h.SetC
		}
	}
	return units.FToC(150)
}

// holdersNow is what the holders did while cuts of the cook were in them.
func (c cook) holdersNow() []HolderNow {
	out := []HolderNow{}
	for _, h := range c.trial.Holders {
		if h.CookID != c.ID {
			continue
		}
		n := HolderNow{RunID: h.ID, Name: h.Holder, SetC: h.SetC, FloorC: c.house.At(c.trueNow).HoldC}
		for _, k := range c.placed {
			run, from := k.HeldSince(c.now)
			if run != h.ID {
				continue
			}
			n.Cuts++
			to := c.now
			if at, cut := k.Carved(); cut && at.Before(to) {
				to = at
			}
			for _, p := range c.probes {
				if !c.trial.InHolder(p, h.ID) {
					continue
				}
				for _, r := range between(c.traces[p.Key()], from, to) {
					if n.LowC == nil || r.C < *n.LowC {
						n.LowC = &r.C
					}
				}
			}
		}
		if n.Cuts > 0 {
			out = append(out, n)
		}
	}
	return out
}

// drops are what the oil did, of each fry that was logged in a pit with a probe in it.
func (c cook) drops() []Drop {
	out := []Drop{}
	seen := map[time.Time]bool{}
	for _, a := range c.trial.Acts {
		if a.Act != logbook.Fry || a.At.After(c.now) || seen[a.At] {
			continue
		}
		for _, r := range c.trial.Runs {
			if r.CookID != c.ID || r.Kind.Key != "oil" {
				continue
			}
			for _, p := range c.probes {
				if p.PitRunID == r.ID {
					if o := logbook.OilOf(between(c.traces[p.Key()], a.At.Add(-5*time.Minute), c.now), a.At, r.SetAt(a.At)); o.Watched {
						out, seen[a.At] = append(out, Drop{r.ID, a.At, o}), true
					}
				}
			}
		}
	}
	return out
}
