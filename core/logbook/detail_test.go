package logbook

import (
	"math"
	"strings"
	"testing"
)

func number(v float64) *float64 { return &v }

func TestDetailKeepsWhatWasTypedBesideTheNumber(t *testing.T) {
	d, err := Detail{Wrap: "foil", With: "  foil,  double", Parcel: []PutIn{{What: "whey ", Typed: "1/2 cup"},
		{What: "tallow", Typed: "45 g"}, {What: "syrup", Typed: "1 spoon"}}}.Tidy(Wrap)
	if err != nil || d.With != "foil, double" || len(d.Parcel) != 3 || d.Parcel[0].ML < 118.29 || d.Parcel[0].ML > 118.30 ||
		d.Parcel[0].What != "whey" ||
		d.Parcel[1] != (PutIn{"tallow", "45 g", 45, 0}) || d.Parcel[2] != (PutIn{"syrup", "1 spoon", 15, 15}) || ParcelG(d.Parcel) < 178.2 ||
		ParcelG(d.Parcel) > 178.4 {
		t.Errorf("a wrap with whey, tallow and syrup is kept as %+v (%v)", d, err)
	}
	d, err = Detail{Read: "203 F", Place: "near bone", Feel: Tender, C: number(12)}.Tidy(Probe)
	if err != nil || d.C == nil || *d.C != 95 || d.Read != "203 F" {
		t.Errorf("203 F near the bone is kept as %+v (%v); a number that was sent along must not stand", d, err)
	}
	if d, err = (Detail{Set: "280 F"}).Tidy(Set); err != nil || d.SetC == nil || *d.SetC < 137.7 || *d.SetC > 137.8 {
		t.Errorf("set to 280 F is kept as %+v (%v)", d, err)
	}
	d, err = Detail{Air: "4 C", Wind: "gusts", Sun: true}.Tidy(Note)
	if err != nil || d.AirC == nil || *d.AirC != 4 {
		t.Errorf("4 C outside is kept as %+v (%v)", d, err)
	}
}

func TestDetailRefusesWhatAnActCannotSay(t *testing.T) {
	for name, c := range map[string]struct {
		act  Act
		in   Detail
		says string
	}{
		"pieces of a wrap":       {Wrap, Detail{Pieces: 2}, "detail.pieces: wrap says nothing of it"},
		"a damper of a spritz":   {Spritz, Detail{Damper: "chimney"}, "detail.damper"},
		"a photo of a lid":       {Lid, Detail{PhotoID: 4}, "detail.photo_id"},
		"more than open":         {Vent, Detail{Open: number(120)}, "detail.open: 120 percent"},
		"less than shut":         {Vent, Detail{Open: number(-1)}, "detail.open"},
		"a count below nothing":  {Fuel, Detail{Pieces: -3}, "detail.pieces: -3 pieces"},
		"a word of its own":      {Probe, Detail{Feel: "spongy"}, "tough, tight, giving, tender, mushy"},
		"a look of its own":      {Bark, Detail{Look: "nice"}, `detail.look: "nice"`},
		"a reading of nothing":   {Spot, Detail{Of: "plate", Read: "hot"}, "detail.read"},
		"an amount with no unit": {Water, Detail{Amount: "3"}, "detail.amount"},
		"hands for a whole day":  {Wood, Detail{Minutes: number(900)}, "detail.minutes: 900 minutes"},
		"out since last week":    {On, Detail{OutMin: 9000}, "detail.out_min: 9000 minutes out of the fridge"},
		"out of the fridge late": {Wrap, Detail{OutMin: 30}, "detail.out_min: wrap says nothing of it"},
		"a pit as hot as a kiln": {Set, Detail{Set: "900 F"}, "detail.set: no pit is set to 900 F"},
		"a sign of its own":      {Probe, Detail{Signs: []Sign{"sings"}}, `detail.signs: "sings"`},
		"how a spritz lies":      {Spritz, Detail{Lies: []Lie{"fat side up"}}, "detail.lies: spritz says nothing of it"},
		"nothing in a parcel":    {Wrap, Detail{Parcel: []PutIn{{Typed: "45 g"}}}, "detail.parcel[0].what"},
		"an amount of a parcel":  {Wrap, Detail{Parcel: []PutIn{{What: "fat", Typed: "a bit"}}}, `detail.parcel[0].typed: "a bit" is no amount`},
		"a wind of its own":      {Note, Detail{Wind: "hurricane"}, "still, breeze, wind, gusts"},
	} {
		if _, err := c.in.Tidy(c.act); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v, want %q", name, err, c.says)
		}
	}
}

