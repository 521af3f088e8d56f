// Package fire logs what is done and read at a cook.
package fire

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// What is logged at Fire and Rest.
var (
	CorrectEvent = barn.Gives(barn.Door{Of: barn.Event, Kind: barn.Record, What: "corrected an entry", Corrects: true}, correctEvent)
	CorrectPress = barn.Gives(barn.Door{Of: barn.Press, Kind: barn.Record, What: "corrected an entry", Corrects: true}, correctPress)
	VoidPress    = barn.Gives(barn.Door{Of: barn.Press, Kind: barn.Record, What: "took an entry back", Corrects: true}, voidPress)
	AddPhoto     = barn.Gives(barn.Door{Of: barn.Cook, Kind: barn.Record, What: "added a photo"}, addPhoto)
	ImportLog    = barn.Gives(barn.Door{Of: barn.Cook, Kind: barn.Record, What: "imported a log"}, importLog)
	VoidImport   = barn.Writes(barn.Door{Of: barn.Import, Kind: barn.Record, What: "took a log back", Corrects: true}, voidImport)
	BeginRun     = barn.Writes(barn.Door{Of: barn.Cook, Kind: barn.Record, What: "took another cooker"}, beginRun)
	AssignProbe  = barn.Gives(barn.Door{Of: barn.Cook, Kind: barn.Record, What: "put a probe elsewhere"}, assignProbe)
)

// LogEvent logs a press; the plan tells whether it comes hours before its time.
func LogEvent(p *plan.Planner) barn.Case[barn.With[EventInput], Logged] {
	return barn.Gives(barn.Door{Of: barn.Cook, Kind: barn.Record, What: "logged an act"},
		func(ctx context.Context, a *barn.Act, in *barn.With[EventInput]) (Logged, error) {
			return logEvent(ctx, a, p, in)
		})
}

// EventInput is one press of a pad: an act on cuts, on pit runs or on the cook.
type EventInput struct {
	Act       logbook.Act    `json:"act"`
	At        *time.Time     `json:"at"` // nil: now, by the cook's clock
	Note      string         `json:"note" binding:"max=400"`
	Detail    logbook.Detail `json:"detail,omitempty"`
	CutIDs    []int64        `json:"cut_ids" binding:"max=500"`
	PitRunIDs []int64        `json:"pit_run_ids" binding:"max=100"`
	Press     string         `json:"press" binding:"required,uuid"`
	Sure      bool           `json:"sure,omitempty"` // what does not fit is so all the same
}

// Logged is what a press, or a change of one, made of the log of its trial.
type Logged struct {
	TrialID int64           `json:"trial_id"`
	Gone    []int64         `json:"gone"`    // entries that no longer stand
	Events  []store.Event   `json:"events"`  // of the press
	Clashes []logbook.Clash `json:"clashes"` // of the whole log
	Waits   bool            `json:"waits"`   // for a second hand: nothing was changed yet
}

// CorrectionInput is another time, note or detail for an event or a press.
type CorrectionInput struct {
	At     time.Time      `json:"at"`
	Note   string         `json:"note" binding:"max=400"`
	Detail logbook.Detail `json:"detail,omitempty"`
	Press  string         `json:"press" binding:"required,uuid"` // of the correction
	Why    string         `json:"why" binding:"max=200"`         // once the codes are open
	Sure   bool           `json:"sure,omitempty"`                // what does not fit is so all the same
}

// late is how old an entry is that may come before what stopped a cut.
const late = 2 * time.Minute

