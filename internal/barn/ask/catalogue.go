// Package ask keeps what a trial asks and the catalogue it is made from, and reviews an
// ask as it is written.
package ask

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Catalogue is what an Ask is made from.
type Catalogue struct {
	Factors   []store.CatalogueFactor `json:"factors"`
	Outcomes  []trial.OutcomeDefault  `json:"outcomes"`
	Own       []trial.Chosen          `json:"own"` // measures of their own in earlier trials
	Products  []store.Product         `json:"products"`
	Families  []FamilyName            `json:"families"` // what a product may cook like
	Templates []trial.Template        `json:"templates"`
	Start     trial.Ask               `json:"start"`
}

// FamilyName is a family of the cook model by name.
type FamilyName struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// KeyInput says what the rules take a level for.
type KeyInput struct {
	Key string `json:"key" binding:"max=20"`
}

// LevelInput is a level of a factor.
type LevelInput struct {
	Value string `json:"value" binding:"required,max=80"`
}

// MergeInput names the factor that another is counted as.
type MergeInput struct {
	Into int64 `json:"into" binding:"required"`
}

// ProductInput says what a product cooks like.
type ProductInput struct {
	Family string `json:"family" binding:"required,max=60"`
}

// RetireInput says whether something is no longer offered.
type RetireInput struct {
	Retired bool `json:"retired"`
}

// AllOf reads the catalogue of a barn.
func AllOf(ctx context.Context, b *barn.Barn) (Catalogue, error) { return CatalogueOf(ctx, b.Store) }

// CatalogueOf reads what an ask is made from.
func CatalogueOf(ctx context.Context, s *store.Store) (Catalogue, error) {
	out := Catalogue{Outcomes: trial.Catalogue, Start: trial.Start(), Families: []FamilyName{}}
	var err error
	if out.Factors, err = s.Catalogue(ctx); err != nil {
		return out, err
	}
	if out.Products, err = s.Products(ctx); err != nil {
		return out, err
	}
	own, err := s.OwnFamilies(ctx)
	if err != nil {
		return out, err
	}
	for _, f := range slices.Concat(own, thermal.Families) {
		out.Families = append(out.Families, FamilyName{f.Key, f.Name})
	}
	for _, t := range trial.Templates {
		if t.Ask, err = s.Resolve(ctx, t.Ask); err != nil {
			return out, err
		}
		out.Templates = append(out.Templates, t)
	}
	out.Own, err = s.OwnMeasures(ctx)
	return out, err
}

// AddFactor adds a factor to the catalogue.
func AddFactor(ctx context.Context, a *barn.Act, in *barn.Of[trial.Factor]) (Catalogue, error) {
	f := in.Body
	f.Name, f.Unit = strings.TrimSpace(f.Name), strings.TrimSpace(f.Unit)
	if err := trial.CheckFactors([]trial.Factor{f}); err != nil {
		return Catalogue{}, err
	}
	if err := a.Store.AddFactor(ctx, f); errors.Is(err, store.ErrConflict) {
		return Catalogue{}, fault.New("name", fmt.Sprintf("%s is in the catalogue already", f.Name), "use that one")
	} else if err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// AddLevel adds a level to a factor.
func AddLevel(ctx context.Context, a *barn.Act, in *barn.With[LevelInput]) (Catalogue, error) {
	value := strings.TrimSpace(in.Body.Value)
	if value == "" {
		return Catalogue{}, fault.New("value", "nothing is written", "say what the level is")
	}
	if err := a.Store.AddLevel(ctx, in.ID, value); err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// MergeFactor counts a factor as another.
func MergeFactor(ctx context.Context, a *barn.Act, in *barn.With[MergeInput]) (Catalogue, error) {
	if err := noMerge(a.Store.MergeFactor(ctx, a.Who.ID, in.ID, in.Body.Into)); err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// RetireFactor offers a factor no more, or again.
func RetireFactor(ctx context.Context, a *barn.Act, in *barn.With[RetireInput]) (Catalogue, error) {
	if err := a.Store.RetireFactor(ctx, a.Who.ID, in.ID, in.Body.Retired); err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// RetireLevel offers a level no more, or again.
func RetireLevel(ctx context.Context, a *barn.Act, in *barn.With[RetireInput]) (Catalogue, error) {
	if err := a.Store.RetireLevel(ctx, a.Who.ID, in.ID, in.Body.Retired); err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// noMerge says in words why something is not merged.
func noMerge(err error) error {
	switch {
	case errors.Is(err, store.ErrSeeded):
		return barn.Refuse("That one came with the barn and is not merged away.", "Merge your own into it, or retire it.")
	case errors.Is(err, store.ErrConflict):
		return barn.Refuse("That one is merged already, or is the same.", "Choose another.")
	}
	return err
}

// MergeLevel counts a level as another.
func MergeLevel(ctx context.Context, a *barn.Act, in *barn.With[MergeInput]) (Catalogue, error) {
	if err := noMerge(a.Store.MergeLevel(ctx, a.Who.ID, in.ID, in.Body.Into)); err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// SetLevelKey says what the rules take a level of the team's own for.
func SetLevelKey(ctx context.Context, a *barn.Act, in *barn.With[KeyInput]) (Catalogue, error) {
	factors, err := a.Store.Catalogue(ctx)
	if err != nil {
		return Catalogue{}, err
	}
	for _, f := range factors {
		if !slices.ContainsFunc(f.Levels, func(l store.CatalogueLevel) bool { return l.ID == in.ID }) {
			continue
		}
		keys := trial.LevelKeys(f.Role)
		if in.Body.Key != "" && !slices.Contains(keys, in.Body.Key) {
			return Catalogue{}, fault.New("key", fmt.Sprintf("a level of %s does not count as %q", f.Name, in.Body.Key), "choose one of the list")
		}
	}
	err = a.Store.SetLevelKey(ctx, a.Who.ID, in.ID, in.Body.Key)
	if errors.Is(err, store.ErrSeeded) {
		return Catalogue{}, barn.Refuse("That one came with the barn and counts as what it is.", "Add a level of your own.")
	}
	if err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}

// SetProduct says what a product cooks like.
func SetProduct(ctx context.Context, a *barn.Act, in *barn.With[ProductInput]) (Catalogue, error) {
	f, err := a.Store.Family(ctx, in.Body.Family)
	if err != nil {
		return Catalogue{}, err
	}
	if f.Key != in.Body.Family {
		return Catalogue{}, fault.New("family", fmt.Sprintf("there is no family %q", in.Body.Family), "choose one of the list, or add your own under Pits")
	}
	if err := a.Store.SetProduct(ctx, a.Who.ID, in.ID, f.Key); err != nil {
		return Catalogue{}, err
	}
	return CatalogueOf(ctx, a.Store)
}
