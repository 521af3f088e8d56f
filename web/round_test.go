package web

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"whitebarn/internal/testkit/script"
)

// readings is a round over pieces 1 to n, whose answers the test gives: sent are those on their way,
// log is what the barn has.
const readings = `
	var sent = [], log = []
	const send = (piece, d) => new Promise((done) => sent.push({ piece, read: d.read, done }))
	const begin = n => new m.Round(Array.from({ length: n }, (_, i) => i + 1), send, () => {})
	const answer = (i, taken) => { const s = sent.splice(i, 1)[0]; if (taken) log.push(s.piece + '=' + s.read); s.done(taken) }
	const type = v => round.take(v, { read: v })
	const shown = p => { const s = round.of(p); return s ? s.typed + ' ' + s.state : '' }
	var round`

// Eight values are typed before the first answer has come: each is of the piece whose turn it was.
func TestARoundOfReadingsWaitsForNoAnswer(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/round")
	p.Run(readings + "; round = begin(8)")
	for i := range 8 {
		p.Run(fmt.Sprintf("type('17%d F')", i+1))
	}
	if read, over := script.Ask[int](p, "round.read"), script.Ask[bool](p, "round.over"); read != 8 || over {
		t.Errorf("typed, %d of 8 are read, over %v; want all, and not over while they are on their way", read, over)
	}
	for i := range 8 {
		p.Run("answer(0, true)")
		if got := script.Ask[string](p, fmt.Sprintf("shown(%d)", i+1)); got != fmt.Sprintf("17%d F kept", i+1) {
			t.Errorf("piece %d shows %q", i+1, got)
		}
	}
	if log := script.Ask[[]string](p, "log"); !script.Ask[bool](p, "round.over") || !slices.Equal(log, []string{"1=171 F", "2=172 F",
		"3=173 F", "4=174 F", "5=175 F",
		"6=176 F", "7=177 F", "8=178 F"}) {
		t.Errorf("the log has %v", log)
	}
}

func TestWhatARoundLeavesOutOrIsRefusedComesAgain(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/round")
	p.Run(readings + "; round = begin(3)")
	p.Run("type('171 F'); round.next(); type('173 F')")
	if at := script.Ask[int](p, "round.at"); at != 1 {
		t.Errorf("after the last the round is at %d, want the one that was left out", at)
	}
	p.Run("answer(0, false); answer(0, true)")
	p.Run("type('172 F'); answer(0, true)")
	if got, at, over := script.Ask[string](p, "shown(1)"), script.Ask[int](p, "round.at"), script.Ask[bool](p,
		"round.over"); got != "171 F refused" || at != 0 || over {
		t.Errorf("what was refused shows %q, the round is at %d, over %v", got, at, over)
	}
	p.Run("type('170 F'); answer(0, true)")
	if log := script.Ask[[]string](p, "log"); !script.Ask[bool](p, "round.over") || !slices.Equal(log, []string{"3=173 F", "2=172 F", "1=170 F"}) {
		t.Errorf("the log has %v", log)
	}
	p.Run("round = begin(0); type('170 F')")
	if n := script.Ask[int](p, "sent.length"); n != 0 {
		t.Errorf("with no piece %d readings are sent", n)
	}
}

// Whatever is typed, skipped, gone back to and answered in any order: each value is in the log or shown,
// once, as it was typed, unless another was typed of its piece since.
func TestNoValueOfARoundIsLostOrChanged(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(35, 1))
	p := script.Load(t, noon, "fire/round")
	p.Run(readings)
	for run := range 150 {
		n := 1 + r.IntN(6)
		p.Run(fmt.Sprintf("sent = []; log = []; round = begin(%d)", n))
		var sent, log []string
		last := map[int]string{} // of each piece, and what became of it
		state := map[string]string{}
		for i := range 30 {
			switch r.IntN(5) {
			case 0, 1:
				piece := 1 + script.Ask[int](p, "round.at")
				value := fmt.Sprintf("%d.%d F", 100+run, i)
				p.Run(fmt.Sprintf("type('%s')", value))
				sent, last[piece] = append(sent, fmt.Sprintf("%d=%s", piece, value)), value
				state[value] = "going"
			case 2:
				p.Run("round.next()")
			case 3:
				p.Run(fmt.Sprintf("round.go(%d)", r.IntN(n)))
			case 4:
				if len(sent) == 0 {
					continue
				}
				k, taken := r.IntN(len(sent)), r.IntN(3) > 0
				p.Run(fmt.Sprintf("answer(%d, %v)", k, taken))
				value := sent[k][len("1="):]
				state[value] = "refused"
				if taken {
					log, state[value] = append(log, sent[k]), "kept"
				}
				sent = slices.Delete(sent, k, k+1)
			}
		}
		if got := script.Ask[[]string](p, "log"); !slices.Equal(got, log) {
			t.Fatalf("run %d: the log has %v, want %v", run, got, log)
		}
		for piece, value := range last {
			if got, want := script.Ask[string](p, fmt.Sprintf("shown(%d)", piece)), value+" "+state[value]; got != want {
				t.Fatalf("run %d: piece %d shows %q, want %q", run, piece, got, want)
			}
		}
	}
}

// Whatever is typed and answered while the page is loaded anew in between: each value is with the barn, waits on
// this device or was turned away in words, exactly once and as it was typed.
func TestARoundOutlivesAPageThatIsLoadedAnew(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(35, 2))
	p := script.Load(t, noon, "fire/round", "fire/pressBox")
	p.Run(barnAway + `
		var round, n = 0, taken = []
		const sendRead = (piece, d) => { const id = 'p' + n++
			return presses.log(3, { ...press(id), act: 'probe', cut_ids: [piece], detail: d }, '2026-09-19T12:00:00Z').then(v => !!v || presses.isWaiting(id)) }
		const begin = () => { round = new m.Round([1, 2, 3, 4], sendRead, () => {}) }
		const type = v => round.take(v, { read: v })
		const reply = status => { const c = calls[0]; if (status === 200) taken.push(c.e.body.detail.read); answer(status, 'sure') }
		const reads = shelf => JSON.parse(shelves[shelf]).map(e => e.body.detail.read)
		begin()`)
	for run := range 80 {
		p.Run("shelves.waiting = shelves.turned = '[]'; taken = []; load(); begin()")
		var typed []string
		for i := range 25 {
			switch calls := script.Ask[int](p, "calls.length"); r.IntN(4) {
			case 0, 1:
				typed = append(typed, fmt.Sprintf("%d.%d F", run, i))
				p.Run(fmt.Sprintf("type('%s')", typed[len(typed)-1]))
			case 2:
				if calls > 0 {
					p.Run(fmt.Sprintf("reply(%d)", []int{200, 200, 0, 422, 503}[r.IntN(5)]))
				}
			case 3:
				if r.IntN(3) == 0 { // what is on its way waits still, and is sent again under its number
					p.Run("load(); begin()")
				}
				p.Run("presses.handIn()")
			}
		}
		got := script.Ask[[]string](p, "[...taken, ...reads('waiting'), ...reads('turned')]")
		slices.Sort(got)
		slices.Sort(typed)
		if !slices.Equal(got, typed) {
			t.Fatalf("run %d: of %v the barn and this device have %v", run, typed, got)
		}
	}
}
