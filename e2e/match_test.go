package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/store"
)

// TestMatchIsWorkedByHandAndByKeys walks the bench: weights typed fast, cuts
// dragged and sent by keys, draws and their history, a finding kept with a word.
func TestMatchIsWorkedByHandAndByKeys(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 900)
	id, arms := bench(t, s, 4, func(int, *store.Cut, *float64) {}, nil)
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "8 shoulders, 4 pairs, 2 arms.")

	// Draw, and the draw is on record; a hand that moves a cut after it is named.
	u.key(input.KeyD)
	u.see("[data-testid=last-draw]", "of 8 ways leave the arms alike")
	cut := func(name string) store.Cut {
		cuts, err := s.Cuts(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range cuts {
			if c.Name == name {
				return c
			}
		}
		t.Fatalf("there is no cut %s", name)
		return store.Cut{}
	}
	was := *cut("1L").ArmID
	other := arms[0] + arms[1] - was
	number := map[int64]input.Key{arms[0]: input.Digit1, arms[1]: input.Digit2}
	u.click(`button[aria-label^="Pick 1L"]`)
	u.key(number[other])
	u.see("[data-testid=finding-moved]", "1L and 1R were moved by hand after the draw")
	if got := *cut("1L").ArmID; got != other {
		t.Errorf("1L is in arm %d, want %d", got, other)
	}
	if a, b := *cut("1L").ArmID, *cut("1R").ArmID; a == b {
		t.Error("the pair is in one arm after a key")
	}

	// Drag the chip of 1L into the other lane: the pair goes back as drawn.
	tag := map[int64]string{arms[0]: "PAPER", arms[1]: "BARE"}
	chip, err := u.Timeout(patience).ElementR("[data-testid=lane-"+tag[other]+"] .chip", "^\\s*1L")
	if err != nil {
		t.Fatal(err)
	}
	u.drag(chip.CancelTimeout(), u.find("[data-testid=lane-"+tag[was]+"]"))
	u.gone("[data-testid=finding-moved]")

	// Drawn again, the first draw can be looked at and brought back.
	u.key(input.KeyD)
	u.click("summary")
	u.see("[data-testid=draw-on-record] p", "1L")
	u.click(`button[aria-label="Bring back draw 1"]`)
	u.see("[data-testid=draw-on-record]", "brought back")
	if got := *cut("1L").ArmID; got != was {
		t.Errorf("brought back, 1L is in arm %d, the first draw said %d", got, was)
	}

	// Typed fast: bare numbers take the unit shown, W and T jump to the field.
	u.click(`button[aria-label^="Pick 1L"]`)
	u.key(input.KeyW)
	u.enter("#cut-trimmed", "6 2 1/4")
	u.see("h2", "shoulder 1R")
	u.fill("#cut-thickness", "2 7/8")
	u.enter("#cut-fat", "3/8")
	u.see("h2", "shoulder 2L")
	dims, err := s.Dimensions(t.Context(), id)
	if err != nil || len(dims) != 2 || dims[0].Typed != "2 7/8 in" || dims[1].Typed != "3/8 in" {
		t.Errorf("the record keeps the sizes %+v (%v)", dims, err)
	}
	weighed, err := s.WeighingsOf(t.Context(), cut("1L").ID)
	if err != nil || weighed[0].Typed != "6 lb 2 1/4 oz" {
		t.Errorf("the record keeps %+v (%v)", weighed, err)
	}
	u.Expect("/dimensions answered 422")
	u.enter("#cut-thickness", "thick")
	u.see("[data-testid=problem]", "is not a length")
	u.fill("#cut-thickness", "")

	// Trims: what went over no scale is said.
	u.click("[data-testid=more]")
	u.fill("#cut-bought", "7 lb")
	u.fill("#cut-trimmed", "6 lb 4 oz")
	u.fill("#trim-kept", "4 oz")
	u.enter("#trim-thrown", "5 oz")
	u.see("h2", "shoulder 2R")
	u.click(`button[aria-label^="Pick 2L"]`)
	u.see("[data-testid=trim-missing]", "3.0 oz of the trim went over no scale")

	// A finding is kept with a word and stays on record; it can be taken back.
	u.click(`button[aria-label^="Pick 3L"]`)
	u.key(number[*cut("3L").ArmID], input.KeyX)
	u.see("[data-testid=finding-moved]", "moved by hand")
	u.mend("finding-moved", "Accept with a note")
	u.enter(`input[aria-label="Why it is kept"]`, "3L has a torn blade")
	u.see("[data-testid=finding-moved]", "Accepted by Odalys: 3L has a torn blade")
	kept, err := s.AcceptedFindings(t.Context(), id)
	if err != nil || len(kept) != 1 || kept[0].Key != "moved" {
		t.Errorf("the record keeps %+v (%v)", kept, err)
	}
	u.mend("finding-moved", "Take that back")
	u.mend("finding-moved", "Accept with a note")

	// A cook day, and every cut gets a place.
	u.click("[data-testid=new-day]")
	u.day(`input[aria-label="Cook day on the table, day"]`, time.Now().AddDate(0, 0, 9).Format("2006-01-02"))
	u.fill(`input[aria-label="Cook day on the table, clock"]`, "1800")
	u.fill("#day-pit", "Brick Pit")
	u.enter("#day-set", "250")
	u.click("[data-testid=draw-places]")
	u.see(`[data-testid="grate-1-Brick Pit"]`, "4R")
	u.gone("[data-testid=finding-trait]")
	u.click(`button[aria-label^="Pick 4R"]`)
	placements, err := s.Placements(t.Context(), id)
	if err != nil || len(placements) != 8 {
		t.Fatalf("%d cuts have places (%v), want 8", len(placements), err)
	}
	free := u.find(`[aria-label^="Put the picked cut at"]`)
	// "... at A1", and by the pit's burns how far from set it runs there.
	position := strings.Fields(strings.TrimPrefix(u.attribute(free, "aria-label"), "Put the picked cut at "))[0]
	u.press("a free place", free)
	u.see(fmt.Sprintf(`[aria-label="4R at %s"]`, position), "4R")
}

