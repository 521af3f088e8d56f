package safety

import (
	"math"
	"strings"
	"testing"

	"whitebarn/core/units"
)

func TestEachMeatHasItsLine(t *testing.T) {
	for _, c := range []struct {
		meat     Meat
		f        float64
		timed    bool
		rest     float64
		absolute bool
	}{
		{Meat{RedMeat, Intact}, 145, true, 180, false},
		{Meat{Fish, Intact}, 145, false, 0, false},
		{Meat{Poultry, Intact}, 165, true, 0, true},
		{Meat{Poultry, Pierced}, 165, true, 0, true},
		{Meat{Poultry, Minced}, 165, true, 0, true},
		{Meat{RedMeat, Pierced}, 158, true, 0, true},
		{Meat{RedMeat, Minced}, 160, true, 0, true},
		{Meat{Fish, Pierced}, 158, true, 0, true},
		{Meat{RedMeat, Stuffed}, 165, false, 0, true},
		{Meat{Poultry, Stuffed}, 165, false, 0, true},
	} {
		m, err := MinimumOf(c.meat)
		if err != nil || math.Abs(m.F-c.f) > 1e-9 || m.Timed != c.timed || m.RestS != c.rest || m.Absolute != c.absolute || m.Source == "" {
			t.Errorf("%s %s: %+v (%v), want %+v", c.meat.Handling, c.meat.Species, m, err, c)
		}
	}
	for _, m := range []Meat{{"", Intact}, {RedMeat, ""}, {"cheese", Intact}, {RedMeat, "flat"}} {
		if _, err := MinimumOf(m); err == nil {
			t.Errorf("%v has a minimum", m)
		}
	}
}

func TestTheBarnsLinesAreStricterNeverLooser(t *testing.T) {
	own := Usual
	own.IntactC = units.FToC(150)
	if m, _ := own.Minimum(Meat{RedMeat, Intact}); m.Timed || math.Abs(m.F-150) > 1e-9 {
		t.Errorf("a stricter line of the barn is %+v, want at once alone", m)
	}
	sold := Usual
	sold.Sold = true
	if m, _ := sold.Minimum(Meat{Poultry, Intact}); m.Timed {
		t.Error("poultry sold to the public goes by time without a variance")
	}
	sold.Variance = "on file with the county"
	if m, _ := sold.Minimum(Meat{Poultry, Intact}); !m.Timed {
		t.Error("a variance lets it go by time no more")
	}
	if err := Usual.Check(); err != nil {
		t.Errorf("the guidance's own lines are refused: %v", err)
	}
	for _, c := range []struct {
		change func(*Lines)
		want   string
	}{
		{func(l *Lines) { l.PoultryC = units.FToC(160) }, "poultry at 71.1 C is looser"},
		{func(l *Lines) { l.HoldC = math.NaN() }, "hot holding"},
		{func(l *Lines) { l.FishC = 140 }, "hotter than meat gets"},
		{func(l *Lines) { l.Window = "always" }, "no window"},
		{func(l *Lines) { l.Variance = "--" }, "no reason"},
	} {
		l := Usual
		c.change(&l)
		if err := l.Check(); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%+v is refused with %v, want %q", l, err, c.want)
		}
	}
}

func TestLooserIsLessInAnything(t *testing.T) {
	for _, c := range []struct {
		to, from Meat
		want     bool
	}{
		{Meat{Poultry, Intact}, Meat{RedMeat, Intact}, false},
		{Meat{RedMeat, Intact}, Meat{Poultry, Intact}, true},
		{Meat{Poultry, Intact}, Meat{RedMeat, Pierced}, true},
		{Meat{RedMeat, Minced}, Meat{RedMeat, Pierced}, false},
		{Meat{RedMeat, Intact}, Meat{}, false},
		{Meat{"", Intact}, Meat{RedMeat, Intact}, true},
		{Meat{Fish, Intact}, Meat{Fish, Intact}, false},
	} {
		if got := c.to.LooserThan(c.from); got != c.want {
			t.Errorf("from %v to %v is looser: %v", c.from, c.to, got)
		}
	}
	if got := Intact.Stricter(Minced); got != Minced || Minced.Stricter(Pierced) != Minced || Handling("").Stricter(Pierced) != Pierced {
		t.Errorf("the stricter of intact and minced is %s", got)
	}
}

func TestWordsOfTheProductAreAskedAbout(t *testing.T) {
	for _, c := range []struct {
		product string
		meat    Meat
		words   string
	}{
		{"chicken thighs", Meat{RedMeat, Intact}, "chicken thighs"},
		{"chicken thighs", Meat{Poultry, Intact}, ""},
		{"Lamb burger", Meat{RedMeat, Intact}, "burger"},
		{"lamb burger", Meat{RedMeat, Minced}, ""},
		{"leg, boned and rolled", Meat{RedMeat, Intact}, "rolled"},
		{"rolled leg", Meat{RedMeat, Minced}, ""},
		{"stuffed trout", Meat{RedMeat, Intact}, "stuffed trout"},
		{"chuck-eye roast", Meat{RedMeat, Intact}, ""},
	} {
		var words []string
		for _, h := range c.meat.Otherwise(c.product) {
			words = append(words, h.Word)
		}
		if got := strings.Join(words, " "); got != c.words {
			t.Errorf("%q as %v is asked about %q, want %q", c.product, c.meat, got, c.words)
		}
	}
}

func TestAReasonIsWords(t *testing.T) {
	for text, ok := range map[string]bool{"-": false, "": false, "...": false, "12": false, "no": false, "ok.": false, "why": true,
		"probe-tender after 9 h": true, "šla": true} {
		if err := CheckReason(text); (err == nil) != ok {
			t.Errorf("%q as a reason: %v", text, err)
		}
	}
}
