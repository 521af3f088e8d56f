package table

import (
	"context"
	crand "crypto/rand"
	"encoding/binary"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	core "whitebarn/core/gate"
	"whitebarn/core/panel"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// PieceInput is a place on a cut that goes on the table. How it is cut and dressed stands on
// the carver's key alone.
type PieceInput struct {
	CutID   int64  `json:"cut_id"`
	Place   string `json:"place" binding:"required,max=40"`
	Carving string `json:"carving" binding:"max=120"`
	BySight bool   `json:"by_sight"` // it looks like what it is
}

// FlightInput is a flight to be served: its pieces go on the table to the tasters named, in
// drawn orders under drawn codes.
type FlightInput struct {
	Format     panel.Format `json:"format"`
	CarverID   *int64       `json:"carver_id"` // nil: all is open, or the cups are shuffled
	Shuffled   bool         `json:"shuffled"`  // the taster shuffles closed cups; which is which is entered after
	Pieces     []PieceInput `json:"pieces" binding:"max=100,dive"`
	Tasters    []int64      `json:"tasters" binding:"max=200"`
	Open       []int64      `json:"open" binding:"max=200"` // of them, who know the codes
	Duplicate  bool         `json:"duplicate"`
	Repeats    int          `json:"repeats" binding:"min=0,max=8"`
	WarmUp     int64        `json:"warm_up"` // the cut of the warm-up; 0 is none
	Bites      int          `json:"bites"`
	WaterS     int          `json:"water_s"`
	SecondLook bool         `json:"second_look"`
	Choice     bool         `json:"choice"`
	Rounds     int          `json:"rounds"`          // so many flights alike, each with its own codes
	ServedAt   *time.Time   `json:"served_at"`       // nil: now. Of a cook that is over it is asked
	After      *int         `json:"after,omitempty"` // so many flights there were when it was laid out; nil: however many
}

// What a flight starts with.
const (
	usualBites  = 2
	usualWaterS = 60
	mostWaterS  = 900
	mostRounds  = 12
)

func serveFlight(ctx context.Context, a *barn.Act, in *barn.With[FlightInput]) error {
	l, err := trials.LookAt(ctx, a.Store, in.ID)
	if err != nil {
		return err
	}
	f := in.Body
	if err := f.asLaidOut(ctx, a); err != nil {
		return err
	}
	g, err := f.judged(ctx, a)
	if err != nil {
		return err
	}
	if f.Format == "" {
		f.Format = panel.ByScores
	}
	if f.Bites == 0 {
		f.Bites = usualBites
	}
	open, err := checkFlight(ctx, a, l, g, f)
	if err != nil {
		return err
	}
	for range max(1, f.Rounds) {
		if err := serveOne(ctx, a, l, g, f, open); err != nil {
			return err
		}
	}
	return nil
}

// asLaidOut refuses a flight where another was served while it was laid out: two hands that
// press at once mean one flight.
func (f FlightInput) asLaidOut(ctx context.Context, a *barn.Act) error {
	if f.After == nil {
		return nil
	}
	there, err := a.Store.Flights(ctx, a.TrialID)
	if err != nil || len(there) == *f.After {
		return err
	}
	return barn.Refuse("Another flight was served or taken back while this one was laid out.", "Look at what is on the table; then serve again if it is wanted.")
}

// judged is what the gate says of a trial with these pieces on the table.
func (f FlightInput) judged(ctx context.Context, a *barn.Act) (gate.GateView, error) {
	k := gate.New(a.Store, a.Now)
	if f.ServedAt == nil {
		return k.Of(ctx, a.TrialID)
	}
	cuts := []int64{f.WarmUp}
	for _, p := range f.Pieces {
		cuts = append(cuts, p.CutID)
	}
	return k.OfServed(ctx, a.TrialID, *f.ServedAt, cuts...)
}

// checkTime sees that a serving is of the time when it was: a cook that is over is not served now.
func (f FlightInput) checkTime(wrong *fault.List, a *barn.Act, l trials.Look, g gate.GateView) {
	for _, p := range f.Pieces {
		i := slices.IndexFunc(l.Trial.Cuts, func(c evidence.Cut) bool { return c.ID == p.CutID })
		switch {
		case i < 0:
		case f.ServedAt == nil && gateOf(g, p.CutID).Over:
			wrong.Add("served_at", "the cook of "+l.Trial.Cuts[i].Name+" is over, and nobody said when this was eaten", "say when it was served")
			return
		case f.ServedAt == nil:
		case f.ServedAt.After(cookTime(a, l, p.CutID)):
			wrong.Add("served_at", "that is still to come", "give a time up to now")
			return
		default:
			if pull, ok := l.Trial.Cuts[i].Pulled(); ok && f.ServedAt.Before(pull) {
				wrong.Add("served_at", "that is before "+l.Trial.Cuts[i].Name+" was pulled", "give a time after the pull")
				return
			}
		}
	}
}

// laidOut is how a flight is laid out.
func (f FlightInput) laidOut() panel.Serving {
	return panel.Serving{Format: f.Format, Pieces: len(f.Pieces), Duplicate: f.Duplicate, Repeats: f.Repeats, WarmUp: f.WarmUp != 0, Tasters: len(f.Tasters)}
}

func serveOne(ctx context.Context, a *barn.Act, l trials.Look, g gate.GateView, f FlightInput, open []int64) error {
	used, err := a.Store.UsedCodes(ctx, a.TrialID)
	if err != nil {
		return err
	}
	r, err := newRand()
	if err != nil {
		return err
	}
	laid := f.laidOut().Lay(r)
	codes, err := panel.DrawCodes(r, len(laid.Samples), used)
	if err != nil {
		return err
	}
	out := store.NewFlight{TrialID: a.TrialID, Format: f.Format, CarverID: f.CarverID, At: f.at(a, l), Bites: f.Bites, WaterS: f.WaterS,
		SecondLook: f.SecondLook, Choice: f.Choice, Shuffled: f.Shuffled}
	for i, at := range laid.Samples {
		p := PieceInput{CutID: f.WarmUp, Place: f.Pieces[0].Place}
		if i != laid.WarmUp {
			p = f.Pieces[at]
		}
		out.Samples = append(out.Samples, store.NewSample{CutID: p.CutID, Place: strings.TrimSpace(p.Place), Code: codes[i],
			Carving: strings.TrimSpace(p.Carving), BySight: p.BySight, WarmUp: i == laid.WarmUp, Advised: gateOf(g, p.CutID).Advisory})
	}
	for i, id := range f.Tasters {
		out.Ballots = append(out.Ballots, store.NewBallot{TasterID: id, Open: slices.Contains(open, id), Order: laid.Orders[i]})
	}
	_, err = a.Store.Serve(ctx, a.Who.ID, out)
	return err
}

// at is when a flight is, or was, served, by the clock of its cook.
func (f FlightInput) at(a *barn.Act, l trials.Look) time.Time {
	if f.ServedAt != nil {
		return *f.ServedAt
	}
	return cookTime(a, l, f.Pieces[0].CutID)
}

// gateOf is what the gate says of one cut; shut where it is none of the trial's.
func gateOf(g gate.GateView, cut int64) core.Ruling {
	for _, c := range g.Cuts {
		if c.CutID == cut {
			return c.Ruling
		}
	}
	return core.Ruling{}
}

// cookTime is now, by the clock of the cook a cut lies in.
func cookTime(a *barn.Act, l trials.Look, cut int64) time.Time {
	for _, p := range l.Rows.Placements {
		if p.CutID != cut || p.PitRunID == nil {
			continue
		}
		for _, k := range l.Rows.Cooks {
			if k.ID == p.CookID {
				return k.Clock.Now(a.Now())
			}
		}
	}
	return a.Now()
}

// newRand is seeded from the system, so that nobody can know the codes before.
func newRand() (*rand.Rand, error) {
	var seed [16]byte
	if _, err := crand.Read(seed[:]); err != nil {
		return nil, err
	}
	return rand.New(rand.NewPCG(binary.LittleEndian.Uint64(seed[:8]), binary.LittleEndian.Uint64(seed[8:]))), nil
}

// checkFlight is the gate before the table. It returns who of the tasters knows the codes:
// those who are said to, and the carver.
func checkFlight(ctx context.Context, a *barn.Act, l trials.Look, g gate.GateView, f FlightInput) (open []int64, err error) {
	var wrong fault.List
	if err := f.laidOut().Check(); err != nil {
		return nil, err
	}
	f.checkTime(&wrong, a, l, g)
	f.checkPieces(&wrong, l, g)
	switch {
	case f.Bites < 1 || f.Bites > 9:
		wrong.Add("bites", fmt.Sprintf("%d bites", f.Bites), "say 1 to 9")
	case f.WaterS < 0 || f.WaterS > mostWaterS:
		wrong.Add(wrongWater(f.WaterS))
	}
	if f.Rounds > mostRounds || f.Rounds > 1 && f.Format == panel.ByScores {
		wrong.Add("rounds", fmt.Sprintf("%d flights at once", f.Rounds), fmt.Sprintf("serve scores one flight at a time, and up to %d of another format", mostRounds))
	}
	if len(f.Tasters) == 0 {
		wrong.Add("tasters", "nobody tastes", "seat somebody: yourself, if you are alone")
	}
	open, err = f.whoKnows(ctx, a, &wrong)
	if err != nil {
		return nil, err
	}
	if f.Format == panel.ByScores && len(attributes(l.Trial.Ask)) == 0 {
		wrong.Add("outcomes", "no outcome of this trial is tasted", "add one in Ask")
	}
	return open, wrong.Err()
}

func (f FlightInput) checkPieces(wrong *fault.List, l trials.Look, g gate.GateView) {
	type piece struct {
		cut   int64
		place string
	}
	cuts, arms, twice := map[int64]store.Cut{}, map[int64]bool{}, map[piece]bool{}
	for _, cut := range l.Rows.Cuts {
		cuts[cut.ID] = cut
	}
	stops := func(field string, cut store.Cut) {
		for _, stop := range gateOf(g, cut.ID).Stops {
			if !stop.Waived {
				wrong.Add(field, cut.Name+": "+stop.Words, stop.Remedy)
			}
		}
	}
	clean := true
	for i, p := range f.Pieces {
		field := fmt.Sprintf("pieces[%d].cut_id", i)
		cut, ok := cuts[p.CutID]
		key := piece{p.CutID, strings.ToLower(strings.TrimSpace(p.Place))}
		switch {
		case !ok:
			wrong.Add(field, "that cut is not of this trial", "choose one of its cuts")
		case twice[key]:
			wrong.Add(field, cut.Name+" is there twice", "serve each place of a cut once; a hidden duplicate is drawn for you")
		case cut.ArmID == nil:
			wrong.Add(field, cut.Name+" has no arm", "give it one in Match")
		case !gateOf(g, p.CutID).Open:
			stops(field, cut)
		default:
			arms[*cut.ArmID] = true
			twice[key] = true
			continue
		}
		clean = false
		twice[key] = true
	}
	if len(arms) < 2 && clean {
		wrong.Add("pieces", "all samples are of one arm", "serve both arms side by side")
	}
	if f.WarmUp != 0 {
		cut, ok := cuts[f.WarmUp]
		switch {
		case !ok:
			wrong.Add("warm_up", "that cut is not of this trial", "choose one of its cuts")
		case !gateOf(g, f.WarmUp).Open:
			stops("warm_up", cut)
		}
	}
}

// whoKnows are the tasters who know the codes: they are said to, or carve. Somebody has to
// put the samples under their codes: a carver, the taster who shuffles closed cups, or all
// in the open.
func (f FlightInput) whoKnows(ctx context.Context, a *barn.Act, wrong *fault.List) (open []int64, err error) {
	seated := map[int64]store.Taster{}
	tasters, err := a.Store.Tasters(ctx, a.TrialID)
	if err != nil {
		return nil, err
	}
	for _, t := range tasters {
		seated[t.ID] = t
	}
	twice := map[int64]bool{}
	for i, id := range f.Tasters {
		t, ok := seated[id]
		switch {
		case !ok:
			wrong.Add(fmt.Sprintf("tasters[%d]", i), "that taster is not at this table", "add them first")
		case twice[id]:
			wrong.Add(fmt.Sprintf("tasters[%d]", i), t.Name+" is there twice", "name each once")
		case slices.Contains(f.Open, id), t.PersonID != nil && f.CarverID != nil && *t.PersonID == *f.CarverID:
			open = append(open, id)
		}
		twice[id] = true
	}
	for i, id := range f.Open {
		if !twice[id] {
			wrong.Add(fmt.Sprintf("open[%d]", i), "that one does not taste in this flight", "take them out")
		}
	}
	switch {
	case f.CarverID != nil:
		if f.Shuffled {
			wrong.Add("shuffled", "a carver is named for shuffled cups", "choose one of the two")
		}
		if p, err := a.Store.Person(ctx, *f.CarverID); err != nil || p.LeftAt != nil {
			wrong.Add("carver_id", fmt.Sprintf("person %d is not of the crew", *f.CarverID), "name the one person who sees the key")
		}
	case f.Shuffled:
		switch {
		case len(f.Tasters) != 1 || len(open) > 0:
			wrong.Add("shuffled", fmt.Sprintf("%d tasters with shuffled cups", len(f.Tasters)), "shuffled cups are for one taster who is alone")
		case f.Format != panel.ByScores || f.WarmUp != 0:
			wrong.Add("shuffled", "shuffled cups take scores alone", "have somebody plate for the other formats")
		}
	case len(open) < len(f.Tasters):
		wrong.Add("carver_id", "nobody carves, and somebody is to taste blind",
			"name who carves; or shuffle closed cups, if you are alone; or mark every taster as knowing the codes")
	}
	return open, nil
}

func voidFlight(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	err := a.Store.VoidFlight(ctx, a.Who.ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("Samples of this flight are sealed.", "Let it stand, or close it with a reason; serve another flight beside it.")
	}
	return err
}