// A reading of several pieces stands for all as the coldest of three or more, or of all.
func TestAReadingOfSeveralPieces(t *testing.T) {
	for typed, want := range map[string]float64{"165-178 F": 73.8889, "178 to 165 F": 73.8889, "74–80 C": 74, "74,5-80 C": 74.5, "170 F": 76.6667} {
		d, err := Detail{Read: typed}.Tidy(Probe)
		if err != nil || math.Abs(*d.C-want) > 0.001 || d.Read != typed {
			t.Errorf("%q is read as %v C, kept as %q (%v); want %v", typed, *d.C, d.Read, err, want)
		}
	}
	for _, c := range []struct {
		read, of int
		stands   bool
	}{{0, 1, true}, {0, 2, false}, {1, 12, false}, {2, 2, true}, {2, 12, false}, {3, 12, true}, {12, 12, true}} {
		if got := (Detail{ReadN: c.read}).StandsFor(c.of); got != c.stands {
			t.Errorf("%d read of %d stands for all: %v, want %v", c.read, c.of, got, c.stands)
		}
	}
	if got := (Detail{Read: "165-178 F", ReadN: 4, Place: "thick"}).Describe(); got != "165-178 F (coldest of 4 read), thick" {
		t.Errorf("it says %q", got)
	}
}

func TestDescribeSaysItInAFewWords(t *testing.T) {
	for want, d := range map[string]Detail{
		"paper":                                 {With: "paper"},
		"foil, with 1/2 cup whey, honey":        {Wrap: "foil", Parcel: []PutIn{{What: "whey", Typed: "1/2 cup"}, {What: "honey"}}},
		"hot side, to B2":                       {To: "B2", Lies: []Lie{"hot side"}},
		"275 F":                                 {Set: "275 F"},
		"broth, 4 before, 6 after":              {With: "broth", Before: 4, After: 6},
		"199 F, bends, bone gives":              {Read: "199 F", Signs: []Sign{"bends", "bone gives"}},
		"leaves":                                {Wrap: OtherMaterial, With: "leaves"},
		"another wrap":                          {Wrap: OtherMaterial},
		"2 apricot":                             {With: "apricot", Pieces: 2},
		"3":                                     {Pieces: 3},
		"2 l":                                   {Amount: "2 l"},
		"chimney 40 %":                          {Damper: "chimney", Open: number(40)},
		"open 0 %":                              {Open: number(0)},
		"203 F, tender, near bone":              {Read: "203 F", Feel: Tender, Place: "near bone"},
		"lid dial, 260 F":                       {Of: "lid dial", Read: "260 F"},
		"set":                                   {Look: "set"},
		"out of the fridge for 45 min":          {OutMin: 45},
		"air 4 C, breeze, sun on the lid, rain": {Air: "4 C", Wind: "breeze", Sun: true, Rain: true},
		"":                                      {PhotoID: 3, Minutes: number(4)},
	} {
		if got := d.Describe(); got != want {
			t.Errorf("%+v is described as %q, want %q", d, got, want)
		}
	}
}

// TestEveryActIsWholeAndKnown keeps the table of acts: a row that lacks what the
// fire, the hands or the form go by fails here, and not silently at the fire.
func TestEveryActIsWholeAndKnown(t *testing.T) {
	fields := map[string]bool{"photo_id": true} // taken, not asked for
	for _, f := range Fields() {
		fields[f.Name] = true
		if len(f.Words) != len(f.Keys) {
			t.Errorf("%s has %d words for %d keys", f.Name, len(f.Words), len(f.Keys))
		}
	}
	for _, f := range (Detail{}).fields() {
		if !fields[f.name] {
			t.Errorf("%s can be said and nothing asks for it", f.name)
		}
	}
	letters := map[string]Act{}
	for _, r := range Rows() {
		switch {
		case r.Name == "" || r.Letter == "" || r.Pad == "":
			t.Errorf("%s lacks a name, a letter or a pad: %+v", r.Act, r)
		case letters[r.Letter] != "":
			t.Errorf("%s and %s have the letter %s", r.Act, letters[r.Letter], r.Letter)
		case r.InPassing != (r.Act.Takes(1) == 0):
			t.Errorf("%s takes %g minutes of a pair of hands; say how long, or that it is done in passing", r.Act, r.Act.Takes(1))
		}
		letters[r.Letter] = r.Act
		for _, f := range r.Says {
			if !fields[f] {
				t.Errorf("%s says %q, which no field is called", r.Act, f)
			}
		}
		if _, err := (Detail{}).Tidy(r.Act); err != nil {
			t.Errorf("%s with nothing more to say is refused: %v", r.Act, err)
		}
	}
}
