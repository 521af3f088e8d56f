package watch

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"whitebarn/core/forecast"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/words"
)

// Way is something that can be done now, and what it would come to for a cut.
type Way struct {
	Name   string  `json:"name"`   // numbers in braces
	Spoils string  `json:"spoils"` // what of the trial it would break; empty: nothing
	Done   *Coming `json:"done"`
}

// WaysOut are the ways of one cut; the first is what is planned, or to leave it as it is.
type WaysOut struct {
	CutID   int64   `json:"cut_id"`
	TargetC float64 `json:"target_c"`
	Missing string  `json:"missing"`
	Ways    []Way   `json:"ways"`
}

// hotterC are pit temperatures to try above the set point: 275, 300 and 325 F.
var hotterC = []float64{135, 148.9, 162.8}

// mostHotter bounds how many of them are tried.
const mostHotter = 2

// Ways forecasts for every cut that is on what could be done about it now, side
// by side.
func (w *Watcher) Ways(ctx context.Context, cookID int64, now time.Time) ([]WaysOut, error) {
	c, err := w.ready(ctx, cookID, now)
	if err != nil {
		return nil, err
	}
	out := make([]WaysOut, len(c.burning))
	var work sync.WaitGroup
	for i, b := range c.burning {
		work.Go(func() { out[i] = w.waysOf(ctx, c, b) })
	}
	work.Wait()
	return out, ctx.Err()
}

func (w *Watcher) waysOf(ctx context.Context, c cook, b burning) WaysOut {
	out := WaysOut{CutID: b.ID, TargetC: c.target(b), Ways: []Way{}}
	l, err := w.log(ctx, c, b)
	if err != nil {
		out.Missing = "the record could not be read"
		return out
	}
	cal, doubts, err := w.calibrate(ctx, c, b, l)
	if err != nil || cal == nil {
		out.Missing = "the log contradicts the model"
		if len(doubts) > 0 {
			out.Missing = doubts[0].Words
		}
		return out
	}
	now := l.Stages[len(l.Stages)-1]
	place := b.run.Kind
	as := forecast.Ahead{Name: "done", Air: l.SetPoint, InPit: true, Exchange: now.Exchange, AirAdd: now.AirAdd, End: thermal.ByProbe, Value: out.TargetC}
	try := func(name, spoils string, ahead ...forecast.Ahead) {
		f, err := cal.Forecast(ctx, ahead)
		if err == nil {
			out.Ways = append(out.Ways, Way{name, spoils, coming(c, b, f.Coming[len(f.Coming)-1])})
		}
	}
	planned := c.planned(b, l)
	if len(planned) > 1 {
		try("As planned", "", planned...)
	}
	try("Leave it as it is", "", as)
	varied, held := c.spoils(trial.Wrap)
	spoils := held
	if varied {
		spoils = "The wrap is what is tried: this cut would no longer stand for its arm."
	}
	if now.Exchange.VapourResistance == 0 {
		for _, key := range []string{"paper", "foil"} {
			wrap, _ := thermal.WrapOf(key)
			a := as
			a.Exchange, a.AirAdd = place.Exchange(wrap), wrap.AirAdd
			try("Wrap in "+key+" now", spoils, a)
		}
	} else {
		a := as
		a.Exchange, a.AirAdd = place.Exchange(thermal.Wraps[0]), thermal.Wraps[0].AirAdd
		try("Unwrap now", spoils, a)
	}
	n := 0
	for _, l := range c.burning {
		if l.run.ID == b.run.ID {
			n++
		}
	}
	tried := 0
	for _, air := range hotterC {
		if air < l.SetPoint+5 || tried == mostHotter {
			continue
		}
		tried++
		hotter := slices.Clone(planned)
		for i := range hotter {
			hotter[i].Air += air - l.SetPoint
		}
		spoils := fmt.Sprintf("It changes all of %s, %s.", b.run.Pit, words.Plural(n, "cut"))
		if varied, _ := c.spoils(trial.PitTemperature); varied {
			spoils = "The pit's heat is what is tried: the arm would no longer be what was asked."
		} else if n < len(c.burning) {
			spoils += " The other pits would have to go with it."
		}
		try(fmt.Sprintf("%s to {C:%.1f}", b.run.Pit, air), spoils, hotter...)
	}
	return out
}

// spoils says whether a role is what is varied, and else what must be done to all
// arms so that they stay alike.
func (c cook) spoils(r trial.Role) (varied bool, otherwise string) {
	if c.trial.Ask.Varies(r) {
		return true, ""
	}
	return false, "All arms are alike in it: do it to every cut, or to none."
}
