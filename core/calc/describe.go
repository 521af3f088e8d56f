package calc

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"regexp"
	"strconv"
	"strings"
)

// FieldKind is how a field is filled in.
type FieldKind string

// The kinds of field.
const (
	NumberField FieldKind = "number"
	WholeField  FieldKind = "whole number"
	TextField   FieldKind = "text"
	ChoiceField FieldKind = "choice"
	YesNoField  FieldKind = "yes or no"
	ListField   FieldKind = "list"  // of one kind of thing
	GroupField  FieldKind = "group" // of named fields
	TableField  FieldKind = "table" // of names, each with a thing
)

// Values lists the kinds.
func (FieldKind) Values() []string {
	return []string{string(NumberField), string(WholeField), string(TextField), string(ChoiceField), string(YesNoField), string(ListField), string(GroupField), string(TableField)}
}

// Field describes one field of an input or an output. A group has its fields in
// Fields; a list or a table has one, which describes each of its things.
type Field struct {
	Name     string    `json:"name"`
	Label    string    `json:"label"`
	Unit     string    `json:"unit"`
	Kind     FieldKind `json:"kind"`
	Optional bool      `json:"optional"` // may be left out or null
	Choices  []string  `json:"choices"`
	Fields   []Field   `json:"fields"`
}

// Subject is what the calculation is about: the part of its name before the dot.
func (c Calculation) Subject() string {
	subject, _, _ := strings.Cut(c.Name, ".")
	return subject
}

// Inputs and Outputs describe the fields.
func (c Calculation) Inputs() []Field  { return fieldsOf(c.In) }
func (c Calculation) Outputs() []Field { return fieldsOf(c.Out) }

// Example is an input that can be computed, of a made-up supper.
func (c Calculation) Example() ([]byte, error) { return json.Marshal(examples[c.Name]) }

func fieldsOf(t reflect.Type) []Field {
	out := []Field{}
	for _, f := range reflect.VisibleFields(t) {
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		if f.Anonymous || !f.IsExported() || name == "-" {
			continue
		}
		field := describe(name, f.Type)
		field.Optional = field.Optional || strings.Contains(options, "omitempty")
		out = append(out, field)
	}
	return out
}

func describe(name string, t reflect.Type) Field {
	f := Field{Name: name, Choices: []string{}, Fields: []Field{}}
	f.Label, f.Unit = Label(name)
	if t.Kind() == reflect.Pointer {
		f.Optional = true
		t = t.Elem()
	}
	if v, ok := reflect.Zero(t).Interface().(interface{ Values() []string }); ok && t.Kind() == reflect.String {
		f.Kind, f.Choices = ChoiceField, v.Values()
		return f
	}
	switch t.Kind() {
	case reflect.Bool:
		f.Kind = YesNoField
	case reflect.Int, reflect.Int64, reflect.Uint64:
		f.Kind = WholeField
	case reflect.Float64:
		f.Kind = NumberField
	case reflect.Slice, reflect.Array:
		f.Kind, f.Fields = ListField, []Field{describe("", t.Elem())}
	case reflect.Map:
		f.Kind, f.Fields = TableField, []Field{describe("", t.Elem())}
	case reflect.Struct:
		f.Kind, f.Fields = GroupField, fieldsOf(t)
	default:
		f.Kind = TextField
	}
	return f
}

// endings of a field's name that say its unit.
var endings = []struct{ ends, unit string }{
	{"_g_per_m2", "g/m2"}, {"_g_per_ml", "g/ml"}, {"_kg_m2", "kg/m2"}, {"_cm2", "cm2"}, {"_m2", "m2"}, {"_ppm", "ppm"},
	{"_kg", "kg"}, {"_lb", "lb"}, {"_oz", "oz"}, {"_g", "g"}, {"_ml", "ml"}, {"_cm", "cm"}, {"_mm", "mm"}, {"_m", "m"},
	{"_C", "C"}, {"_F", "F"}, {"_Pa", "Pa"}, {"_cents", "cents"}, {"_min", "min"}, {"_h", "h"}, {"_s", "s"},
	{"_fraction", ""}, {"_pickup", "share"}, {"_chance", "share"},
}

