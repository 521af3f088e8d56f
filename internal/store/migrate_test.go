package store_test

import (
	"slices"
	"testing"

	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"

	"whitebarn/core/trial"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// TestTrialsOfTheFirstSchemaAreBroughtOver asks two trials in the barn's first
// schema, one with a factor of its own, and opens the record with today's.
func TestTrialsOfTheFirstSchemaAreBroughtOver(t *testing.T) {
	url := pgtest.Empty(t)
	pool, err := pgxpool.New(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer pool.Close()
	db := stdlib.OpenDBFromPool(pool)
	defer db.Close()
	p, err := goose.NewProvider(goose.DialectPostgres, db, store.Migrations())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := p.UpTo(t.Context(), 1); err != nil {
		t.Fatal(err)
	}
	for _, sql := range []string{
		"insert into people (name, role, sign_in, password_hash) values ('Odalys', 'pitmaster', 'odalys', 'x')",
		`insert into trials (question, product, cut, species, handling, factor, unit, held, created_by) values
			('Paper or bare?', 'lamb shoulder', 'shoulder', 'red meat', 'intact', 'Wrap', 'cut', '[{"name":"pit","value":"250 F"}]', 1),
			('Straw or hay?', 'ham', 'ham', 'red meat', 'intact', 'bedding', 'pit run', '[]', 1)`,
		`insert into arms (trial_id, place, tag, level, control) values (1, 1, 'PAPER', 'paper', false), (1, 2, 'BARE', 'no wrap at all', true),
			(2, 1, 'STRAW', 'straw', true), (2, 2, 'HAY', 'hay', false)`,
		"insert into outcomes (trial_id, key, place, smallest_difference) values (1, 'juiciness', 1, 0.5)",
		"insert into cuts (trial_id, name, pair, arm_id, recorded_by) values (1, '1L', '1', 1, 1), (1, '1R', '1', 2, 1)",
		"insert into weighings (cut_id, stage, kg, typed, resolution_kg, resolution_typed, at, recorded_by) values (1, 'trimmed', 2.8, '2.8 kg', 0.005, '5 g', now(), 1)",
		"insert into pits (name) values ('Brick Pit')",
	} {
		if _, err := pool.Exec(t.Context(), sql); err != nil {
			t.Fatalf("%s: %v", sql, err)
		}
	}
	s, err := store.Open(t.Context(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	first, err := s.Trial(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	a := first.Ask
	if !slices.Equal(a.Factors, []trial.Factor{{ID: a.Factors[0].ID, Role: trial.Wrap, Name: "Wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}}) || a.Arms[1].Levels[0].Value != "no wrap at all" || !a.Arms[1].Control || a.Held[0].Value != "250 F" || a.Outcomes[0].Key != trial.Juiciness {
		t.Errorf("the first trial came over as %+v", a)
	}
	if err := a.Tidy().Check(); err != nil {
		t.Errorf("it could not be kept again: %v", err)
	}
	cuts, err := s.Cuts(t.Context(), 1)
	if err != nil || len(cuts) != 2 || *cuts[1].ArmID != 2 {
		t.Errorf("its cuts came over as %+v (%v)", cuts, err)
	}
	factors, err := s.Catalogue(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range factors {
		var values []string
		for _, l := range f.Levels {
			values = append(values, l.Value)
		}
		switch f.Name {
		case "wrap":
			if f.Used != 1 || !slices.Contains(values, "no wrap at all") || values[0] != "none" || f.Own {
				t.Errorf("wrap is used %d times with the levels %v", f.Used, values)
			}
		case "bedding":
			if !f.Own || f.SetOn != trial.UnitPitRun || !slices.Equal(values, []string{"straw", "hay"}) {
				t.Errorf("the barn's own factor is %+v with %v", f, values)
			}
		case "Wrap":
			t.Error("the same factor is there twice")
		}
	}
}
