package calc

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"reflect"
	"sort"
	"strings"
	"testing"
	"whitebarn/core/fault"
)

type tolerance struct {
	Abs    float64              `json:"abs"`
	Rel    float64              `json:"rel"`
	Fields map[string]tolerance `json:"fields"`
}

// at is the tolerance of the longest matching dotted path.
func (t tolerance) at(path string) tolerance {
	pick, best := t, -1
	for p, f := range t.Fields {
		if (path == p || strings.HasPrefix(path, p+".")) && len(p) > best {
			pick, best = f, len(p)
		}
	}
	return pick
}

// differ lists where got does not hold what is wanted; a wanted null may be absent.
func differ(want, got any, tol tolerance, path string) []string {
	switch w := want.(type) {
	case nil:
		if got != nil {
			return []string{fmt.Sprintf("%s is %v, want nothing", path, got)}
		}
	case float64:
		g, ok := got.(float64)
		if t := tol.at(path); !ok || !(math.Abs(g-w) <= t.Abs+t.Rel*math.Abs(w)) {
			return []string{fmt.Sprintf("%s is %v, want %v", path, got, w)}
		}
	case []any:
		g, ok := got.([]any)
		if !ok || len(g) != len(w) {
			return []string{fmt.Sprintf("%s is %v, want %d values", path, got, len(w))}
		}
		var out []string
		for i := range w {
			out = append(out, differ(w[i], g[i], tol, path)...)
		}
		return out
	case map[string]any:
		g, _ := got.(map[string]any)
		var out []string
		for k, v := range w {
			if k == "optimal_allocations" || k == "optimal_sets" || k == "reason" {
				continue // examples and free text: any that reach the numbers will do
			}
			out = append(out, differ(v, g[k], tol, strings.TrimPrefix(path+"."+k, "."))...)
		}
		return out
	default:
		if !reflect.DeepEqual(want, got) {
			return []string{fmt.Sprintf("%s is %v, want %v", path, got, want)}
		}
	}
	return nil
}

func TestReferenceResults(t *testing.T) {
	files, err := filepath.Glob("../testdata/*.json")
	if err != nil || len(files) == 0 {
		t.Fatalf("no reference results: %v", err)
	}
	ran := 0
	for _, file := range files {
		text, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		var set struct {
			Cases []struct {
				Name, Calc    string
				Input, Expect json.RawMessage
				ExpectError   json.RawMessage `json:"expect_error"`
				Tolerance     tolerance
			}
		}
		if err := json.Unmarshal(text, &set); err != nil {
			t.Fatalf("%s: %v", file, err)
		}
		for _, c := range set.Cases {
			calculation, ok := Find(c.Calc)
			if !ok {
				continue
			}
			ran++
			t.Run(filepath.Base(file)+"/"+c.Name, func(t *testing.T) {
				out, err := calculation.Run(t.Context(), c.Input)
				if c.ExpectError != nil {
					if err == nil {
						t.Fatalf("was answered with %s, want a refusal", out)
					}
					return
				}
				if err != nil {
					t.Fatal(err)
				}
				var want, got any
				if err := json.Unmarshal(c.Expect, &want); err != nil {
					t.Fatal(err)
				}
				if err := json.Unmarshal(out, &got); err != nil {
					t.Fatal(err)
				}
				for _, d := range differ(want, got, c.Tolerance, "") {
					t.Error(d)
				}
			})
		}
	}
	if ran < 25 {
		t.Errorf("only %d reference cases ran", ran)
	}
}

func TestCalculationsAreNamedOnceAndInOrder(t *testing.T) {
	var names []string
	for _, c := range All {
		names = append(names, c.Name)
		if c.Title == "" || c.Source == "" || !strings.Contains(c.Name, ".") {
			t.Errorf("%q lacks a title, a source or a subject", c.Name)
		}
		if !reflect.DeepEqual(c.In.Kind(), reflect.Struct) || c.Out.Kind() != reflect.Struct {
			t.Errorf("%s does not take and give an object", c.Name)
		}
	}
	if !sort.StringsAreSorted(names) {
		t.Errorf("the list is out of order: %v", names)
	}
}