// labels of names that do not read by themselves: words, unit.
var labels = map[string][2]string{
	"set_c": {"set point", "C"}, "dial_c": {"dial", "C"}, "target_c": {"to hold", "C"}, "floor_c": {"floor of hot holding", "C"},
	"settles_c": {"settles at", "C"}, "lowest_dial_c": {"lowest dial", "C"}, "next_dial_c": {"next dial", "C"}, "pan_c": {"pan", "C"},
	"now_c": {"pan now", "C"}, "begins_c": {"the curve begins at", "C"}, "low_c": {"low swing", "C"}, "worst_c": {"at worst", "C"},
	"mean_c": {"mean", "C"}, "peak_c": {"peak", "C"}, "before_c": {"before", "C"}, "boiling_c": {"water boils at", "C"},
	"dry_bulb_c": {"dry bulb", "C"}, "wet_bulb_c": {"wet bulb", "C"}, "dew_point_c": {"dew point", "C"}, "t_c": {"temperatures", "C"},
	"band_c": {"band, C degrees; 0 is usual", ""}, "dial_step_c": {"step of the dial, in C degrees", ""},
	"sd_c": {"standard deviation, C degrees", ""}, "off_set_c": {"off set, C degrees", ""}, "largest_swing_c": {"largest swing, C degrees", ""},
	"drift_c_per_h": {"drift an hour, C degrees", ""}, "fall_c_per_10_min": {"fall in 10 min, C degrees", ""},
	"spread_c": {"spread, C degrees", ""}, "worst_spread_c": {"worst spread, C degrees", ""}, "rise_c": {"rise, C degrees", ""},
	"fell_c": {"fell, C degrees", ""}, "dial_minus_grate_c": {"dial less grate, C degrees", ""}, "plus_minus_c": {"give or take, C degrees", ""},
	"climb_c_per_h": {"climbs an hour, C degrees", ""}, "ripple_c": {"ripple, C degrees", ""}, "off_dial_c": {"off the dial, C degrees", ""},
	"s": {"time", "s"}, "t_hours": {"hours", "h"},
	"g": {"weight", "g"}, "c": {"temperature", "C"}, "f": {"temperature in F", ""}, "oz": {"ounces", "oz"}, "lb": {"pounds", "lb"}, "grams": {"weight", "g"},
	"salt_g_of_meat_plus_water":                       {"salt, of meat and water", "g"},
	"salt_g_of_total_incl_salt":                       {"salt, of everything with the salt", "g"},
	"dry_salt_g_of_meat":                              {"dry salt, of the meat", "g"},
	"dry_salt_g_of_total":                             {"dry salt, of meat and salt", "g"},
	"brine_strength_by_water":                         {"brine strength, salt per water (share)", ""},
	"brine_strength_by_weight":                        {"brine strength, salt per brine (share)", ""},
	"equilibrium_if_salt_s1":                          {"salt in the meat at rest with the first amount (share)", ""},
	"injection_brine_fraction_for_target_of_green":    {"injected instead: salt in the brine, of green weight (share)", ""},
	"injection_brine_fraction_for_target_of_injected": {"injected instead: salt in the brine, of injected weight (share)", ""},
	"feasible":                       {"water can hold that much salt", ""},
	"nitrite_ppm_of_meat":            {"nitrite, of the meat", "ppm"},
	"nitrite_ppm_of_meat_plus_water": {"nitrite, of meat and water", "ppm"},
	"cure_g_for_150ppm_of_meat":      {"cure for 150 ppm of the meat", "g"},
	"u_pickup":                       {"uncertainty of the pick-up (share)", ""},
	"pickup":                         {"pick-up", "share"},
	"injection_pickup":               {"pick-up, were it injected", "share"},
	"ml_per_kg":                      {"ml a kg", "ml"},
	"ml_per_site":                    {"ml a site", "ml"},
	"cents_per_edible_kg":            {"an edible kg", "cents"},
	"cents_per_edible_lb":            {"an edible lb", "cents"},
	"cents_per_portion":              {"a portion", "cents"},
	"edible_yield":                   {"edible of bought", "share"},
	"edible_yield_sd":                {"its spread between pieces", "share"},
	"edible_yield_u":                 {"how badly it is known", "share"},
	"piece_sd_g":                     {"spread between pieces", "g"},
	"chance_of_being_enough":         {"wanted chance of being enough", "share"},
	"chance_enough":                  {"chance of being enough", "share"},
	"chance_with_one_piece_less":     {"chance with one piece less", "share"},
	"pieces_without_spread":          {"pieces by plain division", ""},
	"cook_low_h":                     {"it takes at least, 9 times in 10", "h"},
	"cook_middle_h":                  {"it takes in the middle", "h"},
	"cook_high_h":                    {"it takes at most, 9 times in 10", "h"},
	"latest_start_before_table_h":    {"latest start before the table", "h"},
	"advised_start_before_table_h":   {"advised start before the table", "h"},
	"tenderness_index":               {"tenderness, 1 is tender", ""},
	"u_weight_g":                     {"uncertainty of a weight", "g"},
	"u_combined":                     {"uncertainty of the yield", ""},
	"t_s":                            {"time", "s"},
	"se":                             {"standard error", ""},
	"df":                             {"degrees of freedom", ""},
	"p_t":                            {"p, two-sided", ""},
}

