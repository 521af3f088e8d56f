package words

import "testing"

func TestWords(t *testing.T) {
	for _, c := range []struct{ got, want string }{
		{Plural(1, "cut"), "1 cut"}, {Plural(0, "cut"), "0 cuts"}, {Plural(12, "pit run"), "12 pit runs"},
		{And(nil), ""}, {And([]string{"rub"}), "rub"}, {And([]string{"rub", "wrap"}), "rub and wrap"}, {And([]string{"rub", "wrap", "trim"}), "rub, wrap and trim"},
		{Capital(""), ""}, {Capital("rub and wrap"), "Rub and wrap"},
	} {
		if c.got != c.want {
			t.Errorf("it says %q, want %q", c.got, c.want)
		}
	}
}
