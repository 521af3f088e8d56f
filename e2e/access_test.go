package e2e

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"whitebarn/internal/testkit/browser"
)

// everyPage is each view of the demo, with what shows that it is there, and how large a
// finger's target must be on it.
var everyPage = []struct {
	path, ready string
	least       float64
}{
	{"/", "[data-testid=coming]", 44},
	{"/trials/4/ask", "[data-testid=can-answer]", 44},
	{"/trials/new", "[data-testid=can-answer]", 44},
	{"/trials/4/match", "[data-testid=last-draw]", 44},
	{"/trials/4/labels", "h1", 44},
	{"/trials/4/plan", "[data-testid=plan-rail]", 44},
	{"/trials/4/run-sheet", "h1", 44},
	{"/trials/4/prep", "[data-testid=bench-cut]", 44},
	{"/trials/4/fire", "[data-testid=due-first]", 48},
	{"/trials/3/fire", ".door .lead", 48},
	{"/trials/4/rest", "[data-testid=gate]", 48},
	{"/trials/3/rest", "[data-testid=gate]", 48},
	{"/trials/2/table", "[data-testid=taster-name]", 48},
	{"/trials/3/table", "[data-testid=first-sample]", 48},
	{"/trials/3/carve/1", "[data-testid=carve-left]", 44},
	{"/trials/3/ballots/1", ".paper", 44},
	{"/trials/3/ballots/5", ".paper", 44},
	{"/join", "[data-testid=door-code]", 48},
	{"/trials/3/settle", "[data-testid=not-covered]", 44},
	{"/trials/4/settle", "h1", 44},
	{"/trials/9/settle", "[data-testid=not-covered]", 44},
	{"/book", "[data-testid=book-first]", 44},
	{"/book/cards/1", "[data-testid=phases]", 44},
	{"/book/cards/1/wall", "[data-testid=wall-card]", 44},
	{"/book/know?text=paper+juiciness", "[data-testid=forest]", 44},
	{"/pits", "[data-testid=families]", 44},
	{"/trials/new?template=set-ups", "[data-testid=can-answer]", 44},
	{"/trials/6/plan", "[data-testid=burns]", 44},
	{"/trials/6/fire", ".door .lead", 48},
	{"/trials/6/settle", "[data-testid=set-up-numbers]", 44},
	{"/pits/holders/1", "[data-testid=calibrations]", 44},
	{"/pantry", "h1", 44},
	{"/bench", "h1", 44},
	{"/bench/prep.portions", "h1", 44},
	{"/bench/thermal.simulate", "h1", 44},
	{"/crew", "h1", 44},
	{"/you", "[data-testid=passkeys]", 44},
	{"/history", "[data-testid=deed]", 44},
	{"/enter#made-up", "h1", 44},
	{"/records", "[data-testid=records-head]", 44},
	{"/records/api", "[data-testid=api-weigh]", 44},
	{"/records/licences", "h1", 44},
	{"/notebook", "[data-testid=write-up]", 44},
	{"/catalogue", "[data-testid=products]", 44},
	{"/guide/fire", "article h1", 44},
	{"/nowhere", "h1", 44},
}

// controls are the roles a name is needed for.
var controls = []string{"button", "link", "textbox", "combobox", "checkbox", "radio", "slider", "tab", "switch", "spinbutton",
	"searchbox", "menuitem", "option"}

// TestEveryPageCanBeReadAloud goes to every page on a desktop and reads its accessibility tree
// as Chromium makes it, and its colours by day and at night.
func TestEveryPageCanBeReadAloud(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	u.Expect("/enter/look answered 404")
	for _, p := range everyPage {
		since := u.now()
		u.open(site, p.path, p.ready)
		u.comesInPlace(p.path, since)
		u.whole()
		for _, wrong := range slices.Concat(aloud(t, u.Page), u.contrast(), u.reach()) {
			t.Errorf("%s: %s", p.path, wrong)
		}
		u.night(true)
		for _, wrong := range u.contrast() {
			t.Errorf("%s at night: %s", p.path, wrong)
		}
		u.night(false)
	}
}

// TestEveryPageFitsAHand loads every page on a phone, where it reads as well, is no wider than
// the screen and has targets for a finger.
func TestEveryPageFitsAHand(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 390, 844)
	u.Expect("/enter/look answered 404")
	for _, p := range everyPage {
		u.load(site, p.path)
		u.find(p.ready)
		u.comesInPlace(p.path, 0)
		u.whole()
		for _, wrong := range slices.Concat(u.targets(p.least), aloud(t, u.Page)) {
			t.Errorf("%s in the hand: %s", p.path, wrong)
		}
	}
}

