package web

import (
	"testing"

	"whitebarn/internal/testkit/script"
)

func TestAPageHearsKeysThatAreMeantForIt(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/strokes")
	for _, c := range []struct{ stroke, typing, letters, want string }{
		{"{key: 'W'}", "false", "true", "w"},
		{"{key: 'Enter'}", "false", "true", "Enter"},
		{"{key: 'w'}", "true", "true", ""},
		{"{key: 'Enter'}", "true", "true", ""},
		{"{key: 'w'}", "false", "false", ""}, // letters are turned off
		{"{key: 'ArrowUp'}", "false", "false", "ArrowUp"},
		{"{key: 'r', ctrlKey: true}", "false", "true", ""},
		{"{key: 'r', metaKey: true}", "false", "true", ""},
		{"{key: 'ArrowLeft', altKey: true}", "false", "true", ""},
	} {
		if got := script.Ask[string](p, "m.keyHeard("+c.stroke+", "+c.typing+", "+c.letters+")"); got != c.want {
			t.Errorf("%s, typing %s, letters %s, is heard as %q, want %q", c.stroke, c.typing, c.letters, got, c.want)
		}
	}
}

func TestGAndALetterGoSomewhere(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/strokes")
	p.Run("const steps = ['ask', 'match', 'plan', 'prep', 'fire', 'rest', 'table', 'settle']")
	type heard struct {
		Ours bool
		To   string
	}
	for _, c := range []struct {
		keys, trial string
		want        heard // of the last key
	}{
		{"g", "'4'", heard{true, ""}},
		{"gc", "'4'", heard{true, "/crew"}},
		{"gb", "undefined", heard{true, "/"}},
		{"g5", "'4'", heard{true, "/trials/4/fire"}},
		{"g5", "undefined", heard{false, ""}}, // no trial is at hand
		{"g9", "'4'", heard{false, ""}},
		{"c", "'4'", heard{false, ""}},
		{"gcc", "'4'", heard{false, ""}}, // once
		{"gqc", "'4'", heard{false, ""}}, // forgotten with another key
		{"ggh", "'4'", heard{true, "/book"}},
	} {
		p.Give("keys", c.keys)
		if got := script.Ask[heard](p, "(going => [...keys].map(k => going.hear(k, "+c.trial+", steps)).pop())(new m.Going())"); got != c.want {
			t.Errorf("%q with trial %s leads to %+v, want %+v", c.keys, c.trial, got, c.want)
		}
	}
}
