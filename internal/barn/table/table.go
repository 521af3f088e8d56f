// Package table seats tasters, serves flights under codes, and takes their ballots.
package table

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"whitebarn/internal/barn"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
)

// What Table changes.
var (
	AddTaster   = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "seated a taster"}, addTaster)
	VoidTaster  = barn.Writes(barn.Door{Of: barn.Taster, Kind: barn.Design, What: "a taster left"}, voidTaster)
	FreePhone   = barn.Writes(barn.Door{Of: barn.Taster, Kind: barn.Design, What: "freed a taster's page"}, freePhone)
	OpenDoor    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "let guests in"}, openDoor)
	ShutDoor    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "let no more guests in"}, shutDoor)
	ServeFlight = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "served a flight"}, serveFlight)
	VoidFlight  = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "took a flight back"}, voidFlight)
	AddPlate    = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "a taster came late"}, addPlate)
	SetPace     = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "paused a flight"}, setPace)
	LeaveOut    = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "left samples out"}, leaveOut)
	CloseFlight = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "closed a flight"}, closeFlight)
	TurnCups    = barn.Writes(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "turned the cups over"}, turnCups)
	Plated      = barn.Gives(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "plated a sample"}, plated)
	TypeBallot  = barn.Gives(barn.Door{Of: barn.Flight, Kind: barn.Design, What: "typed a paper ballot"}, typeBallot)
	Reveal      = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "opened the codes"}, reveal)
	NameLook    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "named a look"}, nameLook)
	OpenCook    = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "opened the codes of a cook"}, openCook)
	End         = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "ended the trial"}, end)
	Unend       = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Undo, What: "took the end back"}, unend)
)

// RevealInput opens the codes; Reason is needed while ballots are open.
type RevealInput struct {
	Reason string `json:"reason" binding:"max=200"`
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
	face, err := a.Store.FaceDown(ctx, in.ID)
	if err != nil {
		return err
	}
	reason := strings.TrimSpace(in.Body.Reason)
	switch {
	case face:
		return barn.Refuse("The cups of a shuffled flight are not turned over.", "Look under each cup and enter which cut it was; then open the codes.")
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
	if err := settle.New(a.Store, a.Now).MayEnd(ctx, in.ID); err != nil {
		return err
	}
	if err := a.Store.End(ctx, a.Who.ID, in.ID, strings.TrimSpace(in.Body.Why)); err != nil {
		return err
	}
	return judge(ctx, a)
}

// judge keeps how the trial reads now.
func judge(ctx context.Context, a *barn.Act) error {
	_, err := settle.New(a.Store, a.Now).Lines(ctx, []int64{a.TrialID})
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
