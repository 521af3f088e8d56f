package watch

import (
	"context"
	"math"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/forecast"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/rest"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

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
