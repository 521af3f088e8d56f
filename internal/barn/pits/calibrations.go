package pits

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/store"
)

// usualMonths is how long a calibration stands when nothing else is said (ours).
const usualMonths = 6

// mostDrawn is how many readings of a pan are handed out to be drawn.
const mostDrawn = 200

// mostBefore is how long before now a pan can have been put in.
const mostBefore = 72 * time.Hour

// PanInput is a covered pan of water that is put into a holder.
type PanInput struct {
	ProbeID int64      `json:"probe_id" binding:"min=1"`
	Dial    string     `json:"dial" binding:"required,max=20"`
	Target  string     `json:"target" binding:"required,max=20"`
	PutIn   *time.Time `json:"put_in_at"` // nil is now
	Months  int        `json:"months" binding:"min=0,max=60"`
}

// HolderView is a holder, what it was calibrated to and what relies on it.
type HolderView struct {
	Holder       store.Holder        `json:"holder"`
	FloorC       float64             `json:"floor_c"`
	Source       string              `json:"source"`
	Now          time.Time           `json:"now"`
	Probes       []store.ProbeNow    `json:"probes"`
	Calibrations []store.Calibration `json:"calibrations"` // latest first
	Ends         []time.Time         `json:"ends"`         // of each that is saved: it stands until then
	Pan          *PanView            `json:"pan"`          // of the latest, where its readings are there
	Holds        []HoldView          `json:"holds"`
}

// PanView is what the pan shows so far.
type PanView struct {
	CalibrationID int64         `json:"calibration_id"`
	Told          pit.PanOutput `json:"told"`
	Readings      []pit.Elapsed `json:"readings"` // since it was put in, thinned
}

// HoldView is a hold and the calibration it relies on.
type HoldView struct {
	store.Hold
	Over bool         `json:"over"`
	On   pit.Reliance `json:"on"`
}

// HolderOf looks at a holder.
func HolderOf(ctx context.Context, b *barn.Barn, id int64) (HolderView, error) {
	return holderView(ctx, b.Store, id, b.Now())
}

func holderView(ctx context.Context, s *store.Store, id int64, now time.Time) (out HolderView, err error) {
	out.Now, out.Source = now, pit.HolderSource
	holders, err := s.Holders(ctx)
	if err != nil {
		return out, err
	}
	i := slices.IndexFunc(holders, func(h store.Holder) bool { return h.ID == id })
	if i < 0 {
		return out, store.ErrNotFound
	}
	out.Holder = holders[i]
	lines, err := gate.New(s, func() time.Time { return now }).Lines(ctx)
	if err != nil {
		return out, err
	}
	out.FloorC = lines.Lines.HoldC
	all, err := s.Probes(ctx, 0)
	if err != nil {
		return out, err
	}
	out.Probes = slices.DeleteFunc(all, func(p store.ProbeNow) bool { return p.Measures == "weight" })
	if out.Calibrations, err = s.Calibrations(ctx, id); err != nil {
		return out, err
	}
	out.Ends = []time.Time{}
	known := store.Known(out.Calibrations, id)
	for _, k := range out.Calibrations {
		if k.Saved != nil {
			out.Ends = append(out.Ends, k.Saved.AddDate(0, k.Months, 0))
		}
	}
	if len(out.Calibrations) > 0 {
		if out.Pan, err = panView(ctx, s, out.Holder, out.FloorC, out.Calibrations, now); err != nil {
			return out, err
		}
	}
	holds, err := s.HoldsOf(ctx, id)
	if err != nil {
		return out, err
	}
	out.Holds = []HoldView{}
	for _, h := range holds {
		out.Holds = append(out.Holds, HoldView{h, h.ServeAt.Before(now), pit.RelyOn(known, h.SetC, out.FloorC, h.ServeAt)})
	}
	return out, nil
}

// panView reads the pan of the latest calibration; nil where it has no readings.
func panView(ctx context.Context, s *store.Store, h store.Holder, floorC float64, all []store.Calibration, now time.Time) (*PanView,
	error) {
	k := all[0]
	in, err := panOf(ctx, s, h, floorC, all, now)
	if err != nil || len(in.C) == 0 {
		return nil, err
	}
	told, err := pit.PanOf(in)
	if err != nil {
		return nil, fmt.Errorf("read the pan of %s: %w", h.Name, err)
	}
	out := &PanView{CalibrationID: k.ID, Told: told, Readings: []pit.Elapsed{}}
	every := 1 + len(in.C)/mostDrawn
	for i := (len(in.C) - 1) % every; i < len(in.C); i += every { // the last is among them
		out.Readings = append(out.Readings, pit.Elapsed{S: 3600 * in.Hours[i], C: in.C[i]})
	}
	return out, nil
}

