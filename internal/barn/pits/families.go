package pits

import (
	"context"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Families are the kinds of cuts the cook model knows.
type Families struct {
	Source string           `json:"source"`
	Model  []thermal.Family `json:"model"`
	Own    []thermal.Family `json:"own"`
}

// FamiliesOf lists them.
func FamiliesOf(ctx context.Context, s *store.Store) (Families, error) {
	own, err := s.OwnFamilies(ctx)
	if own == nil {
		own = []thermal.Family{}
	}
	return Families{thermal.FamilySource, thermal.Families, own}, err
}

// KeepFamily keeps a family under its name; those of the model stay as they are.
func KeepFamily(ctx context.Context, a *barn.Act, in *barn.Of[thermal.Family]) (Families, error) {
	f := in.Body
	f.Name = strings.TrimSpace(f.Name)
	f.Key, f.Checked = "own "+strings.ToLower(f.Name), false
	for _, known := range thermal.Families {
		if strings.EqualFold(known.Name, f.Name) {
			return Families{}, fault.New("name", "the model has a family of that name", "give yours another name")
		}
	}
	if f.Name == "" {
		return Families{}, fault.New("name", "the family has no name", "call it as its product is called, such as goat shoulder")
	}
	if err := f.Check(); err != nil {
		return Families{}, err
	}
	if err := a.Store.KeepFamily(ctx, a.Who.ID, f); err != nil {
		return Families{}, err
	}
	return FamiliesOf(ctx, a.Store)
}

// ByKey is an input that names a family.
type ByKey struct {
	Key string `uri:"key" binding:"required,max=60"`
}

// RetireFamily offers a family of the barn's own no more.
func RetireFamily(ctx context.Context, a *barn.Act, in *ByKey) (Families, error) {
	if err := a.Store.RetireFamily(ctx, in.Key); err != nil {
		return Families{}, err
	}
	return FamiliesOf(ctx, a.Store)
}
