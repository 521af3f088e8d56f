package logbook

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/units"
)

// Detail is what an act says besides that it was done. Each act has its own
// few of the fields; what was not said is left empty. A quantity is kept as it was
// typed beside its canonical number.
type Detail struct {
	Wrap        Material `json:"wrap,omitempty"`   // wrap: of what
	With        string   `json:"with,omitempty"`   // spritz, wood, fuel, water, a wrap of another kind: what it is
	Parcel      []PutIn  `json:"parcel,omitempty"` // wrap: what goes in with it
	Amount      string   `json:"amount,omitempty"` // of the spritz, the sauce or the water, as typed
	AmountML    float64  `json:"amount_ml,omitempty"`
	Pieces      int      `json:"pieces,omitempty"` // wood, fuel
	Unlit       int      `json:"unlit,omitempty"`  // lit: pieces that lie there unlit beside them
	Weight      string   `json:"weight,omitempty"` // of the wood or the fuel, as typed
	WeightKg    float64  `json:"weight_kg,omitempty"`
	Damper      string   `json:"damper,omitempty"` // vent: which
	Open        *float64 `json:"open,omitempty"`   // vent: percent
	Feel        Feel     `json:"feel,omitempty"`   // probe
	Place       string   `json:"place,omitempty"`  // probe: where in the cut
	Read        string   `json:"read,omitempty"`   // the temperature, as typed
	C           *float64 `json:"c,omitempty"`
	ReadN       int      `json:"read_n,omitempty"`        // probe, of several cuts: so many were read, this is the coldest
	Doubt       *Doubt   `json:"doubt,omitempty"`         // of that, while nobody answered it; the barn's word alone
	Of          SpotOf   `json:"of,omitempty"`            // spot: what was read
	Look        Look     `json:"look,omitempty"`          // bark
	Signs       []Sign   `json:"signs,omitempty"`         // probe: what else tells how far it is
	Lies        []Lie    `json:"lies,omitempty"`          // on, move, flip, turn: how it lies then
	To          string   `json:"to,omitempty"`            // on, move: the place on the grate
	RunID       int64    `json:"run_id,omitempty"`        // move: to another pit
	HolderID    int64    `json:"holder_id,omitempty"`     // hold: in which holder
	HolderRunID int64    `json:"holder_run_id,omitempty"` // the run of it, as the record has it
	Set         string   `json:"set,omitempty"`           // set: at what the pit is kept from now on, as typed
	SetC        *float64 `json:"set_c,omitempty"`
	Air         string   `json:"air,omitempty"` // note: of the weather, as typed
	AirC        *float64 `json:"air_c,omitempty"`
	Wind        Wind     `json:"wind,omitempty"`
	Sun         bool     `json:"sun,omitempty"` // on the lid
	Rain        bool     `json:"rain,omitempty"`
	PhotoID     int64    `json:"photo_id,omitempty"`
	Before      int      `json:"before,omitempty"`  // rescue: how good it was, 1 to 9
	After       int      `json:"after,omitempty"`   // and is
	OutMin      float64  `json:"out_min,omitempty"` // on: out of the fridge for so many minutes before
	Minutes     *float64 `json:"minutes,omitempty"` // hands-on, of the whole press; else the usual
}

// Material is what a cut is wrapped in, by the keys of the cook model.
type Material string

// OtherMaterial is a wrap the cook model has no key for; what it is stands beside it.
const OtherMaterial Material = "other"

// materials are what can lie around a cut, in the words it is said with.
var materials = []struct {
	key  Material
	word string
}{
	{"paper", "butcher paper"}, {"foil", "foil"}, {"pan", "covered pan"}, {"foilliquid", "foil with liquid"}, {"boat", "foil boat"}, {"perfpaper", "perforated paper"},
	{"rack", "rack over water"}, {"tent", "loose foil tent"}, {OtherMaterial, "another wrap"},
}

// Values lists the materials.
func (Material) Values() []string {
	out := []string{""}
	for _, m := range materials {
		out = append(out, string(m.key))
	}
	return out
}

// Word is what the material is called; nothing is bare.
func (m Material) Word() string {
	for _, x := range materials {
		if x.key == m {
			return x.word
		}
	}
	return "bare"
}

// Feel is how a probe goes in.
type Feel string

// The words of a probe check, from raw to overdone.
const (
	Tough  Feel = "tough"
	Tight  Feel = "tight"
	Giving Feel = "giving"
	Tender Feel = "tender"
	Mushy  Feel = "mushy"
)

// Values lists the words.
func (Feel) Values() []string {
	return []string{"", string(Tough), string(Tight), string(Giving), string(Tender), string(Mushy)}
}

