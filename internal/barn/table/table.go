// Package table seats tasters, serves flights under codes, and takes their ballots.
package table

import (
	"context"
	crand "crypto/rand"
	"encoding/binary"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"time"

	"whitebarn/core/fault"
	core "whitebarn/core/gate"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// What Table changes.
var (
	AddTaster   = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "seated a taster"}, addTaster)
	VoidTaster  = barn.Writes(barn.Door{Of: barn.Taster, Kind: barn.Design, What: "a taster left"}, voidTaster)
	ServeFlight = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "served a flight"}, serveFlight)
	VoidFlight  = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "took a flight back"}, voidFlight)
	Reveal      = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "opened the codes"}, reveal)
	NameLook    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "named a look"}, nameLook)
	OpenCook    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "opened the codes of a cook"}, openCook)
	End         = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "ended the trial"}, end)
	Unend       = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Undo, What: "took the end back"}, unend)
)

// FlightInput is a flight to be served: its cuts go on the table in one place
// on the piece, to the tasters named, in drawn orders under drawn codes.
type FlightInput struct {
	CarverID int64   `json:"carver_id"`
	CutIDs   []int64 `json:"cut_ids" binding:"max=100"`
	Place    string  `json:"place" binding:"required,max=40"`
	Tasters  []int64 `json:"tasters" binding:"max=200"`
}

// RevealInput opens the codes; Reason is needed while ballots are open.
type RevealInput struct {
	Reason string `json:"reason" binding:"max=200"`
}

// mostSamples: more than six tire a tongue.
const mostSamples = 6

func addTaster(ctx context.Context, a *barn.Act, in *barn.With[barn.NamedInput]) error {
	name := strings.TrimSpace(in.Body.Name)
	err := a.Store.AddTaster(ctx, a.Who.ID, in.ID, name)
	if errors.Is(err, store.ErrConflict) {
		return fault.New("name", fmt.Sprintf("%q sits at the table already", name), "add a letter of the family name")
	}
	return err
}

func voidTaster(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	err := a.Store.VoidTaster(ctx, a.Who.ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("This taster has a plate already.", "Let them press Can't score for what they do not taste.")
	}
	return err
}

func serveFlight(ctx context.Context, a *barn.Act, in *barn.With[FlightInput]) error {
	l, err := trials.LookAt(ctx, a.Store, in.ID)
	if err != nil {
		return err
	}
	g, err := gate.New(a.Store, a.Now).Of(ctx, in.ID)
	if err != nil {
		return err
	}
	if err := checkFlight(ctx, a, l, g, in.Body); err != nil {
		return err
	}
	used, err := a.Store.UsedCodes(ctx, in.ID)
	if err != nil {
		return err
	}
	r, err := newRand()
	if err != nil {
		return err
	}
	b := in.Body
	codes, err := panel.DrawCodes(r, len(b.CutIDs), used)
	if err != nil {
		return err
	}
	places := make([]string, len(b.CutIDs))
	for i := range places {
		places[i] = strings.TrimSpace(b.Place)
	}
	flight := store.NewFlight{TrialID: in.ID, CarverID: b.CarverID, At: cookTime(a, l, b.CutIDs[0]), Cuts: b.CutIDs, Places: places,
		Codes: codes, Tasters: b.Tasters, Orders: panel.Orders(r, len(b.CutIDs), len(b.Tasters))}
	for _, id := range b.CutIDs {
		flight.Advised = append(flight.Advised, gateOf(g, id).Advisory)
	}
	_, err = a.Store.Serve(ctx, a.Who.ID, flight)
	return err
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

// checkFlight is the gate before the table.
func checkFlight(ctx context.Context, a *barn.Act, l trials.Look, g gate.GateView, f FlightInput) error {
	var wrong fault.List
	if n := len(f.CutIDs); n < 2 || n > mostSamples {
		wrong.Add("cut_ids", fmt.Sprintf("%d samples", n), fmt.Sprintf("serve 2 to %d in one flight; the rest go into another", mostSamples))
	}
	cuts, arms, twice := map[int64]store.Cut{}, map[int64]bool{}, map[int64]bool{}
	for _, cut := range l.Rows.Cuts {
		cuts[cut.ID] = cut
	}
	for i, id := range f.CutIDs {
		field := fmt.Sprintf("cut_ids[%d]", i)
		cut, ok := cuts[id]
		switch {
		case !ok:
			wrong.Add(field, "that cut is not of this trial", "choose one of its cuts")
		case twice[id]:
			wrong.Add(field, cut.Name+" is there twice", "serve each cut once in a flight")
		case cut.ArmID == nil:
			wrong.Add(field, cut.Name+" has no arm", "give it one in Match")
		case !gateOf(g, id).Open:
			for _, stop := range gateOf(g, id).Stops {
				if !stop.Waived {
					wrong.Add(field, cut.Name+": "+stop.Words, stop.Remedy)
				}
			}
		default:
			arms[*cut.ArmID] = true
		}
		twice[id] = true
	}
	if len(arms) < 2 && wrong.Err() == nil {
		wrong.Add("cut_ids", "all samples are of one arm", "serve both arms side by side")
	}
	if n := len(f.Tasters); n < trial.LeastTasters {
		wrong.Add("tasters", fmt.Sprintf("%d tasters", n), fmt.Sprintf("seat %d or more", trial.LeastTasters))
	}
	carver, err := a.Store.Person(ctx, f.CarverID)
	if err != nil {
		wrong.Add("carver_id", "no carver is named", "name the one person who sees the key and does not taste")
	}
	seated := map[int64]string{}
	tasters, errSeats := a.Store.Tasters(ctx, a.TrialID)
	if errSeats != nil {
		return errSeats
	}
	for _, t := range tasters {
		seated[t.ID] = t.Name
	}
	for i, id := range f.Tasters {
		name, ok := seated[id]
		switch {
		case !ok:
			wrong.Add(fmt.Sprintf("tasters[%d]", i), "that taster is not at this table", "add them first")
		case err == nil && strings.EqualFold(name, carver.Name):
			wrong.Add("carver_id", carver.Name+" carves and tastes", "a carver knows the key: leave them off this flight's tasters")
		}
	}
	ballot := false
	for _, o := range l.Trial.Ask.Outcomes {
		d, _ := trial.DefaultOf(o.Key)
		ballot = ballot || d.Kind == trial.FromPanel
	}
	if !ballot {
		wrong.Add("outcomes", "no outcome of this trial is tasted", "add one in Ask")
	}
	return wrong.Err()
}

func voidFlight(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	err := a.Store.VoidFlight(ctx, a.Who.ID, in.ID, in.Body.Why)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("Samples of this flight are sealed.", "Let it stand; serve another flight beside it.")
	}
	return err
}

