package prep

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/prep"
	"whitebarn/core/units"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/cost"
	"whitebarn/internal/store"
)

// PantryView is what the barn keeps, and its recipes.
type PantryView struct {
	Ingredients []store.Ingredient `json:"ingredients"`
	Recipes     []RecipeView       `json:"recipes"`
}

// RecipeView is a recipe with what a kilogram of it is.
type RecipeView struct {
	store.Recipe
	Kilo prep.ScaleOutput `json:"kilo"`
}

// IngredientInput is an ingredient as typed; an empty pack is not known.
type IngredientInput struct {
	Name       string               `json:"name" binding:"required,max=60"`
	Kind       store.IngredientKind `json:"kind"`
	PriceCents *int                 `json:"price_cents" binding:"omitempty,min=0,max=10000000"`
	Pack       string               `json:"pack" binding:"max=40"`
	Density    *float64             `json:"density"`
	SaltShare  float64              `json:"salt_share"`
	Allergens  []string             `json:"allergens"`
}

// RecipeInput is a recipe as typed.
type RecipeInput struct {
	Name  string            `json:"name" binding:"required,max=60"`
	Kind  store.RecipeKind  `json:"kind"`
	Lines []RecipeLineInput `json:"lines" binding:"max=40"`
}

// RecipeLineInput is one ingredient of a recipe as typed.
type RecipeLineInput struct {
	IngredientID int64  `json:"ingredient_id"`
	Amount       string `json:"amount" binding:"max=40"`
}

// PantryOf reads the pantry of a barn.
func PantryOf(ctx context.Context, b *barn.Barn) (PantryView, error) { return Pantry(ctx, b.Store) }

// Pantry reads what the barn keeps.
func Pantry(ctx context.Context, s *store.Store) (v PantryView, err error) {
	if v.Ingredients, err = s.Ingredients(ctx); err != nil {
		return v, err
	}
	recipes, err := s.Recipes(ctx)
	v.Recipes = []RecipeView{}
	for _, r := range recipes {
		out := RecipeView{Recipe: r, Kilo: prep.ScaleOutput{Lines: []prep.Amount{}, Unpriced: []string{}, Allergens: []string{}}}
		if lines := cost.LinesOf(r, v.Ingredients); len(lines) > 0 {
			if out.Kilo, err = prep.ScaleOf(prep.ScaleInput{Lines: lines, WantedG: 1000}); err != nil {
				return v, err
			}
		}
		v.Recipes = append(v.Recipes, out)
	}
	return v, err
}

func keepIngredient(ctx context.Context, a *barn.Act, id int64, in IngredientInput) (PantryView, error) {
	var wrong fault.List
	i := store.Ingredient{ID: id, Name: strings.TrimSpace(in.Name), Kind: in.Kind, PriceCents: in.PriceCents,
		PackTyped: strings.TrimSpace(in.Pack), Density: in.Density, SaltShare: in.SaltShare, Allergens: []string{}}
	if !slices.Contains(in.Kind.Values(), string(in.Kind)) {
		wrong.Add("kind", fmt.Sprintf("%q is no kind of ingredient", in.Kind), "choose one of the list")
	}
	if i.PackTyped != "" {
		m, err := units.ParseMass(i.PackTyped)
		wrong.Take("pack", err)
		g := m.Kg * 1000
		i.PackG = &g
	}
	if in.Density != nil && !(*in.Density >= 0.05 && *in.Density <= 3) {
		wrong.Add("density", fmt.Sprintf("%g g to the ml is no kitchen's", *in.Density), "give 0.05 to 3; water is 1, fine salt 1.2")
	}
	if !(in.SaltShare >= 0 && in.SaltShare <= 1) {
		wrong.Add("salt_share", fmt.Sprintf("%g is no share", in.SaltShare), "give 0 to 1; salt itself is 1")
	}
	for _, a := range in.Allergens {
		if a = strings.ToLower(strings.TrimSpace(a)); a != "" && !slices.Contains(i.Allergens, a) {
			i.Allergens = append(i.Allergens, a)
		}
	}
	if err := wrong.Err(); err != nil {
		return PantryView{}, err
	}
	return kept(ctx, a, func() error { _, err := a.Store.KeepIngredient(ctx, a.Who.ID, i); return err })
}

