package server

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"whitebarn/core/logbook"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/cost"
	"whitebarn/internal/barn/rest"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

func (h hand) weighOut(cut int64, share yield.Share, weight, thrown string, want int, words string) {
	h.t.Helper()
	in := rest.WeighOutInput{Share: share, Weight: weight, Resolution: "1/4 oz", Thrown: thrown}
	path := fmt.Sprintf("/api/cuts/%d/weigh-outs", cut)
	if want == 201 {
		h.must("POST", path, in, want, nil)
		return
	}
	h.refused("POST", path, in, want, words)
}

// TestSharesOfACutAddUpToItsEdibleWeight divides one into lean, bones and thrown edges.
func TestSharesOfACutAddUpToItsEdibleWeight(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cut := v.Cuts[0].ID
	v = odalys.cooked(v, "203 F", cut, v.Cuts[1].ID)
	odalys.weigh(cut, "off", "4 lb")
	odalys.weighOut(cut, "lean", "2 lb 8 oz", "", 201, "")
	odalys.weighOut(cut, "bones", "1 lb", "", 201, "")
	odalys.weighOut(cut, "edges", "1 lb", "", 422, "the whole weighed")
	odalys.weighOut(cut, "halo", "1 oz", "", 422, "nothing a cut comes apart into")
	odalys.weighOut(cut, "edges", "7.5 oz", "charred", 201, "")
	odalys.weighOut(cut, "purge", "3 oz", "", 201, "")
	find := func() trials.CutView {
		v = odalys.again(v)
		for _, c := range v.Cuts {
			if c.ID == cut {
				return c
			}
		}
		t.Fatal("the cut is gone")
		return trials.CutView{}
	}
	c := find()
	if len(c.Shares) != 4 || !c.Apart.AddsUp || math.Abs(c.Apart.EatenKg-2.5*0.45359237) > 1e-9 {
		t.Errorf("it came apart into %+v, %+v", c.Shares, c.Apart)
	}
	edible := func(c trials.CutView) string {
		for _, w := range c.Weighings {
			if w.Stage == yield.Edible {
				return w.Typed
			}
		}
		return ""
	}
	if got := edible(c); got != "2 lb 8 oz" {
		t.Errorf("to eat are %q", got)
	}
	odalys.weighOut(cut, "lean", "2 lb 7 oz", "", 201, "") // weighed again
	if got := edible(find()); got != "2 lb 7 oz" {
		t.Errorf("weighed again, to eat are %q", got)
	}
	for _, s := range find().Shares {
		odalys.must("POST", fmt.Sprintf("/api/weigh-outs/%d/void", s.ID), barn.Why{Why: "cleared"}, 200, nil)
	}
	if c := find(); len(c.Shares) != 0 || edible(c) != "" {
		t.Errorf("taken back it still has %+v and %q to eat", c.Shares, edible(c))
	}
	var kept int
	if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from weigh_outs where cut_id = $1", cut).Scan(&kept); err != nil ||
		kept != 5 {
		t.Errorf("the record keeps %d of them (%v)", kept, err)
	}
}

func TestWhatIsLeftInAPit(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	run := v.Cooks[0].Runs[0].ID
	leave := func(what store.Left, amount, state string) rest.LeftInput {
		return rest.LeftInput{PitRunID: run, What: what, Amount: amount, State: state}
	}
	path := fmt.Sprintf("/api/cooks/%d/left", v.Cooks[0].ID)
	for _, in := range []rest.LeftInput{leave("fuel", "2 lb", ""), leave("water", "1.5 l", "fatty"), leave("pan", "40 %", "dry"),
		leave("fuel", "3 lb", "ash")} {
		odalys.must("PUT", path, in, 200, nil)
	}
	v = odalys.again(v)
	said := map[store.Left]store.Leftover{}
	for _, l := range v.Cooks[0].Left {
		said[l.What] = l
	}
	if len(v.Cooks[0].Left) != 3 || *said["water"].ML != 1500 || said["water"].State != "fatty" || *said["pan"].Share != 0.4 ||
		math.Abs(*said["fuel"].Kg-1.36) > 0.01 {
		t.Errorf("left are %+v", v.Cooks[0].Left)
	}
	odalys.must("PUT", path, leave("pan", "", ""), 200, nil)
	if v = odalys.again(v); len(v.Cooks[0].Left) != 2 {
		t.Errorf("taken back there are %+v", v.Cooks[0].Left)
	}
	odalys.refused("PUT", path, leave("water", "some", ""), 422, `"some" is no amount`)
	odalys.refused("PUT", path, leave("water", "140 %", ""), 422, "no share of full")
	in := leave("water", "1 l", "")
	in.PitRunID = 99
	odalys.refused("PUT", path, in, 422, "not in this cook")
}

// TestACutsCostIsReckoned from its price, its wrap and its share of the fire.
func TestACutsCostIsReckoned(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	one, two := v.Cuts[0].ID, v.Cuts[1].ID
	if _, err := b.store.Pool().Exec(t.Context(), "update cuts set price_cents = 3000 where id = $1", one); err != nil {
		t.Fatal(err)
	}
	price, pack := 2000, 1000.0
	for name, kind := range map[string]store.IngredientKind{"charcoal": "fuel", "apricot": "wood", "butcher paper": "wrap"} {
		if _, err := b.store.KeepIngredient(t.Context(), b.id, store.Ingredient{Name: name, Kind: kind, PriceCents: &price, PackG: &pack,
			Allergens: []string{}}); err != nil {
			t.Fatal(err)
		}
	}
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{}, one, two)
	odalys.tap(&v, logbook.Wood, "2026-09-19T12:30:00Z", logbook.Detail{Pieces: 4, With: "apricot"})
	odalys.tap(&v, logbook.Wrap, "2026-09-19T14:00:00Z", logbook.Detail{Wrap: "paper"}, one)
	odalys.tap(&v, logbook.Pull, "2026-09-19T16:00:00Z", logbook.Detail{}, one, two)
	odalys.weigh(one, "off", "3 lb")
	odalys.weigh(one, "edible", "2 lb")
	var costs []cost.CutCost
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/costs", v.ID), nil, 200, &costs)
	lines := map[cost.What]cost.Line{}
	for _, k := range costs {
		if k.CutID != one {
			continue
		}
		for _, l := range k.Lines {
			lines[l.What] = l
		}
		// 4 pieces of 85 g between two cuts, a sheet of 60 g, each 2 cents a gram.
		if lines[cost.Meat].Cents != 3000 || math.Abs(lines[cost.Wood].Cents-340) > 0.01 || math.Abs(lines[cost.Wrap].Cents-120) > 0.01 ||
			lines[cost.Fuel].G < 500 {
			t.Errorf("it took %+v", k.Lines)
		}
		if !k.Whole || k.CentsPerKg == nil || math.Abs(*k.CentsPerKg-k.TotalCents/0.90718474) > 0.01 {
			t.Errorf("it comes to %+v", k)
		}
	}
	for _, k := range costs {
		if k.CutID == two && (k.Whole || k.CentsPerKg != nil || !strings.Contains(fmt.Sprint(k.Lines), "false")) {
			t.Errorf("without a price the other comes to %+v", k)
		}
	}
}
