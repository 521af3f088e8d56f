package safety

import (
	"slices"
	"strings"
	"unicode"
)

// Handling says what was done to the meat, as far as safety is concerned.
type Handling string

// The handlings that carry a minimum of their own, the mildest first.
const (
	Intact  Handling = "intact"  // whole muscle
	Pierced Handling = "pierced" // injected, pierced, mechanically tenderised, boned and rolled
	Minced  Handling = "minced"  // ground or minced
	Stuffed Handling = "stuffed"
)

var handlings = []Handling{Intact, Pierced, Minced, Stuffed}

// Values lists the handlings; empty is not said.
func (Handling) Values() []string {
	return []string{"", string(Intact), string(Pierced), string(Minced), string(Stuffed)}
}

// Stricter is the stricter of two handlings.
func (h Handling) Stricter(other Handling) Handling {
	if slices.Index(handlings, other) > slices.Index(handlings, h) {
		return other
	}
	return h
}

// Species is the kind of meat.
type Species string

// The kinds of meat that the chart tells apart, the mildest first.
const (
	RedMeat Species = "red meat" // beef, pork, lamb, veal
	Fish    Species = "fish"
	Poultry Species = "poultry"
)

var species = []Species{RedMeat, Fish, Poultry}

// Values lists the species; empty is not said.
func (Species) Values() []string {
	return []string{"", string(RedMeat), string(Poultry), string(Fish)}
}

// Meat is what the minimum depends on.
type Meat struct {
	Species  Species  `json:"species"`
	Handling Handling `json:"handling"`
}

// Said says whether both are known.
func (m Meat) Said() bool {
	return slices.Contains(species, m.Species) && slices.Contains(handlings, m.Handling)
}

// LooserThan says whether going over from another to this asks for less in anything.
// What was not said yet can only become stricter.
func (m Meat) LooserThan(other Meat) bool {
	return slices.Index(species, m.Species) < slices.Index(species, other.Species) || slices.Index(handlings, m.Handling) < slices.Index(handlings, other.Handling)
}

// Hint is what a word of the product says of the meat; what is empty it says nothing of.
type Hint struct {
	Word string `json:"word"`
	Meat
}

// hints are words that commonly say what a meat is. They are only ever asked about.
var hints = []struct {
	meat  Meat
	words string
}{
	{Meat{Species: Poultry}, "chicken hen capon turkey duck goose quail pheasant poultry fowl thigh thighs drumstick drumsticks wing wings"},
	{Meat{Species: Fish}, "fish salmon trout char cod mackerel tuna eel"},
	{Meat{Handling: Minced}, "burger burgers minced mince ground patty patties sausage sausages meatball meatballs meatloaf"},
	{Meat{Handling: Pierced}, "injected pierced tenderised tenderized needled rolled"},
	{Meat{Handling: Stuffed}, "stuffed"},
}

// Otherwise lists the words of a product that ask for a stricter kind of meat than it
// is said to be.
func (m Meat) Otherwise(product string) []Hint {
	out := []Hint{}
	for _, word := range strings.FieldsFunc(strings.ToLower(product), func(r rune) bool { return !unicode.IsLetter(r) }) {
		for _, h := range hints {
			if !slices.Contains(strings.Fields(h.words), word) {
				continue
			}
			if h.meat.Species != "" && m.Species != h.meat.Species || h.meat.Handling != "" && m.Handling.Stricter(h.meat.Handling) != m.Handling {
				out = append(out, Hint{word, h.meat})
			}
		}
	}
	return out
}