// now is the page's own clock, in ms.
func (u user) now() float64 {
	u.t.Helper()
	return told[float64](u, `() => performance.now()`)
}

// aloud is what a screen reader would stumble over.
func aloud(t *testing.T, p *browser.Page) (wrong []string) {
	t.Helper()
	tree, err := proto.AccessibilityGetFullAXTree{}.Call(p.Page)
	if err != nil {
		t.Fatal(err)
	}
	nodes := map[proto.AccessibilityAXNodeID]*proto.AccessibilityAXNode{}
	for _, n := range tree.Nodes {
		nodes[n.NodeID] = n
	}
	text := func(v *proto.AccessibilityAXValue) string {
		if v == nil {
			return ""
		}
		return strings.Join(strings.Fields(v.Value.Str()), " ")
	}
	// shown is what stands in a control, as far as it is not hidden from readers.
	var shown func(n *proto.AccessibilityAXNode) string
	shown = func(n *proto.AccessibilityAXNode) string {
		if text(n.Role) == "StaticText" {
			return text(n.Name)
		}
		var words []string
		for _, id := range n.ChildIDs {
			if c := nodes[id]; c != nil {
				words = append(words, shown(c))
			}
		}
		return strings.Join(strings.Fields(strings.Join(words, " ")), " ")
	}
	plain := func(s string) string {
		return strings.ToLower(strings.Map(func(r rune) rune {
			if strings.ContainsRune(" ,.:;()\u00a0", r) {
				return -1
			}
			return r
		}, s))
	}
	// In the order they are read.
	var order []*proto.AccessibilityAXNode
	var walk func(n *proto.AccessibilityAXNode)
	walk = func(n *proto.AccessibilityAXNode) {
		order = append(order, n)
		for _, id := range n.ChildIDs {
			if c := nodes[id]; c != nil {
				walk(c)
			}
		}
	}
	walk(tree.Nodes[0])
	level, first := 0, 0
	for _, n := range order {
		role, name := text(n.Role), text(n.Name)
		switch {
		case n.Ignored:
		case role == "heading":
			is := 0
			for _, p := range n.Properties {
				if p.Name == "level" {
					is = p.Value.Value.Int()
				}
			}
			if is == 1 {
				first++
			}
			if is > level+1 {
				wrong = append(wrong, fmt.Sprintf("the heading %q is of level %d after one of level %d", name, is, level))
			}
			level = is
		case role == "image" && name == "":
			wrong = append(wrong, "a picture has no words")
		case slices.Contains(controls, role) && name == "":
			wrong = append(wrong, fmt.Sprintf("a %s has no name (%s)", role, describe(p, n)))
		case role == "button" || role == "link":
			if s := shown(n); s != "" && !strings.Contains(plain(name), plain(s)) {
				wrong = append(wrong, fmt.Sprintf("the %s %q is named %q", role, s, name))
			}
		}
	}
	if first != 1 {
		wrong = append(wrong, fmt.Sprintf("%d headings of level 1", first))
	}
	return wrong
}

func describe(p *browser.Page, n *proto.AccessibilityAXNode) string {
	el, err := p.ElementFromNode(&proto.DOMNode{BackendNodeID: n.BackendDOMNodeID})
	if err != nil {
		return "gone"
	}
	html, err := el.HTML()
	if err != nil {
		return "gone"
	}
	return html[:min(len(html), 160)]
}

// night turns the colours over.
func (u user) night(on bool) {
	u.t.Helper()
	u.MustEval(`on => { document.documentElement.dataset.theme = on ? 'night' : 'day' }`, on)
}

// contrast is what cannot be read for its colour. Ground that is no plain colour is left out.
func (u user) contrast() (wrong []string) {
	u.t.Helper()
	texts := told[[]struct {
		Text       string
		Ink, Paper [4]float64
		Large      bool
	}](u, inked)
	if len(texts) < 5 {
		return []string{fmt.Sprintf("%d texts were looked at", len(texts))}
	}
	seen := map[string]bool{}
	for _, x := range texts {
		least := 4.5
		if x.Large {
			least = 3
		}
		if r := ratio(x.Ink, x.Paper); r < least-0.01 {
			line := fmt.Sprintf("%q has a contrast of %.1f, want %.1f", x.Text, r, least)
			if !seen[line] {
				wrong = append(wrong, line)
			}
			seen[line] = true
		}
	}
	return wrong
}