func keepRecipe(ctx context.Context, a *barn.Act, id int64, in RecipeInput) (PantryView, error) {
	var wrong fault.List
	r := store.Recipe{ID: id, Name: strings.TrimSpace(in.Name), Kind: in.Kind, Lines: []store.RecipeLine{}}
	if !slices.Contains(in.Kind.Values(), string(in.Kind)) {
		wrong.Add("kind", fmt.Sprintf("%q is no kind of recipe", in.Kind), "choose one of the list")
	}
	known, err := a.Store.Ingredients(ctx)
	if err != nil {
		return PantryView{}, err
	}
	for n, l := range in.Lines {
		field := fmt.Sprintf("lines[%d]", n)
		if !slices.ContainsFunc(known, func(i store.Ingredient) bool { return i.ID == l.IngredientID }) {
			wrong.Add(field+".ingredient_id", "the pantry does not keep that", "add it to the pantry first")
		}
		m, err := units.ParseMass(l.Amount)
		wrong.Take(field+".amount", err)
		r.Lines = append(r.Lines, store.RecipeLine{IngredientID: l.IngredientID, G: m.Kg * 1000, Typed: m.Typed})
	}
	if len(in.Lines) == 0 {
		wrong.Add("lines", "nothing is in it", "add an ingredient and how much of it")
	}
	if err := wrong.Err(); err != nil {
		return PantryView{}, err
	}
	return kept(ctx, a, func() error { _, err := a.Store.KeepRecipe(ctx, a.Who.ID, r); return err })
}

func kept(ctx context.Context, a *barn.Act, keep func() error) (PantryView, error) {
	err := keep()
	if errors.Is(err, store.ErrConflict) {
		err = fault.New("name", "the pantry has one of that name", "give it another, or change that one")
	}
	if err != nil {
		return PantryView{}, err
	}
	return Pantry(ctx, a.Store)
}

// retireIngredient keeps an ingredient that a recipe still holds.
func retireIngredient(ctx context.Context, a *barn.Act, id int64) (PantryView, error) {
	recipes, err := a.Store.Recipes(ctx)
	if err != nil {
		return PantryView{}, err
	}
	for _, r := range recipes {
		if slices.ContainsFunc(r.Lines, func(l store.RecipeLine) bool { return l.IngredientID == id }) {
			return PantryView{}, fault.New("id", r.Name+" is made with it", "take it out of that recipe first")
		}
	}
	return kept(ctx, a, func() error { return a.Store.RetireFromPantry(ctx, a.Who.ID, "ingredient", id) })
}

// AddIngredient keeps a new ingredient.
func AddIngredient(ctx context.Context, a *barn.Act, in *barn.Of[IngredientInput]) (PantryView, error) {
	return keepIngredient(ctx, a, 0, in.Body)
}

// SetIngredient changes one.
func SetIngredient(ctx context.Context, a *barn.Act, in *barn.With[IngredientInput]) (PantryView, error) {
	return keepIngredient(ctx, a, in.ID, in.Body)
}

// RetireIngredient keeps it no more; one that a recipe holds stays.
func RetireIngredient(ctx context.Context, a *barn.Act, in *barn.ByID) (PantryView, error) {
	return retireIngredient(ctx, a, in.ID)
}

// AddRecipe keeps a new recipe.
func AddRecipe(ctx context.Context, a *barn.Act, in *barn.Of[RecipeInput]) (PantryView, error) {
	return keepRecipe(ctx, a, 0, in.Body)
}

// SetRecipe changes one.
func SetRecipe(ctx context.Context, a *barn.Act, in *barn.With[RecipeInput]) (PantryView, error) {
	return keepRecipe(ctx, a, in.ID, in.Body)
}

// RetireRecipe keeps it no more.
func RetireRecipe(ctx context.Context, a *barn.Act, in *barn.ByID) (PantryView, error) {
	if err := a.Store.RetireFromPantry(ctx, a.Who.ID, "recipe", in.ID); err != nil {
		return PantryView{}, err
	}
	return Pantry(ctx, a.Store)
}
