package rest

import (
	"context"

	"whitebarn/internal/barn"
	"whitebarn/internal/barn/cost"
)

// Costs reckons what each cut of a trial took, and what its edible weight comes to.
func Costs(ctx context.Context, b *barn.Barn, trialID int64) ([]cost.CutCost, error) {
	return cost.Read(ctx, b.Store, trialID, b.Now())
}
