package web

import (
	"slices"
	"testing"

	"whitebarn/internal/testkit/script"
)

// A second call while one is on its way waits for its answer, also where that is a refusal.
func TestCallsWaitForTheirTurn(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "api/turns")
	p.Run(`var began = [], heard = [], answers = {}
		const turns = new m.Turns()
		const call = n => turns.take(() => { began.push(n); return new Promise((took, failed) => { answers[n] = { took, failed } }) })
			.then(v => heard.push(n + ' ' + v), e => heard.push(n + ' ' + e))`)
	began := func(want ...string) {
		t.Helper()
		if got := script.Ask[[]string](p, "began"); !slices.Equal(got, want) {
			t.Errorf("%v have begun, want %v", got, want)
		}
	}
	p.Run("call('a'); call('b'); call('c')")
	began("a")
	p.Run("answers.a.failed('refused')")
	began("a", "b")
	p.Run("answers.b.took('kept')")
	began("a", "b", "c")
	p.Run("answers.c.took('kept')")
	if heard := script.Ask[[]string](p, "heard"); !slices.Equal(heard, []string{"a refused", "b kept", "c kept"}) {
		t.Errorf("the answers are %v", heard)
	}
}
