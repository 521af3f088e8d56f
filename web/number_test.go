package web

import (
	"fmt"
	"testing"

	"whitebarn/internal/testkit/script"
)

// Numbers as people type them, by the decimal mark they are used to. What reads in two ways is asked about, never guessed.
func TestNumbersAreReadAsTheyAreTyped(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/number")
	for _, c := range []struct {
		text         string
		point, comma any
	}{
		{"8", 8.0, 8.0}, {"8.5", 8.5, 8.5}, {"8,5", 8.5, 8.5}, {" 1 655 ", 1655.0, 1655.0}, {"1’655", 1655.0, 1655.0}, {"-3", -3.0, -3.0},
		{"0,125", 0.125, 0.125}, {"0.125", 0.125, 0.125}, {"7.", 7.0, 7.0},
		{"1,655", "“1,655” can be read in two ways: write 1655 or 1.6550", 1.655},
		{"1.655", 1.655, "“1.655” can be read in two ways: write 1655 or 1,6550"},
		{"1,655.5", 1655.5, 1655.5}, {"1.655,5", 1655.5, 1655.5}, {"1,234,567", 1234567.0, 1234567.0}, {"1,23,567", "“1,23,567” is no number", "“1,23,567” is no number"},
		{"six", "“six” is no number", "“six” is no number"}, {"6 lb", "“6 lb” is no number", "“6 lb” is no number"}, {"1e5", "“1e5” is no number", "“1e5” is no number"},
		{"8,5,5", "“8,5,5” is no number", "“8,5,5” is no number"}, {"-", "“-” is no number", "“-” is no number"}, {".5", 0.5, 0.5},
	} {
		for mark, want := range map[string]any{".": c.point, ",": c.comma} {
			got := script.Ask[any](p, fmt.Sprintf("m.numberIn(%q, %q)", c.text, mark))
			if n, whole := got.(int64); whole {
				got = float64(n)
			}
			if got != want {
				t.Errorf("%q with the mark %q is %v, want %v", c.text, mark, got, want)
			}
		}
	}
}

func TestAFormWithWhatIsNoNumberIsNotSent(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/number")
	p.Run(`var n = new m.Numbers(), read = [n.of('price', '41,50'), n.of('density', '', null), n.of('pack', 'a bag'), n.of('salt', 'some'), n.of('x', '')]`)
	if got := script.Ask[string](p, "JSON.stringify(read)"); got != "[41.5,null,0,0,0]" {
		t.Errorf("the form reads as %s", got)
	}
	if got := script.Ask[string](p, "n.problem.errors.map(e => e.field + ': ' + e.problem).join()"); got != "pack: “a bag” is no number" {
		t.Errorf("its problem is %s, want that of the first that is none", got)
	}
}
