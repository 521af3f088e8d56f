package pits

import (
	"context"

	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// List lists the pits.
func List(ctx context.Context, b *barn.Barn) ([]store.Pit, error) { return b.Store.Pits(ctx) }

// Holders lists what holds cuts warm.
func Holders(ctx context.Context, b *barn.Barn) ([]store.Holder, error) { return b.Store.Holders(ctx) }

// Devices lists what sends readings.
func Devices(ctx context.Context, b *barn.Barn) ([]store.Device, error) { return b.Store.Devices(ctx) }

// Refusals lists the readings of a device that were not taken.
func Refusals(ctx context.Context, b *barn.Barn, id int64) ([]store.Refusal, error) {
	return b.Store.Refusals(ctx, id)
}

// Scales lists what each scale showed last.
func Scales(ctx context.Context, b *barn.Barn) ([]store.ProbeNow, error) {
	return b.Store.LastWeights(ctx)
}

// AllFamilies lists the kinds of cuts.
func AllFamilies(ctx context.Context, b *barn.Barn) (Families, error) {
	return FamiliesOf(ctx, b.Store)
}
