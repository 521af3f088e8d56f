package plan

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"

	"whitebarn/core/plan"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// VersionOf names what a plan overwrites: the table, the pits, the places and the outline of a
// cook as they stand. It is the same as long as nobody changes any of them.
func VersionOf(k store.Cook, runs []store.PitRun, placed []store.Placement, o plan.Outline) (string, error) {
	type run struct {
		ID, Pit         int64
		Setup, SetTyped string
	}
	type place struct {
		Cut, Run int64
		Position string
	}
	is := struct {
		Serve   time.Time
		Runs    []run
		Places  []place
		Outline plan.Outline
	}{Serve: k.ServeAt.UTC(), Outline: o}
	is.Outline.KeptAt = time.Time{} // kept once more as it was, it is the same
	for _, r := range runs {
		if r.CookID == k.ID {
			is.Runs = append(is.Runs, run{r.ID, r.PitID, r.Setup, r.SetPointTyped})
		}
	}
	for _, l := range placed {
		if l.CookID == k.ID && l.PitRunID != nil {
			is.Places = append(is.Places, place{l.CutID, *l.PitRunID, l.Position})
		}
	}
	text, err := json.Marshal(is)
	if err != nil {
		return "", fmt.Errorf("name the version of cook %d: %w", k.ID, err)
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:8]), nil
}

// asItWas refuses to write over a plan that is not the one it was made from.
func asItWas(ctx context.Context, s *store.Store, cookID int64, version string) error {
	k, err := s.Cook(ctx, cookID)
	if err != nil {
		return err
	}
	t, err := s.Trial(ctx, k.TrialID)
	if err != nil {
		return err
	}
	runs, err := s.PitRuns(ctx, t.ID)
	if err != nil {
		return err
	}
	placed, err := s.Placements(ctx, t.ID)
	if err != nil {
		return err
	}
	o, err := outlineOf(ctx, s, t)
	if err != nil {
		return err
	}
	now, err := VersionOf(k, runs, placed, o)
	if err != nil || now == version {
		return err
	}
	return otherPlan
}

var otherPlan = barn.Refuse("Somebody changed this plan while you worked on it.", "Compare the two: keep yours, or take what stands.")
