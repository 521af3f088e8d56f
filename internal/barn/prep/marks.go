package prep

import (
	"context"
	"fmt"
	"slices"
	"time"
	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// MarkInput says that a dose was given to cuts, or takes that back.
type MarkInput struct {
	CutIDs []int64    `json:"cut_ids" binding:"min=1,max=100"`
	Dose   string     `json:"dose" binding:"required,max=120"`
	Done   bool       `json:"done"`
	At     *time.Time `json:"at"` // nil: now
}

// Mark says that a dose was given, or takes that back.
var Mark = barn.Writes(barn.Door{Of: barn.Trial, Kind: barn.Record, What: "marked a dose"}, mark)

func mark(ctx context.Context, a *barn.Act, in *barn.With[MarkInput]) error {
	cuts, err := a.Store.Cuts(ctx, in.ID)
	if err != nil {
		return err
	}
	for _, id := range in.Body.CutIDs {
		if !slices.ContainsFunc(cuts, func(k store.Cut) bool { return k.ID == id }) {
			return fault.New("cut_ids", fmt.Sprintf("cut %d is not of this trial", id), "choose one of its cuts")
		}
	}
	at := a.Now()
	if in.Body.At != nil {
		at = *in.Body.At
	}
	if err := logbook.CheckOfCook("at", at, at, a.Now()); err != nil {
		return err
	}
	return a.Store.MarkPrep(ctx, a.Who.ID, in.Body.CutIDs, in.Body.Dose, in.Body.Done, at)
}