// drag moves the mouse from one element to another with the button down.
func (u user) drag(from, to *rod.Element) {
	u.t.Helper()
	middle := func(el *rod.Element) (x, y float64) {
		shape, err := el.Shape()
		if err != nil {
			u.fail("cannot find where to drag: %v", err)
		}
		b := shape.Box()
		return b.X + b.Width/2, b.Y + b.Height/2
	}
	x, y := middle(from)
	u.Mouse.MustMoveTo(x, y)
	u.Mouse.MustDown("left")
	tx, ty := middle(to)
	u.Mouse.MustMoveTo((x+tx)/2, (y+ty)/2)
	u.Mouse.MustMoveTo(tx, ty)
	u.Mouse.MustUp("left")
}

// TestDividedCutsKeepWhatTheyAre divides a shoulder into alike halves and
// another into point and flat that stay together, and prints the labels.
func TestDividedCutsKeepWhatTheyAre(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	id, _ := bench(t, s, 2, func(i int, c *store.Cut, _ *float64) { c.Animal, c.Lot = "Lamb 7", "hill" }, nil)
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "4 shoulders")
	u.click(`button[aria-label^="Pick 1L"]`)
	u.button("Divide it")
	u.click("[data-testid=divide]")
	u.see("h1", "5 shoulders")
	u.see(".divided", "1L was divided into 1La, 1Lb")
	u.click(`button[aria-label^="Pick 2R"]`)
	u.button("Divide it")
	u.button("Point and flat")
	u.click("[data-testid=divide]")
	u.see("h1", "6 shoulders")
	u.key(input.KeyD)
	u.see("[data-testid=last-draw]", "Drawn by lot")
	cuts, err := s.Cuts(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	by := map[string]store.Cut{}
	for _, c := range cuts {
		by[c.Name] = c
	}
	if a, b := by["1La"], by["1Lb"]; a.Animal != "Lamb 7" || a.Lot != "hill" || a.Pair != "1L" || *a.ArmID == *b.ArmID {
		t.Errorf("the halves are %+v and %+v, want alike ones in different arms", a, b)
	}
	if p, f := by["2R point"], by["2R flat"]; p.Section != "point" || *p.ArmID != *f.ArmID {
		t.Errorf("point and flat are %+v and %+v, want both in one arm", p, f)
	}
	// Their weights add up to the whole again.
	u.goTo(6)
	for name, w := range map[string][2]string{"2R point": {"1 kg", "0.6 kg"}, "2R flat": {"1.74 kg", "1.1 kg"}} {
		id := by[name].ID
		for i, stage := range []yield.Stage{yield.Trimmed, yield.Off} {
			m, err := units.ParseMass(w[i])
			if err != nil {
				t.Fatal(err)
			}
			if err := s.Weigh(t.Context(), 1, store.Weighing{CutID: id, Stage: stage, Kg: m.Kg, Typed: m.Typed, ResolutionKg: 0.001, ResolutionTyped: "1 g", At: time.Now()}); err != nil {
				t.Fatal(err)
			}
		}
	}
	u.MustReload()
	u.click("[data-testid=switch]")
	u.see(`[data-testid="whole-2R"]`, "38.0") // 1.7 of 2.74 is left

	u.visit(site, fmt.Sprintf("/trials/%d/labels", id), "h1", "Labels to stick")
	u.see(`[data-testid="label-1La"]`, "Lamb 7")
	if err := u.Timeout(patience).Wait(rod.Eval(`() => [...document.querySelectorAll('.sticker img')].every(i => i.naturalWidth > 100)`)); err != nil {
		t.Error("the labels' codes do not show")
	}
	u.find(".sticker .arm")
	// On paper the mark is 60 mm high and the buttons stay away.
	paper := func(media string) {
		if err := (proto.EmulationSetEmulatedMedia{Media: media}).Call(u.Page); err != nil {
			t.Fatal(err)
		}
	}
	paper("print")
	mark := `() => document.querySelector('.sticker .arm .token').getBoundingClientRect().height / 96 * 25.4`
	if err := u.Timeout(patience).Wait(rod.Eval(`() => Math.abs((` + mark + `)() - 60) < 5`)); err != nil {
		t.Errorf("the mark prints %.0f mm high, want 60", u.MustEval(mark).Num())
	}
	if shown := u.MustEval(`() => [...document.querySelectorAll('.no-print')].some(e => e.offsetParent)`).Bool(); shown {
		t.Error("buttons print with the labels")
	}
	u.see(".foot", "Printed")
	paper("")
	u.button("Blind, no arm")
	u.gone(".sticker .arm")
	if text := u.find(".sheet").MustText(); strings.Contains(text, "PAPER") || strings.Contains(text, "BARE") {
		t.Errorf("a blind label names its arm: %s", text)
	}
}