func TestBadInputIsRefusedByField(t *testing.T) {
	for _, c := range []struct{ name, input, want string }{
		{"units.to_grams", `{"lb":1,"stone":2}`, "stone"},
		{"units.to_grams", `{"lb":"one"}`, "lb"},
		{"units.to_grams", `{"lb":-1}`, "-1 is not a weight"},
		{"units.to_grams", `{"lb":1} {}`, "something after"},
		{"units.to_grams", ``, "empty"},
		{"units.to_grams", `{`, "not JSON"},
		{"yield.steps", `{"weights_g":[1]}`, "at least two"},
		{"yield.steps", `{"weights_g":[0,1]}`, "weights_g[0]"},
		{"yield.combined", `{"parts":[{"raw_g":-5,"cooked_g":1}],"scale_resolution_g":1}`, "parts[0].raw_g"},
		{"yield.combined", `{"parts":[],"scale_resolution_g":-1}`, "scale_resolution_g"},
		{"verdict.paired", `{"pairs":[],"equivalence_bound":0}`, "equivalence_bound"},
		{"verdict.paired", `{"pairs":[],"planning":{"n":1,"delta":0,"sd":0,"power":2,"alpha":0}}`, "planning"},
		{"verdict.words", `{"pairs":[],"smallest_difference":0}`, "smallest_difference"},
		{"verdict.words", `{"pairs":[{"estimate":1}],"smallest_difference":1}`, "pairs[0].se"},
		{"panel.williams", `{"k":[1]}`, "k[0]"},
		{"panel.count_codes", `{"codes_from":5,"codes_to":999}`, "codes_from"},
		{"panel.check_orders", `{"samples":2,"orders":[[1,3]]}`, "orders[0][1]"},
		{"panel.check_orders", `{"samples":0,"orders":[]}`, "samples"},
		{"design.confounding", `{"factors":["a"],"arms":[["1"],["1","2"]]}`, "arms[1]"},
		{"design.confounding", `{"factors":[],"arms":[]}`, "arms"},
		{"design.factorial", `{"k":3,"generators":["D=AB"]}`, "generators[0]"},
		{"design.factorial", `{"k":40}`, "k: 40 factors"},
		{"design.positions", `{"arms_by_cook_and_position":[["A","B"],["A"]]}`, "arms_by_cook_and_position[1]"},
		{"design.match", `{"pieces":[{"id":"P1","weight_g":1},{"id":"P2","weight_g":2}],"arm_sizes":[1,2],"set_size":2}`, "arm_sizes[1]"},
		{"design.match", `{"pieces":[{"id":"P1"},{"id":"P2"}],"arm_sizes":[1,1],"set_size":9}`, "set_size"},
		{"design.match", `{"pieces":[{"id":"P1","animal":"Y"},{"id":"P2","animal":"Y"},{"id":"P3","animal":"Y"}],"arm_sizes":[2,1],"split_animals_over_arms":true,"set_size":2}`, "split_animals_over_arms"},
		{"safety.minimum", `{"species":"unicorn","handling":"intact"}`, "species"},
		{"safety.minimum", `{"species":"poultry","handling":"kissed"}`, "handling"},
	} {
		calculation, ok := Find(c.name)
		if !ok {
			t.Fatalf("there is no %s", c.name)
		}
		if out, err := calculation.Run(t.Context(), []byte(c.input)); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s of %s gave %s, %v; want a refusal that names %q", c.name, c.input, out, err, c.want)
		}
	}
	if _, ok := Find("units.to_stones"); ok {
		t.Error("an unknown calculation was found")
	}
}

func TestEveryCalculationHasAnExampleThatRuns(t *testing.T) {
	for i, c := range All {
		if i > 0 && All[i-1].Name >= c.Name {
			t.Errorf("%s is out of order", c.Name)
		}
		if got := reflect.TypeOf(examples[c.Name]); got != c.In {
			t.Errorf("the example of %s is a %v, want a %v", c.Name, got, c.In)
			continue
		}
		in, err := c.Example()
		if err != nil {
			t.Fatal(err)
		}
		out, err := c.Run(t.Context(), in)
		if err != nil {
			t.Errorf("the example of %s: %v", c.Name, err)
			continue
		}
		steps, err := c.Working(in, out)
		if err != nil || len(steps) == 0 || len(formulas[c.Name]) == 0 {
			t.Errorf("%s shows no working: %v (%v)", c.Name, steps, err)
		}
		if len(steps) < len(formulas[c.Name]) && c.Name != "prep.brine" { // one line is for cured meat only
			t.Errorf("of %d formulas of %s %d can be filled in", len(formulas[c.Name]), c.Name, len(steps))
		}
		for _, s := range steps {
			if strings.ContainsAny(s.Words+s.Values, "{}") {
				t.Errorf("the working of %s has a hole: %+v", c.Name, s)
			}
		}
	}
}