// Look is how the bark looks.
type Look string

// Values lists the looks, from pale to burnt.
func (Look) Values() []string { return []string{"", "wet", "pale", "setting", "set", "too dark"} }

// SpotOf is what a spot reading is of.
type SpotOf string

// OfWetBulb is a wetted wick in the air of the pit.
const OfWetBulb SpotOf = "wet bulb"

// Values lists what can be read beside a core.
func (SpotOf) Values() []string {
	return []string{"", "surface by infra-red", "plate", "oil", string(OfWetBulb), "lid dial"}
}

// Sign is what a hand finds out without a thermometer.
type Sign string

// Values lists the signs.
func (Sign) Values() []string {
	return []string{"stiff", "bends", "cracks when bent", "tears", "springs back", "stays pressed", "bone holds", "bone gives",
		"bone comes clean"}
}

// Lie is how a cut lies, hangs or is turned.
type Lie string

// Values lists the ways.
func (Lie) Values() []string {
	return []string{"thick end to the fire", "thin end to the fire", "fat side up", "fat side down", "hot side", "cool side", "upper shelf",
		"middle shelf", "lower shelf", "hung by the thick end", "hung by the thin end"}
}

// Wind is how it blows.
type Wind string

// Values lists the winds.
func (Wind) Values() []string { return []string{"", "still", "breeze", "wind", "gusts"} }

// AllPlaces is the place of a core that must be reached wherever a probe is:
// what the coldest shows decides, as it does where no place is named.
const AllPlaces = "all places"

// Places in a cut where it is read by hand or by a probe. Others may be named.
var Places = []string{"thick", "thin", "near bone", "breast", "thigh", "coldest found"}

// field is one thing that may be said.
type field struct {
	name string
	said bool
}

func (d Detail) fields() []field {
	return []field{
		{"wrap", d.Wrap != ""}, {"with", d.With != ""}, {"parcel", len(d.Parcel) > 0}, {"amount", d.Amount != ""}, {"pieces", d.Pieces != 0},
		{"unlit", d.Unlit != 0}, {"weight", d.Weight != ""},
		{"damper", d.Damper != ""}, {"open", d.Open != nil},
		{"feel", d.Feel != ""}, {"place", d.Place != ""}, {"read", d.Read != ""}, {"read_n", d.ReadN != 0}, {"of", d.Of != ""}, {"look", d.Look != ""},
		{"signs", len(d.Signs) > 0}, {"lies", len(d.Lies) > 0}, {"to", d.To != ""},
		{"run_id", d.RunID != 0}, {"holder_id", d.HolderID != 0}, {"set", d.Set != ""},
		{"air", d.Air != ""}, {"wind", d.Wind != ""}, {"sun", d.Sun}, {"rain", d.Rain}, {"photo_id", d.PhotoID != 0}, {"out_min", d.OutMin != 0},
		{"before", d.Before != 0}, {"after", d.After != 0},
	}
}

// FieldRow is how a field of the detail is asked for. A spot reading may also
// name a place, and a wrap of another kind what it is.
type FieldRow struct {
	Name    string   `json:"name"`
	Label   string   `json:"label"`
	Hint    string   `json:"hint"`    // in an empty field
	Words   []string `json:"words"`   // to tap; the key stands for them where they differ
	Keys    []string `json:"keys"`    // of the words
	Numbers []int    `json:"numbers"` // to tap
	Typed   bool     `json:"typed"`   // may be typed too
	Heat    bool     `json:"heat"`    // a bare number is a temperature in the reader's unit
	Mass    bool     `json:"mass"`    // a bare number is a weight in the reader's unit
	Several bool     `json:"several"` // any number of the words
}