func logEvent(ctx context.Context, a *barn.Act, p *plan.Planner, in *barn.With[EventInput]) (Logged, error) {
	k, err := a.Store.Cook(ctx, in.ID)
	if err != nil {
		return Logged{}, err
	}
	b := in.Body
	at, err := eventTime(a, k, b.At)
	if err != nil {
		return Logged{}, err
	}
	if row, known := b.Act.Row(); !known || row.Pad == logbook.PadNone {
		return Logged{}, fault.New("act", fmt.Sprintf("%q is not an act", b.Act), "press one of the pads")
	}
	detail, err := b.Detail.Tidy(b.Act)
	if err != nil {
		return Logged{}, err
	}
	if err := gate.New(a.Store, a.Now).Plausible(ctx, b.Act, detail); err != nil {
		return Logged{}, err
	}
	if err := ofAll(b.Act, detail, len(b.CutIDs)); err != nil {
		return Logged{}, err
	}
	if err := checkPhoto(ctx, a, detail.PhotoID); err != nil {
		return Logged{}, err
	}
	if elsewhere, err := a.Store.PressElsewhere(ctx, a.TrialID, b.Press); err != nil {
		return Logged{}, err
	} else if elsewhere {
		return Logged{}, fault.New("press", "this press is of another trial", "press again: every press has a number of its own")
	}
	placed, err := a.Store.Placements(ctx, a.TrialID)
	if err != nil {
		return Logged{}, err
	}
	log, err := a.Store.Events(ctx, a.TrialID)
	if err != nil {
		return Logged{}, err
	}
	if !b.Sure {
		if err := doubts(ctx, a, p, k, placed, log, b, at); err != nil {
			return Logged{}, err
		}
	}
	if err := checkMove(ctx, a, in.ID, detail); err != nil {
		return Logged{}, err
	}
	events := []store.Event{}
	add := func(e store.Event) {
		e.Act, e.At, e.Note, e.Press = b.Act, at, strings.TrimSpace(b.Note), b.Press
		if e.CutID == nil {
			e.Detail = detail
		}
		events = append(events, e)
	}
	if b.Act.OfPit() {
		for _, id := range b.PitRunIDs {
			add(store.Event{PitRunID: &id})
		}
	} else {
		for _, id := range b.CutIDs {
			if err := checkCutEvent(ctx, a, id, in.ID, placed, logbook.Event{Act: b.Act, At: at}, b.Press, b.Sure); err != nil {
				return Logged{}, err
			}
			of, err := held(ctx, a, in.ID, id, placed, detail)
			if err != nil {
				return Logged{}, err
			}
			if b.Act == logbook.Probe { // being sure of its time answers nothing of what was read
				of.Doubt = oddReading(of, id, at, b.Press, placed, log)
			}
			add(store.Event{CutID: &id, Detail: of})
		}
	}
	if len(events) == 0 {
		if b.Act != logbook.Note && b.Act != logbook.Photo {
			return Logged{}, fault.New("cut_ids", "nothing is picked for this act", "pick an arm or a cut first; its pit goes with it")
		}
		add(store.Event{CookID: &in.ID})
	}
	if b.Act.OfPit() {
		if err := checkRuns(ctx, a, in.ID, b.PitRunIDs); err != nil {
			return Logged{}, err
		}
	}
	if at.Before(k.Clock.Now(a.Now()).Add(-late)) && b.Act != logbook.Carve { // the time of carving is asked for
		what := fmt.Sprintf("enter “%s” of {time:%s}", strings.TrimSpace(string(b.Act)+" "+detail.Describe()), at.UTC().Format(time.RFC3339))
		waits, err := gate.New(a.Store, a.Now).Change(ctx, store.PendingChange{TrialID: a.TrialID, ByID: a.Who.ID, Entries: events, What: what,
			Why: "entered later"})
		if err != nil {
			return Logged{}, err
		}
		if waits {
			out, err := logged(ctx, a, nil, b.Press)
			out.Waits = true
			return out, err
		}
	} else if err := a.Store.Log(ctx, a.Who.ID, events); err != nil {
		return Logged{}, err
	}
	if b.Act == logbook.On {
		if err := gate.New(a.Store, a.Now).Stamp(ctx, a.TrialID, b.CutIDs); err != nil {
			return Logged{}, err
		}
	}
	if _, err := gate.New(a.Store, a.Now).Recheck(ctx, a.TrialID); err != nil {
		return Logged{}, err
	}
	return logged(ctx, a, nil, b.Press)
}