// panOf are the readings of the latest calibration by the minute, and what was known before.
func panOf(ctx context.Context, s *store.Store, h store.Holder, floorC float64, all []store.Calibration, now time.Time) (pit.PanInput,
	error) {
	k := all[0]
	in := pit.PanInput{DialC: k.DialC, TargetC: k.TargetC, FloorC: floorC, LowestC: h.LowestC}
	for _, was := range slices.Backward(all[1:]) {
		if was.Saved != nil {
			in.Before = append(in.Before, pit.Setting{DialC: was.DialC, SettlesC: *was.SettlesC})
		}
	}
	to := now
	if k.Saved != nil {
		to = *k.Saved
	}
	traces, err := s.PointsOf(ctx, []store.Stretch{{ProbeID: k.ProbeID, From: k.PutIn, To: to}})
	if err != nil {
		return in, err
	}
	last := time.Time{}
	for _, p := range traces[0] {
		if p.At.Sub(last) < time.Minute {
			continue
		}
		last = p.At
		in.Hours, in.C = append(in.Hours, p.At.Sub(k.PutIn).Hours()), append(in.C, p.C)
	}
	return in, nil
}

// PutPanIn begins a calibration.
func PutPanIn(ctx context.Context, a *barn.Act, in *barn.With[PanInput]) (out HolderView, err error) {
	b := in.Body
	now := a.Now()
	k := store.Calibration{HolderID: in.ID, ProbeID: b.ProbeID, DialTyped: b.Dial, TargetTyped: b.Target, Months: b.Months, PutIn: now}
	if k.Months == 0 {
		k.Months = usualMonths
	}
	var wrong fault.List
	k.DialC = temperature(&wrong, "dial", b.Dial)
	k.TargetC = temperature(&wrong, "target", b.Target)
	if b.PutIn != nil {
		k.PutIn = *b.PutIn
		if k.PutIn.After(now) || now.Sub(k.PutIn) > mostBefore {
			wrong.Add("put_in_at", "that is not within the last three days", "give when the pan went in; leave it empty for now")
		}
		wrong.Take("", logbook.CheckTime("put_in_at", k.PutIn))
	}
	probes, err := a.Store.Probes(ctx, 0)
	if err != nil {
		return out, err
	}
	if !slices.ContainsFunc(probes, func(p store.ProbeNow) bool { return p.ID == b.ProbeID && p.Measures != "weight" }) {
		wrong.Add("probe_id", fmt.Sprintf("probe %d is none that sends now", b.ProbeID), "choose one of the list")
	}
	if err := wrong.Err(); err != nil {
		return out, err
	}
	switch err := a.Store.PutIn(ctx, a.Who.ID, k); {
	case errors.Is(err, store.ErrConflict):
		return out, barn.Refuse("A pan is in it already.", "Save that one, or take it out, first.")
	case err != nil:
		return out, err
	}
	return holderView(ctx, a.Store, in.ID, now)
}

// temperature reads one that a holder can have.
func temperature(wrong *fault.List, field, typed string) float64 {
	t, err := units.ParseTemperature(typed)
	wrong.Take(field, err)
	if err == nil && !(t.C >= 20 && t.C <= 150) {
		wrong.Add(field, typed+" is no temperature of a holder", "give 70 to 300 F")
	}
	return t.C
}

// SavePan keeps what the pan told. What is not known yet is not kept.
func SavePan(ctx context.Context, a *barn.Act, in *barn.ByID) (out HolderView, err error) {
	k, err := a.Store.Calibration(ctx, in.ID)
	if err != nil {
		return out, err
	}
	now := a.Now()
	v, err := holderView(ctx, a.Store, k.HolderID, now)
	if err != nil {
		return out, err
	}
	if k.Saved != nil || v.Calibrations[0].ID != k.ID {
		return out, barn.Refuse("It is saved already.", "Put the pan in again for another.")
	}
	if v.Pan == nil || !v.Pan.Told.Known {
		return out, barn.Refuse("Where it comes to rest is not known yet.", "Leave the pan in, or take it out without saving.")
	}
	told := v.Pan.Told
	k.Saved, k.SettlesC, k.HalfC, k.RippleC, k.Passes = &now, &told.Settles.C, &told.Settles.Half, told.RippleC, &told.Passes
	if err := a.Store.SaveCalibration(ctx, a.Who.ID, k); err != nil {
		return out, err
	}
	return holderView(ctx, a.Store, k.HolderID, now)
}

// VoidPan takes a calibration back: a pan that is taken out without saving, or one that was wrong.
func VoidPan(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) (out HolderView, err error) {
	k, err := a.Store.Calibration(ctx, in.ID)
	if err != nil {
		return out, err
	}
	if err := a.Store.VoidCalibration(ctx, a.Who.ID, in.ID, in.Body.Why); err != nil {
		return out, err
	}
	return holderView(ctx, a.Store, k.HolderID, a.Now())
}