func TestTheWorkingHasTheValuesInIt(t *testing.T) {
	c, _ := Find("prep.dry_brine")
	in := []byte(`{"meat_g": 2270, "salt_fraction": 0.01, "salt": "fine"}`)
	out, err := c.Run(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	steps, err := c.Working(in, out)
	if err != nil || steps[0] != (Step{"salt = meat x salt share", "22.7 = 2270 x 0.01"}) {
		t.Errorf("the working is %+v (%v)", steps, err)
	}
}

func TestFieldsAreDescribed(t *testing.T) {
	c, _ := Find("prep.shopping")
	f := c.Inputs()
	if len(f) != 2 || f[0].Kind != ListField || f[0].Fields[0].Kind != GroupField || f[1].Kind != TableField || f[1].Unit != "g" {
		t.Fatalf("the fields are %+v", f)
	}
	line := f[0].Fields[0].Fields
	if line[0].Kind != TextField || line[1].Label != "weight" || line[2].Unit != "cents" || line[5].Label != "salt share" {
		t.Errorf("a line is %+v", line)
	}
	c, _ = Find("plan.start")
	for _, f := range c.Inputs() {
		switch f.Name {
		case "cut", "smoker", "wrap":
			if f.Kind != ChoiceField || len(f.Choices) < 5 {
				t.Errorf("%s is %+v", f.Name, f)
			}
		case "thickness_cm":
			if !f.Optional || f.Unit != "cm" || f.Label != "thickness" {
				t.Errorf("thickness is %+v", f)
			}
		}
	}
}

// TestNoNumberIsTooLarge puts senseless numbers in the place of each number of each
// example: it is computed, or refused as a fault, within bounds.
func TestNoNumberIsTooLarge(t *testing.T) {
	for _, c := range All {
		example, err := c.Example()
		if err != nil {
			t.Fatal(err)
		}
		var in any
		if err := json.Unmarshal(example, &in); err != nil {
			t.Fatal(err)
		}
		numbersOf(in, func(set func(float64)) {
			for _, n := range []float64{0, -1, 3e5, 1e9, 1e300, -1e300, 1e-300} {
				set(n)
				input, _ := json.Marshal(in)
				_, err := c.Run(t.Context(), input)
				if err != nil && !errors.As(err, new(*fault.Error)) && !errors.As(err, new(fault.List)) {
					t.Errorf("%s of %.200s answers %v, want a fault", c.Name, input, err)
				}
			}
		})
	}
}

// numbersOf lends each number in a JSON value to a test.
func numbersOf(v any, lend func(set func(float64))) {
	visit := func(at any, set func(any)) {
		if was, ok := at.(float64); ok {
			lend(func(n float64) { set(n) })
			set(was)
			return
		}
		numbersOf(at, lend)
	}
	switch x := v.(type) {
	case map[string]any:
		for k, at := range x {
			visit(at, func(n any) { x[k] = n })
		}
	case []any:
		for k, at := range x {
			visit(at, func(n any) { x[k] = n })
		}
	}
}

// TestListsAreBounded gives lists far longer than any barn has.
func TestListsAreBounded(t *testing.T) {
	row := make([]string, 1000)
	for i := range row {
		row[i] = string(rune('A' + i%3))
	}
	in, _ := json.Marshal(map[string]any{"arms_by_cook_and_position": [][]string{row, row, row}})
	c, _ := Find("design.positions")
	if _, err := c.Run(t.Context(), in); err == nil || !strings.Contains(err.Error(), "at most") {
		t.Errorf("three cooks of a thousand positions answer %v", err)
	}
}

// TestALongCalculationEndsWithItsCaller hangs up before it began.
func TestALongCalculationEndsWithItsCaller(t *testing.T) {
	c, _ := Find("plan.start")
	in, err := c.Example()
	if err != nil {
		t.Fatal(err)
	}
	ctx, hangUp := context.WithCancel(t.Context())
	hangUp()
	if _, err := c.Run(ctx, in); !errors.Is(err, context.Canceled) || !c.Costly(in) {
		t.Errorf("hung up on, plan.start answers %v", err)
	}
}
