package watch

import (
	"context"
	"sync"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/rest"
	"whitebarn/core/settle"
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
	read, err := w.store.Calibrations(ctx, 0)
	if err != nil {
		return RestView{}, err
	}
	v := RestView{Now: c.now, Serve: c.ServeAt, Knife: c.ServeAt.Add(-time.Duration(c.outline.SliceS * float64(time.Second))),
		Cuts:    make([]Resting, len(c.placed)),
		Holders: c.holdersNow(read), Drops: c.drops()}
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
	out.Window = rest.WindowOf(c.target(b), c.trial.Ask.Species, c.house.At(c.trueNow), phase.After(c.phases(b)))
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