// ratio is the contrast of two colours (WCAG 2.2).
func ratio(ink, paper [4]float64) float64 {
	light := func(c [4]float64) float64 {
		var sum float64
		for i, weight := range []float64{0.2126, 0.7152, 0.0722} {
			v := (c[i]*ink[3] + paper[i]*(1-ink[3])) / 255
			if c == paper {
				v = c[i] / 255
			}
			if v <= 0.04045 {
				v /= 12.92
			} else {
				v = math.Pow((v+0.055)/1.055, 2.4)
			}
			sum += weight * v
		}
		return sum
	}
	a, b := light(ink), light(paper)
	return (max(a, b) + 0.05) / (min(a, b) + 0.05)
}

// inked lists the texts that are shown, with their colour and the ground they stand on.
const inked = `() => {
	const rgb = c => { const m = c.match(/[\d.]+/g)?.map(Number) ?? [0, 0, 0, 0]; return c.startsWith('rgb') ? [m[0], m[1], m[2], m[3] ?? 1] : null }
	const out = []
	const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
	for (let n; (n = walk.nextNode()); ) {
		const el = n.parentElement
		if (!n.textContent.trim() || el.closest('svg, [aria-hidden=true], .visually-hidden, :disabled, .p-disabled, script, style')) continue
		if (!el.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true })) continue
		const style = getComputedStyle(el)
		let paper = null, solid = true
		for (let e = el; e && !paper; e = e.parentElement) {
			const s = getComputedStyle(e)
			if (s.backgroundImage !== 'none') solid = false
			const c = rgb(s.backgroundColor)
			if (!c) solid = false
			else if (c[3] === 1) paper = c
			else if (c[3] > 0) solid = false
		}
		const ink = rgb(style.color)
		if (!solid || !ink || ink[3] === 0) continue
		const px = parseFloat(style.fontSize)
		out.push({ text: n.textContent.trim().slice(0, 40), ink, paper: paper ?? [255, 255, 255, 1], large: px >= 24 ||
			(px >= 18.66 && Number(style.fontWeight) >= 700) })
	}
	return out
}`

// reach is what scrolls and cannot be scrolled by keys.
func (u user) reach() (wrong []string) {
	u.t.Helper()
	out := told[[]string](u, `() => [...document.querySelectorAll('main *')].filter(e => {
		const s = getComputedStyle(e)
		const scrolls = (/auto|scroll/.test(s.overflowY) && e.scrollHeight > e.clientHeight + 2) ||
			(/auto|scroll/.test(s.overflowX) && e.scrollWidth > e.clientWidth + 2)
		return scrolls && e.tabIndex < 0 && !e.querySelector('a[href], button:not(:disabled), input:not(:disabled), [tabindex="0"]')
	}).map(e => e.className || e.tagName)`)
	for _, o := range out {
		wrong = append(wrong, "what scrolls cannot be reached by keys: "+o)
	}
	return wrong
}

// targets is what is too small for a finger: a control, with what belongs to it, under so many
// pixels. Links within running text are as high as their line.
func (u user) targets(least float64) (wrong []string) {
	u.t.Helper()
	if err := u.Timeout(patience).Wait(rod.Eval(`() => new Promise(r => requestAnimationFrame(() => requestAnimationFrame(() => r(true))))`).ByPromise()); err != nil {
		u.fail("the page does not draw: %v", err)
	}
	small := told[[]struct {
		Name          string
		Width, Height float64
	}](u, `most => {
		const main = document.querySelector('main') ?? document.body
		const out = []
		for (const e of document.querySelectorAll('main a[href], main button, main input, main textarea, main select, main summary, main [role=combobox], main [role=slider], header a[href], header button')) {
			if (!e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) || e.closest('.visually-hidden, svg, .print-only')) continue
			if (e.matches('a') && getComputedStyle(e).display === 'inline') continue
			if (e.matches('.word')) continue // a word in a line of text
			let box = e
			if (e.matches('input[type=checkbox], input[type=radio]')) box = e.closest('label, .tick') ?? e.parentElement
			else if (e.matches('input, [role=combobox]')) box = e.closest('.p-select, .p-autocomplete, .p-datepicker') ?? e
			const r = box.getBoundingClientRect()
			if (r.width === 0 || r.height === 0) continue
			const least = e.closest('header') ? 44 : most
			if (r.height < least - 0.5 || (r.width < least - 0.5 && !e.matches('input')))
				out.push({ name: (e.getAttribute('aria-label') || e.innerText || e.id || e.className || e.tagName).trim().slice(0, 40),
					width: Math.round(r.width), height: Math.round(r.height) })
		}
		return out
	}`, least)
	for _, s := range small {
		wrong = append(wrong, fmt.Sprintf("%q is %.0f x %.0f, want %.0f", s.Name, s.Width, s.Height, least))
	}
	return wrong
}