// KeyLine and Taster are rows of the record.
type (
	KeyLine = store.KeyLine
	Taster  = store.Taster
)

// TasterPath is the path of a taster's own page.
func TasterPath(ctx context.Context, b *barn.Barn, id int64) (string, error) {
	t, err := b.Store.Taster(ctx, id)
	if err != nil {
		return "", err
	}
	house, err := b.Store.Barn(ctx)
	return trials.TastePath(house.Secret, t.ID), err
}

// Key is for the flight's carver alone, pitmaster or not, until the codes are
// open.
func Key(ctx context.Context, b *barn.Barn, who store.Person, flightID int64) ([]store.KeyLine, error) {
	f, err := b.Store.Flight(ctx, flightID)
	if err != nil {
		return nil, err
	}
	trialID, err := b.Store.TrialOf(ctx, "flight", flightID)
	if err != nil {
		return nil, err
	}
	t, err := b.Store.Trial(ctx, trialID)
	if err != nil {
		return nil, err
	}
	if t.RevealedAt == nil && f.CarverID != who.ID && !f.Opened {
		return nil, barn.RefuseAs(barn.NotYours, "Only the carver sees this key before the codes are opened.", "Ask "+f.Carver+" to carve.")
	}
	return b.Store.Key(ctx, flightID)
}

func reveal(ctx context.Context, a *barn.Act, in *barn.With[RevealInput]) error {
	ballots, err := a.Store.BallotStates(ctx, in.ID)
	if err != nil {
		return err
	}
	tasted, err := a.Store.Tasted(ctx, in.ID)
	if err != nil {
		return err
	}
	open := 0
	for _, b := range ballots {
		if !b.Locked {
			open++
		}
	}
	reason := strings.TrimSpace(in.Body.Reason)
	switch {
	case !tasted:
		return barn.Refuse("Nothing has been tasted, so there are no codes to open.", "Serve a flight first; or end the trial, if it was only weighed and timed.")
	case open > 0 && reason == "":
		return barn.Refuse(fmt.Sprintf("%d of %d ballots are still open.", open, len(ballots)),
			"Wait for them, or say why the codes are opened now. The trial keeps the reason for good.")
	}
	if err := a.Store.Reveal(ctx, a.Who.ID, in.ID, reason); err != nil {
		return err
	}
	return judge(ctx, a)
}

// end closes a trial of which nothing was tasted, and is not going to be.
func end(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	flights, err := a.Store.Flights(ctx, in.ID)
	if err != nil {
		return err
	}
	if len(flights) > 0 {
		return barn.Refuse("A flight of this trial is served.", "Taste it and open the codes; or take it back first, while nothing of it is sealed.")
	}
	if err := settle.New(a.Store).MayEnd(ctx, in.ID); err != nil {
		return err
	}
	if err := a.Store.End(ctx, a.Who.ID, in.ID, strings.TrimSpace(in.Body.Why)); err != nil {
		return err
	}
	return judge(ctx, a)
}

// judge keeps how the trial reads now.
func judge(ctx context.Context, a *barn.Act) error {
	_, err := settle.New(a.Store).Lines(ctx, []int64{a.TrialID})
	return err
}

// unend opens a trial again that was ended lately.
func unend(ctx context.Context, a *barn.Act, in *barn.ByID) error {
	err := a.Store.Unend(ctx, a.Who.ID, in.ID)
	if errors.Is(err, store.ErrNotFound) {
		return barn.Refuse("This trial was not ended within the last ten minutes.", "It stays ended. Follow on from it with a new question.")
	}
	return err
}
