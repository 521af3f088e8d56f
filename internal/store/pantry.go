package store

import (
	"context"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/prep"
)

// IngredientKind is what sort of thing is kept in the pantry.
type IngredientKind string

// Values lists the kinds.
func (IngredientKind) Values() []string {
	return []string{"salt", "spice", "liquid", "fat", "wood", "fuel", "wrap", "other"}
}

// Ingredient is something of the pantry: salt, spice, liquid, wood, fuel, wrap.
type Ingredient struct {
	ID         int64          `json:"id"`
	Name       string         `json:"name"`
	Kind       IngredientKind `json:"kind"`
	PriceCents *int           `json:"price_cents"` // of one pack
	PackG      *float64       `json:"pack_g"`
	PackTyped  string         `json:"pack_typed"`
	Density    *float64       `json:"density"` // g/ml, as spooned
	SaltShare  float64        `json:"salt_share"`
	Allergens  []string       `json:"allergens"`
}

// Line is the ingredient in a recipe or on a bill, so much of it.
func (i Ingredient) Line(g float64) prep.Line {
	l := prep.Line{Name: i.Name, G: g, Salt: i.SaltShare, Allergens: i.Allergens}
	if i.PriceCents != nil && i.PackG != nil {
		l.PriceCents, l.PackG = float64(*i.PriceCents), *i.PackG
	}
	if i.Density != nil {
		l.Density = *i.Density
	}
	return l
}

// RecipeKind is what a recipe is for.
type RecipeKind string

// Values lists the kinds.
func (RecipeKind) Values() []string {
	return []string{"rub", "binder", "brine", "injection", "spritz", "sauce"}
}

// RecipeLine is one ingredient of a recipe.
type RecipeLine struct {
	IngredientID int64   `json:"ingredient_id"`
	G            float64 `json:"g"`
	Typed        string  `json:"typed"`
}

// Recipe is a rub, a brine or the like, by weight.
type Recipe struct {
	ID    int64        `json:"id"`
	Name  string       `json:"name"`
	Kind  RecipeKind   `json:"kind"`
	Lines []RecipeLine `json:"lines"`
}

// Ingredients lists what the pantry keeps.
func (s *Store) Ingredients(ctx context.Context) ([]Ingredient, error) {
	return collect[Ingredient](ctx, s.pool, "select id, name, kind, price_cents, pack_g, pack_typed, density, salt_share, allergens from ingredients where retired_at is null order by kind, name")
}

// KeepIngredient adds an ingredient, or changes it; ErrConflict if the name is taken.
func (s *Store) KeepIngredient(ctx context.Context, who int64, i Ingredient) (id int64, err error) {
	err = s.keepInPantry(ctx, who, "ingredients", "ingredient", i.ID, i, func(q querier) error {
		if i.ID == 0 {
			return q.QueryRow(ctx, `insert into ingredients (name, kind, price_cents, pack_g, pack_typed, density, salt_share, allergens, recorded_by) values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning id`,
				i.Name, i.Kind, i.PriceCents, i.PackG, i.PackTyped, i.Density, i.SaltShare, i.Allergens, who).Scan(&i.ID)
		}
		return q.QueryRow(ctx, `update ingredients set name = $2, kind = $3, price_cents = $4, pack_g = $5, pack_typed = $6, density = $7, salt_share = $8, allergens = $9
			where id = $1 and retired_at is null returning id`, i.ID, i.Name, i.Kind, i.PriceCents, i.PackG, i.PackTyped, i.Density, i.SaltShare, i.Allergens).Scan(&i.ID)
	})
	return i.ID, err
}

// Recipes lists the barn's recipes.
func (s *Store) Recipes(ctx context.Context) ([]Recipe, error) {
	return collect[Recipe](ctx, s.pool, "select id, name, kind, lines from recipes where retired_at is null order by kind, name")
}

// KeepRecipe adds a recipe, or changes it; ErrConflict if the name is taken.
func (s *Store) KeepRecipe(ctx context.Context, who int64, r Recipe) (id int64, err error) {
	err = s.keepInPantry(ctx, who, "recipes", "recipe", r.ID, r, func(q querier) error {
		if r.ID == 0 {
			return q.QueryRow(ctx, "insert into recipes (name, kind, lines, recorded_by) values ($1, $2, $3, $4) returning id", r.Name, r.Kind, r.Lines, who).Scan(&r.ID)
		}
		return q.QueryRow(ctx, "update recipes set name = $2, kind = $3, lines = $4 where id = $1 and retired_at is null returning id", r.ID, r.Name, r.Kind, r.Lines).Scan(&r.ID)
	})
	return r.ID, err
}

// keepInPantry writes one row and its history.
func (s *Store) keepInPantry(ctx context.Context, who int64, table, subject string, id int64, now any, write func(querier) error) error {
	err := s.withTx(ctx, func(tx pgx.Tx) error {
		var before *string
		if id != 0 {
			if err := tx.QueryRow(ctx, "select to_jsonb(t)::text from "+table+" t where id = $1 for update", id).Scan(&before); err != nil {
				return found(err)
			}
		}
		if err := write(tx); err != nil {
			return found(err)
		}
		return change(ctx, tx, who, subject, id, before, now, "")
	})
	if IsUnique(err, "") {
		return ErrConflict
	}
	return err
}

// RetireFromPantry no longer offers an ingredient or a recipe.
func (s *Store) RetireFromPantry(ctx context.Context, who int64, subject string, id int64) error {
	table := map[string]string{"ingredient": "ingredients", "recipe": "recipes"}[subject]
	return s.withTx(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, "update "+table+" set retired_at = now() where id = $1 and retired_at is null", id)
		if err == nil && tag.RowsAffected() == 0 {
			err = ErrNotFound
		}
		if err != nil {
			return err
		}
		return change(ctx, tx, who, subject, id, nil, nil, "retired")
	})
}
