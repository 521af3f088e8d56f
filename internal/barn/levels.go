package barn

import (
	"context"
	"fmt"

	"whitebarn/core/design"
	"whitebarn/internal/store"
)

// keepingLevels makes a change after which no more pit runs hold cuts of two levels of what
// is set on pits than did before: a level belongs to the run.
func keepingLevels(ctx context.Context, tx *store.Store, trialID int64, change func() error) error {
	before, err := mixedRuns(ctx, tx, trialID)
	if err != nil {
		return err
	}
	if err := change(); err != nil {
		return err
	}
	after, err := mixedRuns(ctx, tx, trialID)
	if err != nil {
		return err
	}
	for run, said := range after {
		if _, was := before[run]; !was {
			return Refuse(said, "Give each level a pit run of its own, or draw the places again.")
		}
	}
	return nil
}

// mixedRuns are the pit runs of a trial whose cuts have two levels of what is set on pits,
// in words.
func mixedRuns(ctx context.Context, s *store.Store, trialID int64) (map[int64]string, error) {
	t, err := s.Trial(ctx, trialID)
	if err != nil {
		return nil, err
	}
	if !design.SetOnPits(t.Ask) {
		return nil, nil
	}
	rows, err := s.RunArms(ctx, trialID)
	if err != nil {
		return nil, err
	}
	armsOn, pits, places := map[int64][]int{}, map[int64]string{}, t.Ask.ArmPlaces()
	for _, r := range rows {
		if arm, ok := places[r.ArmID]; ok {
			armsOn[r.RunID], pits[r.RunID] = append(armsOn[r.RunID], arm), r.Pit
		}
	}
	out := map[int64]string{}
	for id, run := range design.LevelsOfRuns(t.Ask, armsOn) {
		if run.Mixed != "" {
			out[id] = fmt.Sprintf("%s would hold cuts of two levels of %s, which is set on the whole pit.", pits[id], run.Mixed)
		}
	}
	return out, nil
}