// Label is how a field's name is shown, and its unit. Names carry their unit
// at their end.
func Label(name string) (label, unit string) {
	if l, own := labels[name]; own {
		return l[0], l[1]
	}
	for _, u := range endings {
		if strings.HasSuffix(name, u.ends) && len(name) > len(u.ends) {
			name, unit = strings.TrimSuffix(name, u.ends), u.unit
			switch {
			case u.ends == "_fraction":
				name += "_share"
			case u.unit == "share":
				name += u.ends
			}
			break
		}
	}
	return strings.ReplaceAll(name, "_", " "), unit
}

// Step is one line of the working: the formula in words, and with the values in it.
type Step struct {
	Words  string `json:"words"`
	Values string `json:"values"`
}

var placeholder = regexp.MustCompile(`\{([a-zA-Z0-9_.]+)\}`)

// Working writes the formulas of a calculation out with the values of one
// input and its output in them. A formula whose values are not all there is
// left out.
func (c Calculation) Working(input, output []byte) ([]Step, error) {
	values := map[string]any{}
	for _, part := range [][]byte{input, output} {
		d := json.NewDecoder(bytes.NewReader(part))
		var v map[string]any
		if err := d.Decode(&v); err != nil {
			return nil, err
		}
		flatten("", v, values)
	}
	out := []Step{}
	for _, f := range formulas[c.Name] {
		known := true
		s := Step{Words: placeholder.ReplaceAllStringFunc(f, func(p string) string {
			label, _ := Label(lastPart(p[1 : len(p)-1]))
			return label
		})}
		s.Values = placeholder.ReplaceAllStringFunc(f, func(p string) string {
			v, ok := values[p[1:len(p)-1]]
			if !ok || v == nil {
				known = false
				return ""
			}
			return shown(v)
		})
		if s.Values == s.Words {
			s.Values = ""
		}
		if known {
			out = append(out, s)
		}
	}
	return out, nil
}

func lastPart(path string) string { return path[strings.LastIndex(path, ".")+1:] }

func flatten(prefix string, v any, into map[string]any) {
	switch v := v.(type) {
	case map[string]any:
		for k, x := range v {
			flatten(strings.TrimPrefix(prefix+"."+k, "."), x, into)
		}
	case []any:
		for i, x := range v {
			flatten(fmt.Sprintf("%s.%d", prefix, i), x, into)
		}
	default:
		into[prefix] = v
	}
}

// shown writes a value to four digits that count.
func shown(v any) string {
	f, ok := v.(float64)
	if !ok {
		return fmt.Sprint(v)
	}
	if f == math.Trunc(f) && math.Abs(f) < 1e7 {
		return strconv.FormatFloat(f, 'f', -1, 64)
	}
	digits := 3 - int(math.Floor(math.Log10(math.Abs(f))))
	scale := math.Pow(10, float64(digits))
	return strconv.FormatFloat(math.Round(f*scale)/scale, 'g', -1, 64)
}