// logged reads what became of entries, and of what was pressed since.
func logged(ctx context.Context, a *barn.Act, before []store.Event, presses ...string) (Logged, error) {
	out := Logged{TrialID: a.TrialID, Gone: []int64{}, Events: []store.Event{}}
	all, err := a.Store.Events(ctx, a.TrialID)
	if err != nil {
		return out, err
	}
	for _, e := range all {
		if slices.Contains(presses, e.Press) {
			out.Events = append(out.Events, e)
		}
	}
	for _, e := range before {
		if !slices.ContainsFunc(out.Events, func(is store.Event) bool { return is.ID == e.ID }) {
			out.Gone = append(out.Gone, e.ID)
		}
	}
	out.Clashes = trials.ClashesOf(all)
	return out, nil
}

// eventTime is the time of an event, which must not be ahead of the cook's clock.
func eventTime(a *barn.Act, k store.Cook, at *time.Time) (time.Time, error) {
	now := k.Clock.Now(a.Now())
	if at == nil {
		return now, nil
	}
	return *at, logbook.CheckOfCook("at", *at, k.ServeAt, now)
}

func checkCutEvent(ctx context.Context, a *barn.Act, id, cookID int64, placed []store.Placement, e logbook.Event, press string,
	sure bool) error {
	if !stands(placed, id, cookID) {
		return fault.New("cut_ids", fmt.Sprintf("cut %d is not in this cook", id), "give it a pit in Plan first")
	}
	me := a.Who.Name
	return contradicts(ctx, a, id, e, sure, func(other store.Event) bool {
		// A resend does not contradict itself, nor do two hands that logged the same at once: they clash, and a person picks one.
		return other.Press != press && !(other.Act == e.Act && other.By != me && logbook.SameTime(other.At, e.At))
	})
}

func checkRuns(ctx context.Context, a *barn.Act, cookID int64, ids []int64) error {
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	mine := map[int64]bool{}
	for _, r := range runs {
		mine[r.ID] = mine[r.ID] || r.CookID == cookID
	}
	for _, id := range ids {
		if !mine[id] {
			return fault.New("pit_run_ids", fmt.Sprintf("pit run %d is not in this cook", id), "pick a pit of this cook")
		}
	}
	return nil
}

func correctEvent(ctx context.Context, a *barn.Act, in *barn.With[CorrectionInput]) (Logged, error) {
	e, err := a.Store.Event(ctx, in.ID)
	if err != nil {
		return Logged{}, err
	}
	to, err := correction(ctx, a, in.Body, []store.Event{e})
	if err != nil {
		return Logged{}, err
	}
	return change(ctx, a, []store.Event{e}, store.PendingChange{Press: &e.Press, EventID: &e.ID, Correction: &to, Why: "corrected"})
}

// correctPress corrects all that one press wrote. A correction that is sent
// again changes nothing more.
func correctPress(ctx context.Context, a *barn.Act, in *barn.OfPress[CorrectionInput]) (Logged, error) {
	done, err := a.Store.EventsOfPress(ctx, in.Body.Press)
	if err != nil {
		return Logged{}, err
	}
	if len(done) > 0 {
		return logged(ctx, a, nil, in.Body.Press)
	}
	events, err := a.Store.EventsOfPress(ctx, in.Press)
	if err != nil {
		return Logged{}, err
	}
	to, err := correction(ctx, a, in.Body, events)
	if err != nil {
		return Logged{}, err
	}
	why := cmp.Or(strings.TrimSpace(in.Body.Why), "corrected")
	return change(ctx, a, events, store.PendingChange{Press: &in.Press, Correction: &to, Why: why})
}

