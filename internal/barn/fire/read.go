package fire

import (
	"context"

	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Probes lists the probes that can be put somewhere at a cook, and where they are.
func Probes(ctx context.Context, b *barn.Barn, cookID int64) ([]store.ProbeNow, error) {
	return b.Store.Probes(ctx, cookID)
}

// Alarms lists the alarms of a cook.
func Alarms(ctx context.Context, b *barn.Barn, cookID int64) ([]store.Alarm, error) {
	return b.Store.Alarms(ctx, cookID)
}

// Burning lists what the cooks under way showed last.
func Burning(ctx context.Context, b *barn.Barn) ([]store.Burning, error) {
	return b.Store.Burning(ctx, b.Now())
}

// Photo reads a photo.
func Photo(ctx context.Context, b *barn.Barn, id int64) (store.Photo, error) {
	return b.Store.Photo(ctx, id)
}