// TestPlacesAreClearedByOneKeyAndChangedByHand mends a hot end with M, then
// drags one token onto another: the two change places.
func TestPlacesAreClearedByOneKeyAndChangedByHand(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "bram", 1280, 1400)
	id, _ := bench(t, s, 4, func(int, *store.Cut, *float64) {}, func(i int) (int, string) {
		return i / 4, fmt.Sprintf("%c1", "ABCD"[2*((i/2+i)%2)+i%2])
	})
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "h1", "8 shoulders")
	u.see("[data-testid=finding-covariate]", "further across the grate")
	u.see("[data-testid=alike-column]", "apart, 2.0 places")
	u.key(input.KeyM)
	u.gone("[data-testid=finding-covariate]")
	u.see("[data-testid=alike-column]", "alike")
	where := func() map[int64]string {
		placements, err := s.Placements(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		out := map[int64]string{}
		for _, p := range placements {
			out[p.CutID] = fmt.Sprint(*p.PitRunID, " ", p.Position)
		}
		return out
	}
	before := where()
	cells := u.MustElements(`[data-testid^="grate-1"] .cell`)
	was := cells[0].MustText()
	u.drag(cells[0], cells[3]) // A1 onto D1, both taken
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('[data-testid^="grate-1"] .cell').innerText !== was`, was)); err != nil {
		t.Fatal("the token does not move")
	}
	after, changed := where(), 0
	seen := map[string]bool{}
	for cut, place := range after {
		seen[place] = true
		if before[cut] != place {
			changed++
		}
	}
	if changed != 2 || len(seen) != 8 {
		t.Errorf("%d cuts changed places and %d places are taken, want two and eight: %v, then %v", changed, len(seen), before, after)
	}
	u.whole()
}

// waterOrSand asks after a pan that is set on whole pits, and lays it on the same pit on both
// of two days.
const waterOrSand = `async () => {
	const send = async (method, path, body) => {
		const r = await fetch('/api' + path, {method, headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)})
		return r.json()
	}
	const {ask} = await send('GET', '/trials/3')
	const arm = (tag, value) => ({id: 0, tag, control: tag === 'SAND', levels: [{id: 0, key: '', value}]})
	Object.assign(ask, {id: undefined, question: 'Water or sand in the pan?', follows_id: null, layout: '',
		factors: [{...ask.factors[0], id: 0, name: 'pan', role: '', set_on: 'pit run'}], arms: [arm('WATER', 'water'), arm('SAND', 'sand')]})
	let v = await send('POST', '/trials', ask)
	for (let i = 0; i < 8; i++) await send('POST', '/trials/' + v.id + '/cuts', {name: 'P' + i, pair: String(i >> 1), arm_id: v.ask.arms[i % 2].id})
	v = await send('GET', '/trials/' + v.id)
	for (const c of v.cuts) await send('POST', '/cuts/' + c.id + '/weighings', {stage: 'trimmed', weight: '6 lb', resolution: '1/4 oz'})
	const pits = await send('GET', '/pits')
	for (let day = 0; day < 2; day++)
		await send('POST', '/trials/' + v.id + '/cooks', {serve_at: new Date(Date.now() + (day + 2) * 864e5).toISOString(), outline: v.outline,
			runs: pits.slice(0, 2).map(p => ({id: 0, pit_id: p.id, setup: '', set_point: '250 F'})),
			placements: v.cuts.slice(4 * day, 4 * day + 4).map((c, i) => ({cut_id: c.id, run: i % 2, position: 'ABCD'[i] + '1'}))})
	return v.id
}`

// TestSetUpsAreSwappedNotCutsMoved: what goes with the pit is mended by one button, and every
// cut keeps the level it had.
func TestSetUpsAreSwappedNotCutsMoved(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 900)
	id := u.MustEval(waterOrSand).Int()
	u.visit(site, fmt.Sprintf("/trials/%d/match", id), "[data-testid=finding-trait]", "The pit and pan cannot be told apart.")
	u.see("[data-testid='grate-1-Brick Pit']", "pan: water")
	u.see("[data-testid='grate-2-Brick Pit']", "pan: water")
	u.button("Swap the set-ups of day 1")
	u.see("[data-testid='grate-1-Brick Pit']", "pan: sand")
	u.see("[data-testid='grate-1-Brick Pit']", "P1")
	u.see("[data-testid='grate-2-Brick Pit']", "pan: water")
	u.gone("[data-testid=finding-trait]")
}