// change makes a change to entries, or lets it wait for a second hand.
func change(ctx context.Context, a *barn.Act, entries []store.Event, p store.PendingChange) (Logged, error) {
	p.ByID, p.TrialID = a.Who.ID, a.TrialID
	waits, err := gate.New(a.Store, a.Now).Change(ctx, p)
	if err != nil {
		return Logged{}, err
	}
	presses := []string{*p.Press}
	if p.Correction != nil {
		presses = append(presses, p.Correction.Press)
	}
	out, err := logged(ctx, a, entries, presses...)
	out.Waits = waits
	return out, err
}

// correction checks what some events are to say instead.
func correction(ctx context.Context, a *barn.Act, in CorrectionInput, events []store.Event) (to store.Correction, err error) {
	to = store.Correction{At: in.At, Note: strings.TrimSpace(in.Note), Press: in.Press}
	cooks, err := a.Store.Cooks(ctx, a.TrialID)
	if err != nil {
		return to, err
	}
	k, err := ofSomeCook(a, cooks, in.At)
	if err != nil {
		return to, err
	}
	if err := oddCorrection(ctx, a, k, in, events); err != nil {
		return to, err
	}
	for _, e := range events {
		if to.Detail, err = in.Detail.Tidy(e.Act); err != nil {
			return to, err
		}
		if err := gate.New(a.Store, a.Now).Plausible(ctx, e.Act, to.Detail); err != nil {
			return to, err
		}
		if err := ofAll(e.Act, to.Detail, len(events)); err != nil {
			return to, err
		}
		if err := checkPhoto(ctx, a, to.Detail.PhotoID); err != nil {
			return to, err
		}
		if e.CutID == nil {
			continue
		}
		if to.Detail, err = placedAgain(ctx, a, e, to.Detail); err != nil {
			return to, err
		}
		if to.Detail.Doubt, err = stillOdd(ctx, a, e, in, to.Detail); err != nil {
			return to, err
		}
		if err := contradicts(ctx, a, *e.CutID, logbook.Event{Act: e.Act, At: in.At}, true,
			func(other store.Event) bool { return other.ID != e.ID }); err != nil {
			return to, err
		}
	}
	return to, nil
}

// ofSomeCook is the cook, of a trial's, whose table is nearest to a time; one that belongs to none of them is refused.
func ofSomeCook(a *barn.Act, cooks []store.Cook, at time.Time) (of store.Cook, err error) {
	var found bool
	for _, k := range cooks {
		if _, not := eventTime(a, k, &at); not != nil {
			err = not
		} else if !found || k.ServeAt.Sub(at).Abs() < of.ServeAt.Sub(at).Abs() {
			of, found = k, true
		}
	}
	if found {
		err = nil
	}
	return of, err
}

// ofAll refuses one temperature for several pieces, unless it is the coldest of enough of them.
func ofAll(act logbook.Act, d logbook.Detail, cuts int) error {
	if act != logbook.Probe || d.C == nil || d.StandsFor(cuts) {
		return nil
	}
	return fault.New("detail.read_n", fmt.Sprintf("one reading for %d pieces", cuts),
		"read each by itself; or read three or more of them, all if there are fewer, give the coldest and say how many were read")
}

// checkPhoto refuses a photo of another trial; 0 is none.
func checkPhoto(ctx context.Context, a *barn.Act, id int64) error {
	if id == 0 {
		return nil
	}
	p, err := a.Store.Photo(ctx, id)
	if err == nil {
		var of int64
		if of, err = a.Store.TrialOf(ctx, "cook", p.CookID); err == nil && of == a.TrialID {
			return nil
		}
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return fault.New("detail.photo_id", "there is no such photo of this trial", "send the photo first")
}

func voidPress(ctx context.Context, a *barn.Act, in *barn.OfPress[barn.Why]) (Logged, error) {
	events, err := a.Store.EventsOfPress(ctx, in.Press)
	if err != nil {
		return Logged{}, err
	}
	return change(ctx, a, events, store.PendingChange{Press: &in.Press, Why: in.Body.Why})
}
