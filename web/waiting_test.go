package web

import (
	"fmt"
	"testing"

	"whitebarn/internal/testkit/script"
)

// A log with what waits on a device: what it did stands in it once, what it took back does not.
func TestALogHearsWhatWaitsOnTheDevice(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/waiting")
	p.Run(`const event = (id, press, at) => ({ id, press, at, act: 'wood', by: 'Odalys', note: '', detail: {}, cut_id: null, pit_run_id: 7, cook_id: null })
		const press = (n, at, more) => ({ cook: 3, who: { id: 1, name: 'Tove' }, body: { act: 'wrap', at, note: '', cut_ids: [4, 5], pit_run_ids: [], press: n, ...more } })
		const amend = (of, to) => ({ cook: 3, of, to: { note: '', why: '', ...to } })
		const log = [event(1, 'a', '2026-09-19T11:00:00Z'), event(2, 'b', '2026-09-19T11:30:00Z')]
		const of = entries => m.withWaiting(log, entries, [3]).map(e => [e.press, e.id < 0 ? 'here' : 'barn', e.at.slice(11, 16), e.cut_id || e.pit_run_id || e.cook_id].join(' ')).join(', ')`)
	for waits, want := range map[string]string{
		"[]":                                   "a barn 11:00 7, b barn 11:30 7",
		"[press('c', '2026-09-19T11:10:00Z')]": "a barn 11:00 7, c here 11:10 4, c here 11:10 5, b barn 11:30 7",
		"[press('b', '2026-09-19T11:10:00Z')]": "a barn 11:00 7, b barn 11:30 7", // its answer is just being shown
		"[press('c', '2026-09-19T11:10:00Z', { cut_ids: [], pit_run_ids: [7] })]":                       "a barn 11:00 7, c here 11:10 7, b barn 11:30 7",
		"[press('c', '2026-09-19T11:10:00Z', { cut_ids: [] })]":                                         "a barn 11:00 7, c here 11:10 3, b barn 11:30 7",
		"[press('c', '2026-09-19T11:10:00Z'), { cook: 3, undo: 'c' }]":                                  "a barn 11:00 7, b barn 11:30 7",
		"[{ cook: 3, undo: 'a' }]":                                                                      "b barn 11:30 7",
		"[amend('b', { press: 'b2', at: '2026-09-19T10:00:00Z' })]":                                     "b here 10:00 7, a barn 11:00 7",
		"[press('c', '2026-09-19T11:10:00Z'), amend('c', { press: 'c2', at: '2026-09-19T12:00:00Z' })]": "a barn 11:00 7, b barn 11:30 7, c2 here 12:00 4, c2 here 12:00 5",
		"[{ ...press('c', '2026-09-19T11:10:00Z'), cook: 8 }]":                                          "a barn 11:00 7, b barn 11:30 7",
	} {
		if got := script.Ask[string](p, "of("+waits+")"); got != want {
			t.Errorf("with %s waiting the log is %s, want %s", waits, got, want)
		}
	}
	if by := script.Ask[string](p, "m.withWaiting([], [press('c', '2026-09-19T11:10:00Z')], [3])[0].by"); by != "Tove" {
		t.Errorf("what waits is by %q", by)
	}
}

// What is due hears of a press that waits: it is not asked for twice.
func TestWhatIsDueHearsWhatWaitsOnTheDevice(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/waiting")
	p.Run(`const at = t => ({ early: t, middle: t, late: t })
		const due = [{ key: 'wood', act: 'wood', cuts: [], pit: 0, every_s: 3000, at: at('2026-09-19T12:00:00Z') },
			{ key: 'wrap', act: 'wrap', cuts: [4, 5, 6], pit: -1, every_s: 0, at: at('2026-09-19T12:20:00Z') }]
		const press = (act, cut_ids, pit_run_ids) => ({ cook: 3, body: { act, at: '2026-09-19T12:05:00Z', note: '', cut_ids, pit_run_ids, press: act } })
		const left = entries => m.dueAfter(due, entries, 3, [7], d => d.act).map(d => [d.key, d.at.middle.slice(11, 16), ...d.cuts].join(' ')).join(', ')`)
	for waits, want := range map[string]string{
		"[]":                             "wood 12:00, wrap 12:20 4 5 6",
		"[press('wood', [], [7])]":       "wrap 12:20 4 5 6, wood 12:55", // it comes again
		"[press('wood', [], [8])]":       "wood 12:00, wrap 12:20 4 5 6", // another pit
		"[press('spritz', [4], [])]":     "wood 12:00, wrap 12:20 4 5 6",
		"[press('wrap', [4, 9], [])]":    "wood 12:00, wrap 12:20 5 6",
		"[press('wrap', [4, 5, 6], [])]": "wood 12:00",
		"[press('wrap', [4, 5], []), { ...press('wrap', [6], []), cook: 8 }]": "wood 12:00, wrap 12:20 6",
		"[press('wood', [], [7]), { cook: 3, undo: 'wood' }]":                 "wood 12:00, wrap 12:20 4 5 6",
	} {
		if got := script.Ask[string](p, fmt.Sprintf("left(%s)", waits)); got != want {
			t.Errorf("with %s waiting there is due %s, want %s", waits, got, want)
		}
	}
}
