package e2e

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
	"whitebarn/internal/store"
)

// screens are a desk, a phone, the phone on its side, a tablet, and a desk zoomed to 200 %.
var screens = [][2]int{{1280, 800}, {390, 844}, {844, 390}, {820, 1180}, {640, 400}}

// crowd records a trial that burns: so many arms, each with a cut of each animal, and so
// many tasters, all with names as long as they may be.
func crowd(t *testing.T, s *store.Store, arms, animals, tasters int) (id int64) {
	t.Helper()
	check := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	a := trial.Start()
	a.Question, a.Product, a.Cut = "Which of all these wraps keeps a long cold night's work best", "lamb shoulder, bone in, from the high pasture", "shoulder"
	a.Species, a.Handling = safety.RedMeat, safety.Intact
	a.Factors = []trial.Factor{{Name: "wrap and what is put into it", Kind: trial.Categorical, SetOn: trial.UnitCut}}
	for i := range arms {
		a.Arms = append(a.Arms, trial.Arm{Tag: fmt.Sprintf("WRAPPE%c", 'A'+i),
			Levels: trial.Levels(fmt.Sprintf("wrapped in leaves of kind %d, twice over", i+1)), Control: i == 0})
	}
	a.Held = []trial.Held{{Name: "pit temperature", Value: "250 F"}}
	a.Hand.Blocks, a.Hand.BlockSize, a.Hand.Positions, a.Hand.Tasters = animals, arms, 60, tasters
	id, err := s.CreateTrial(t.Context(), 1, a.Tidy())
	check(err)
	made, err := s.Trial(t.Context(), id)
	check(err)
	pits, err := s.Pits(t.Context())
	check(err)
	now := time.Now()
	p := store.CookPlan{ServeAt: now.Add(4 * time.Hour), Runs: []store.PitRun{{PitID: pits[0].ID, SetPointC: 121,
		SetPointTyped: "250 F", Setup: "water trough half full"}}}
	var events []store.Event
	for i := range arms * animals {
		arm := made.Ask.Arms[i%arms].ID
		cut, err := s.AddCut(t.Context(), 1, id, store.Cut{Name: fmt.Sprintf("%d%c", i/arms+1, 'A'+i%arms),
			Pair: fmt.Sprint(i/arms + 1), Animal: fmt.Sprintf("Lamb %d of the high pasture", i/arms+1), ArmID: &arm})
		check(err)
		check(s.Weigh(t.Context(), 1, store.Weighing{CutID: cut, Stage: yield.Trimmed, Kg: 2.7, Typed: "2.700 kg", ResolutionKg: 0.005,
			ResolutionTyped: "5 g", At: now}))
		p.Placements = append(p.Placements, store.PlannedPlacement{CutID: cut, Position: fmt.Sprintf("%c%d", 'A'+i/10, i%10+1)})
		events = append(events, store.Event{Act: logbook.On, At: now.Add(-4 * time.Hour), CutID: &cut, Press: uuid.NewString()},
			store.Event{Act: logbook.Probe, At: now.Add(-10 * time.Minute), CutID: &cut, Press: uuid.NewString(),
				Detail: logbook.Detail{Read: fmt.Sprintf("%d F", 150+i%arms), C: new(65.6 + float64(i%arms))}})
	}
	_, err = s.CreateCook(t.Context(), 1, id, p, trial.RealClock(now))
	check(err)
	check(s.Log(t.Context(), 1, events))
	for i := range tasters {
		_, err := s.AddTaster(t.Context(), 1, store.NewTaster{TrialID: id, Name: fmt.Sprintf("Taster with a long name, number %d", i+1)})
		check(err)
	}
	return id
}

// TestTheFireFitsTheScreen has four arms on every screen: each temperature, the next hand
// and the pads are in view at once.
func TestTheFireFitsTheScreen(t *testing.T) {
	t.Parallel()
	u, address, s := demoBarn(t, "odalys", 1280, 800)
	path := fmt.Sprintf("/trials/%d/fire", crowd(t, s, 4, 3, 0))
	for _, size := range screens {
		u.MustSetViewport(size[0], size[1], 1, size[0] < 600)
		u.open(address, path, "[data-testid=due-first]")
		u.see(".door [data-arm='3']", "155")
		u.settled()
		out := told[[]string](u, `() => {
			const seen = (e, name) => {
				const r = e.getBoundingClientRect()
				return r.width > 0 && r.top >= -1 && r.bottom <= innerHeight + 1 && r.left >= -1 &&
					r.right <= innerWidth + 1 ? [] : [name + ' at ' + Math.round(r.top) + ' to ' + Math.round(r.bottom)]
			}
			const all = (s, name) => { const of = [...document.querySelectorAll(s)]; return of.length ? of.flatMap((e, i) => seen(e,
				name + ' ' + (i + 1))) : ['no ' + name] }
			return [...all('.door [data-arm] .lead', 'temperature'), ...all('[data-testid=due-first]', 'next hand'),
				...all('[data-testid=due-done]', 'Done'), ...all('.pads .main .pad', 'pad'), ...all('[data-testid=when]', 'time')]
		}`)
		if n := u.MustEval(`() => document.querySelectorAll('.door [data-arm] .lead').length`).Int(); n != 4 {
			t.Errorf("at %v there are %d temperatures, want 4", size, n)
		}
		for _, o := range out {
			t.Errorf("at %v out of sight: %s", size, o)
		}
		u.whole()
	}
}