// Fields lists what may be said of acts.
func Fields() []FieldRow {
	words := func(name, label string, of []string) FieldRow {
		return FieldRow{Name: name, Label: label, Words: of[1:], Keys: of[1:]}
	}
	several := func(name, label string, of []string) FieldRow {
		return FieldRow{Name: name, Label: label, Words: of, Keys: of, Several: true}
	}
	wrap := FieldRow{Name: "wrap", Label: "In", Keys: Material("").Values()[1:]}
	for _, k := range wrap.Keys {
		wrap.Words = append(wrap.Words, Material(k).Word())
	}
	out := []FieldRow{
		wrap, {Name: "with", Label: "With what", Typed: true}, {Name: "parcel", Label: "In with it"},
		{Name: "amount", Label: "How much", Hint: "1/2 cup", Typed: true},
		{Name: "pieces", Label: "How many", Numbers: []int{1, 2, 3, 4, 6, 8, 12}},
		{Name: "unlit", Label: "Unlit beside them", Numbers: []int{10, 20, 40, 60, 80}},
		{Name: "weight", Label: "Weight of it all", Hint: "2 lb", Typed: true, Mass: true}, {Name: "damper", Label: "Vent"},
		{Name: "open", Label: "Open, %", Numbers: []int{0, 25, 50, 75, 100}}, {Name: "read", Label: "Reads", Hint: "203 F", Typed: true, Heat: true},
		{Name: "read_n", Label: "The coldest of so many read", Numbers: []int{2, 3, 4, 6, 8, 12}},
		{Name: "place", Label: "Where", Words: Places, Keys: Places}, words("feel", "Feels", Feel("").Values()), words("of", "Of", SpotOf("").Values()), words("look", "Bark is", Look("").Values()),
		several("signs", "Signs", Sign("").Values()), several("lies", "It lies", Lie("").Values()), {Name: "run_id", Label: "To"},
		{Name: "holder_id", Label: "In"},
		{Name: "set", Label: "Set to", Hint: "275 F", Typed: true, Heat: true}, {Name: "to", Label: "To position", Typed: true},
		{Name: "air", Label: "Air", Hint: "50 F", Typed: true, Heat: true},
		words("wind", "Wind", Wind("").Values()), {Name: "sun", Words: []string{"sun on the lid"}, Keys: []string{"true"}}, {Name: "rain", Words: []string{"rain"}, Keys: []string{"true"}},
		{Name: "before", Label: "Before, 1 to 9", Numbers: []int{1, 2, 3, 4, 5, 6, 7, 8, 9}},
		{Name: "after", Label: "After, 1 to 9", Numbers: []int{1, 2, 3, 4, 5, 6, 7, 8, 9}},
		{Name: "out_min", Label: "Out of the fridge for, min", Numbers: []int{15, 30, 45, 60, 90}},
	}
	for i := range out {
		f := &out[i]
		f.Words, f.Keys, f.Numbers = append([]string{}, f.Words...), append([]string{}, f.Keys...), append([]int{}, f.Numbers...)
	}
	return out
}

// mayBeSaid says whether a field belongs to an act; hands-on minutes do to any.
func mayBeSaid(a Act, field string) bool {
	r, _ := a.Row()
	return slices.Contains(r.Says, field) || a == Spot && field == "place"
}

// Tidy checks what an act says and works its canonical numbers out. Errors
// name the field.
func (d Detail) Tidy(a Act) (Detail, error) {
	var wrong fault.List
	for _, text := range []*string{&d.With, &d.Amount, &d.Weight, &d.Damper, &d.Place, &d.Read, &d.Set, &d.To, &d.Air} {
		*text = strings.Join(strings.Fields(*text), " ")
	}
	for _, f := range d.fields() {
		if f.said && !mayBeSaid(a, f.name) {
			wrong.Add("detail."+f.name, fmt.Sprintf("%s says nothing of it", a), "leave it out")
		}
	}
	d.C, d.AirC, d.SetC, d.AmountML, d.WeightKg, d.Doubt = nil, nil, nil, 0, 0, nil
	for _, t := range []struct {
		field, typed string
		to           **float64
	}{{"read", d.Read, &d.C}, {"air", d.Air, &d.AirC}, {"set", d.Set, &d.SetC}} {
		if t.typed == "" {
			continue
		}
		typed := t.typed
		if t.field == "read" {
			typed = lowest(typed)
		}
		v, err := units.ParseTemperature(typed)
		wrong.Take("detail."+t.field, err)
		*t.to = &v.C
	}
	if d.Amount != "" {
		v, err := units.ParseVolume(d.Amount)
		wrong.Take("detail.amount", err)
		d.AmountML = v.ML
	}
	if d.Weight != "" {
		v, err := units.ParseMass(d.Weight)
		wrong.Take("detail.weight", err)
		d.WeightKg = v.Kg
	}
	for i := range d.Parcel {
		wrong.Take(fmt.Sprintf("detail.parcel[%d]", i), d.Parcel[i].Resolve())
	}
	if len(d.Parcel) > MostPutIn {
		wrong.Add("detail.parcel", fmt.Sprintf("%d things in one wrap", len(d.Parcel)), fmt.Sprintf("give up to %d", MostPutIn))
	}
	if d.Pieces < 0 || d.Pieces > 200 {
		wrong.Add("detail.pieces", fmt.Sprintf("%d pieces", d.Pieces), "count from 1 to 200")
	}
	if d.ReadN < 0 || d.ReadN > 500 {
		wrong.Add("detail.read_n", fmt.Sprintf("%d were read", d.ReadN), "count from 1 to 500")
	}
	if d.Unlit < 0 || d.Unlit > 500 {
		wrong.Add("detail.unlit", fmt.Sprintf("%d pieces unlit", d.Unlit), "count from 1 to 500")
	}
	if d.Open != nil && !(*d.Open >= 0 && *d.Open <= 100) {
		wrong.Add("detail.open", fmt.Sprintf("%v percent", *d.Open), "give 0 for shut to 100 for open")
	}
	if !(d.OutMin >= 0 && d.OutMin <= 24*60) {
		wrong.Add("detail.out_min", fmt.Sprintf("%v minutes out of the fridge", d.OutMin), "give 0 to 1440")
	}
	if min(d.Before, d.After) < 0 || max(d.Before, d.After) > 9 {
		wrong.Add("detail.before", fmt.Sprintf("%d before, %d after", d.Before, d.After), "give 1 to 9")
	}
	if d.Minutes != nil && !(*d.Minutes >= 0 && *d.Minutes <= 600) {
		wrong.Add("detail.minutes", fmt.Sprintf("%v minutes", *d.Minutes), "give 0 to 600")
	}
	for _, w := range []struct {
		field, value string
		of           []string
	}{{"wrap", string(d.Wrap), d.Wrap.Values()}, {"feel", string(d.Feel), d.Feel.Values()}, {"look", string(d.Look), d.Look.Values()},
		{"of", string(d.Of), d.Of.Values()}, {"wind", string(d.Wind), d.Wind.Values()}} {
		if !slices.Contains(w.of, w.value) {
			wrong.Add("detail."+w.field, fmt.Sprintf("%q is not one of the words", w.value), "use one of: "+strings.Join(w.of[1:], ", "))
		}
	}
	for _, said := range d.Signs {
		wrong.Take("detail.signs", oneOf(string(said), said.Values()))
	}
	for _, said := range d.Lies {
		wrong.Take("detail.lies", oneOf(string(said), said.Values()))
	}
	if d.SetC != nil && !(*d.SetC >= 0 && *d.SetC <= hottestSet) {
		wrong.Add("detail.set", fmt.Sprintf("no pit is set to %s", d.Set), "give 32 to 752 F")
	}
	return d, wrong.Err()
}

