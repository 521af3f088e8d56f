package people

import (
	"fmt"
	"testing"
	"time"

	"whitebarn/internal/store"
)

func TestDifferencesAreSaidInWords(t *testing.T) {
	for _, c := range []struct {
		name, before, after string
		want                []FieldChange
	}{
		{"a field that changed", `{"name":"1L","grade":""}`, `{"name":"1L","grade":"choice"}`, []FieldChange{{"grade", "", "choice"}}},
		{"numbers of rows, which nobody reads", `{"id":1,"arm_id":3,"level_ids":[1]}`, `{"id":1,"arm_id":4,"level_ids":[2]}`, nil},
		{"what was typed, not its canonical number", `{"set_point_c":121.1,"set_point_typed":"250 F"}`, `{"set_point_c":135,"set_point_typed":"275 F"}`,
			[]FieldChange{{"set point typed", "250 F", "275 F"}}},
		{"an amount an hour", `{"fuel_kg_h":2.27,"fuel_typed":"5 lb"}`, `{"fuel_kg_h":2.72,"fuel_typed":"6 lb"}`, []FieldChange{{"fuel typed", "5 lb", "6 lb"}}},
		{"within another", `{"burn":{"fuel":"splits"}}`, `{"burn":{"fuel":"lump"}}`, []FieldChange{{"burn fuel", "splits", "lump"}}},
		{"a list of words", `{"trusts":["arms"]}`, `{"trusts":["arms","pits"]}`, []FieldChange{{"trusts", "arms", "arms, pits"}}},
		{"a list of things", `{"runs":[{"pit":"a"}]}`, `{"runs":[{"pit":"a"},{"pit":"b"}]}`, []FieldChange{{"runs 2 pit", "", "b"}}},
		{"a price, not as a power of ten", `{"price_cents":12000000}`, `{"price_cents":13000000}`, []FieldChange{{"price cents", "12000000", "13000000"}}},
		{"yes, and nothing", `{"guests":false}`, `{"guests":true}`, []FieldChange{{"guests", "", "yes"}}},
		{"a row as the database wrote it", `"{\"name\": \"fine salt\", \"recorded_at\": \"2026-11-28\"}"`, `{"name":"coarse salt"}`,
			[]FieldChange{{"name", "fine salt", "coarse salt"}}},
		{"something new in a word", `null`, `{"password":"set"}`, []FieldChange{{"password", "", "set"}}},
		{"something new as a whole", `null`, `{"a":"1","b":"2","c":"3","d":"4"}`, nil},
		{"words alone", `"voided"`, `"counts"`, []FieldChange{{"", "voided", "counts"}}},
		{"what is no JSON", `{`, `{"name":"x"}`, []FieldChange{{"name", "", "x"}}},
	} {
		if got := differences([]byte(c.before), []byte(c.after)); fmt.Sprint(got) != fmt.Sprint(append([]FieldChange{}, c.want...)) {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
}

// TestWhatWasDoneTogetherIsOneLine: the cuts of a draw are, a cut that changed otherwise and
// what another did are not.
func TestWhatWasDoneTogetherIsOneLine(t *testing.T) {
	at, trial, other := time.Now(), int64(3), int64(4)
	deed := func(named string, changes ...FieldChange) Deed {
		return Deed{store.Done{At: at, By: "Odalys", Subject: "cut", Named: named, TrialID: &trial, Why: "drawn by lot"}, changes}
	}
	to := func(arm string) FieldChange { return FieldChange{"arm", "", arm} }
	d := deed("1L", to("PAPER"))
	for _, next := range []Deed{deed("1R", to("BARE")), deed("2L")} {
		if !d.takes(next) {
			t.Errorf("%s is not of the line %s", next.Named, d.Named)
		}
	}
	if d.Named != "1L to PAPER, 1R to BARE, 2L" || len(d.Changes) != 0 {
		t.Errorf("the line reads %q %v", d.Named, d.Changes)
	}
	later, elsewhere, hers, why := deed("3L"), deed("3L"), deed("3L"), deed("3L")
	later.At, elsewhere.TrialID, hers.By, why.Why = at.Add(time.Second), &other, "Tove", "again"
	for name, next := range map[string]Deed{"a later one": later, "one of another trial": elsewhere, "somebody else's": hers,
		"one for another reason":   why,
		"one that left its arm":    deed("3L", FieldChange{"arm", "PAPER", ""}),
		"one that changed besides": deed("3L", to("PAPER"), FieldChange{"grade", "", "choice"})} {
		if d.takes(next) {
			t.Errorf("%s joins the line", name)
		}
	}
}