// TestTheWheelScrollsAndAPinchZooms turns the plain wheel over the lanes, then with Ctrl.
func TestTheWheelScrollsAndAPinchZooms(t *testing.T) {
	t.Parallel()
	u, address, _ := demoBarn(t, "odalys", 1280, 800)
	u.visit(address, "/trials/3/fire", ".door", "204")
	rail := func() string { return u.find("svg.rail").MustEval(`() => this.textContent`).Str() }
	wide := rail()
	box := u.find("[data-testid=chart]").MustShape().Box()
	u.Mouse.MustMoveTo(box.X+300, box.Y+150)
	u.Mouse.MustScroll(0, 300)
	if err := u.Timeout(patience).Wait(rod.Eval(`() => window.scrollY > 50 || document.querySelector('.chart').scrollTop > 50`)); err != nil {
		t.Error("the plain wheel does not scroll")
	}
	if got := rail(); got != wide {
		t.Errorf("the plain wheel zooms: %q", got)
	}
	u.find("[data-testid=chart]").MustEval(`() => {
		const r = this.getBoundingClientRect()
		this.dispatchEvent(new WheelEvent('wheel', { deltaY: -200, ctrlKey: true, clientX: r.x + 300, bubbles: true, cancelable: true }))
	}`)
	if err := u.Timeout(patience).Wait(rod.Eval(`was => document.querySelector('svg.rail').textContent !== was`, wide)); err != nil {
		t.Error("the wheel with Ctrl does not zoom")
	}
}

// TestALargeTrialFitsEveryScreen looks at each step of the largest trial at five sizes:
// nothing is cut off, covered, or wider than the screen.
func TestALargeTrialFitsEveryScreen(t *testing.T) {
	t.Parallel()
	u, address, s := demoBarn(t, "odalys", 1280, 800)
	id := crowd(t, s, 6, 8, 40)
	pages := []struct{ path, ready string }{
		{"/", "[data-testid=coming]"}, {"ask", "[data-testid=can-answer]"}, {"match", "[data-testid=alike-kg]"}, {"plan",
			"[data-testid=plan-rail]"}, {"prep", "[data-testid=bench-cut]"},
		{"fire", "[data-testid=event-log]"}, {"rest", "[data-testid=cut-1A]"}, {"table", "[data-testid=taster-name]"}, {"settle", "h1"},
	}
	for _, p := range pages {
		path := p.path
		if path != "/" {
			path = fmt.Sprintf("/trials/%d/%s", id, p.path)
		}
		u.MustSetViewport(screens[0][0], screens[0][1], 1, false)
		u.open(address, path, p.ready)
		for _, size := range screens {
			u.MustSetViewport(size[0], size[1], 1, size[0] < 600)
			u.settled()
			for _, wrong := range u.unfit() {
				t.Errorf("%s at %v: %s", p.path, size, wrong)
			}
		}
	}
}

// settled waits until nothing on the page moves any more.
func (u user) settled() {
	u.t.Helper()
	if err := u.Timeout(patience).Wait(rod.Eval(`() => new Promise(done => {
		let was = '', same = 0
		const look = () => {
			const now = [...document.querySelectorAll('main h1, main h2, main button')].slice(0,
				80).map(e => { const r = e.getBoundingClientRect(); return r.x + ',' + r.y + ',' + r.height }).join()
			same = now === was ? same + 1 : 0
			was = now
			if (same < 12) requestAnimationFrame(look); else done(true)
		}
		look()
	})`).ByPromise()); err != nil {
		u.fail("the page does not come to rest: %v", err)
	}
}

// unfit is what is wider than the screen, cut off or covered.
func (u user) unfit() []string {
	u.t.Helper()
	out := told[[]string](u, `() => {
		const out = []
		const screen = document.documentElement.clientWidth // a phone's inner width grows with what is too wide for it
		const wide = document.documentElement.scrollWidth - screen
		if (wide > 0) {
			const far = [...document.querySelectorAll('main *')].filter(e => e.getBoundingClientRect().right > screen + 1 &&
				!e.closest('.scroll, .scroll-x, svg')).pop()
			out.push(wide + ' px wider than its screen: ' + (far?.className || far?.tagName))
		}
		const name = e => (e.getAttribute('aria-label') || e.innerText || e.className || e.tagName).toString().trim().slice(0, 40)
		for (const e of document.querySelectorAll('main button, main h1, main h2, main h3, main b, main p, header strong')) {
			if (!e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) || e.closest('.visually-hidden, svg')) continue
			const s = getComputedStyle(e)
			if (s.overflowX === 'hidden' && s.textOverflow !== 'ellipsis' && e.scrollWidth > e.clientWidth + 2 && e.innerText.trim() &&
				!e.matches('.block')) out.push('cut off: ' + name(e))
		}
		for (const e of document.querySelectorAll('main button, main a[href], main input')) {
			if (!e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) || e.closest('.visually-hidden, svg, .block')) continue
			const r = e.getBoundingClientRect()
			if (r.width < 4 || r.top < 0 || r.left < 0 || r.bottom > innerHeight || r.right > innerWidth) continue
			let clip = false
			for (let p = e.parentElement; p; p = p.parentElement) {
				const s = getComputedStyle(p)
				if (!/auto|scroll|hidden/.test(s.overflowX + s.overflowY)) continue
				const b = p.getBoundingClientRect()
				if (r.top < b.top - 1 || r.bottom > b.bottom + 1 || r.left < b.left - 1 || r.right > b.right + 1) { clip = true; break }
			}
			if (clip) continue
			const at = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2)
			if (at && !e.contains(at) && !at.contains(e) && at.closest('label')?.contains(e) !== true &&
				!at.closest('.undo, [data-testid=undo-strip]')) out.push('covered: ' + name(e) + ' by ' + name(at))
		}
		return out
	}`)
	slices.Sort(out)
	return slices.Compact(slices.DeleteFunc(out, func(s string) bool { return strings.TrimSpace(s) == "" }))
}