// hottestSet is over what any cooker is set to, C.
const hottestSet = 400.0

func oneOf(word string, of []string) error {
	if slices.Contains(of, word) {
		return nil
	}
	return fault.New("", fmt.Sprintf("%q is not one of the words", word), "use one of: "+strings.Join(of, ", "))
}

// Describe says it in a few words, temperatures and amounts as they were typed.
func (d Detail) Describe() string {
	var out []string
	say := func(format string, v ...any) { out = append(out, fmt.Sprintf(format, v...)) }
	if d.Wrap != "" && (d.Wrap != OtherMaterial || d.With == "") {
		say("%s", d.Wrap.Word())
	}
	if d.Pieces > 0 {
		say("%s", strings.TrimSpace(fmt.Sprintf("%d %s", d.Pieces, d.With)))
	} else if d.With != "" {
		say("%s", d.With)
	}
	if d.Unlit > 0 {
		say("%d unlit", d.Unlit)
	}
	if d.Weight != "" {
		say("%s", d.Weight)
	}
	if len(d.Parcel) > 0 {
		say("with %s", DescribeParcel(d.Parcel))
	}
	if d.Amount != "" {
		say("%s", d.Amount)
	}
	if d.Open != nil {
		say("%s %g %%", cmp.Or(d.Damper, "open"), *d.Open)
	} else if d.Damper != "" {
		say("%s", d.Damper)
	}
	read := d.Read
	if d.ReadN > 1 {
		read = fmt.Sprintf("%s (coldest of %d read)", read, d.ReadN)
	}
	for _, text := range []string{string(d.Of), read, string(d.Feel), d.Place, string(d.Look)} {
		if text != "" {
			say("%s", text)
		}
	}
	for _, sign := range d.Signs {
		say("%s", sign)
	}
	for _, lie := range d.Lies {
		say("%s", lie)
	}
	if d.To != "" {
		say("to %s", d.To)
	}
	if d.Set != "" {
		say("%s", d.Set)
	}
	if d.Before > 0 || d.After > 0 {
		say("%d before, %d after", d.Before, d.After)
	}
	if d.OutMin > 0 {
		say("out of the fridge for %g min", d.OutMin)
	}
	if d.Air != "" {
		say("air %s", d.Air)
	}
	if d.Wind != "" {
		say("%s", d.Wind)
	}
	if d.Sun {
		say("sun on the lid")
	}
	if d.Rain {
		say("rain")
	}
	return strings.Join(out, ", ")
}
