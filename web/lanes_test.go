package web

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"whitebarn/internal/testkit/script"
)

func TestALaneIsBentWhereTheMeatIsDecided(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/scale")
	for c, want := range map[float64]float64{0: 100, 60: 70, 80: 35, 100: 0, -20: 100, 300: -4} {
		if got := script.Ask[float64](p, fmt.Sprintf("m.coreY(%v, 100)", c)); math.Abs(got-want) > 1e-9 {
			t.Errorf("%v C stands at %v of 100 px, want %v", c, got, want)
		}
	}
}

// A moment and its pixel belong to each other on both sides of the door, which hides none.
func TestAMomentAndItsPixelBelongTogether(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/scale")
	random := rand.New(rand.NewPCG(33, 4))
	for range 300 {
		from, hours := 1.79e12, 0.1+24*random.Float64()
		to := from + hours*3.6e6
		room := map[string]float64{"width": 300 + 1000*random.Float64(), "gutter": 84, "door": []float64{0, 60, 150}[random.IntN(3)]}
		p.Give("view", []float64{from, to})
		p.Give("room", room)
		p.Run(fmt.Sprintf("door = m.doorPx(view, room, %f); scale = m.timeScale(view, room, door)", from+(1.4*random.Float64()-0.2)*(to-from)))
		door := script.Ask[float64](p, "door")
		if door < 84 || door > room["width"]-room["door"]+1e-6 {
			t.Fatalf("the door hangs at %v px of %v", door, room)
		}
		last := math.Inf(-1)
		for i := range 20 {
			ms := from + (to-from)*float64(i)/19
			x := script.Ask[float64](p, fmt.Sprintf("scale.x(%f)", ms))
			if x < last {
				t.Fatalf("a later moment stands to the left: %v after %v", x, last)
			}
			if last = x; x > door+1e-6 && x < door+room["door"]-1e-6 {
				t.Fatalf("a moment stands behind the door at %v, %v wide: %v", door, room["door"], x)
			}
			if back := script.Ask[float64](p, fmt.Sprintf("scale.at(%f)", x)); math.Abs(back-ms) > 1e-4*(to-from) {
				t.Fatalf("%v stands at %v px, where %v is", ms, x, back)
			}
		}
	}
}

func TestTheRailHasRoundMarksThatDoNotTouch(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/scale")
	for _, hours := range []float64{0.2, 1, 4, 14, 40, 120} {
		for _, width := range []float64{250, 700, 1100} {
			marks := script.Ask[[]float64](p, fmt.Sprintf("m.ticks(1789819500000, 1789819500000 + %f, %f)", hours*3.6e6, width))
			for i := 1; i < len(marks); i++ {
				if px := (marks[i] - marks[i-1]) * width / (hours * 3.6e6); px < 89.9 && hours < 100 {
					t.Errorf("marks of %v h on %v px stand %.0f px apart", hours, width, px)
				}
				if step := marks[i] - marks[i-1]; math.Mod(marks[i], step) != 0 {
					t.Errorf("a mark each %v ms is at %v", step, marks[i])
				}
			}
		}
	}
}

const trace = `var trace = (id, points, more) => ({ probe_id: id, points, pit_run_id: null, holder_run_id: null, point: '', ...more }), same = v => v`

func TestAHoleInTheReadingsIsAHoleInTheLine(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/scale")
	p.Run(trace)
	got := script.Ask[string](p, "m.tracePath(trace(1, [[0, 5, 5], [10, 6, 8], [40, 7, 7]]), same, same, 20)")
	if want := "M0.0 5.0L10.0 6.0L10.0 8.0M40.0 7.0"; got != want {
		t.Errorf("the line is %s, want %s", got, want)
	}
	for at, want := range map[string]any{"0": 5.0, "9": 7.0, "14": 7.0, "25": nil, "-3": 5.0, "60": nil} {
		if got := script.Ask[any](p, "m.valueAt(trace(1, [[0, 5, 5], [10, 6, 8], [40, 7, 7]]), "+at+", 10)"); got != want {
			t.Errorf("at %s the trace says %v, want %v", at, got, want)
		}
	}
}

// However the door moves over a trace, what is kept of it is what would be drawn anew.
func TestATraceIsDrawnAlikeWhereverTheDoorHangs(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/scale")
	p.Run(trace + `
		var points = Array.from({ length: 60 }, (_, i) => [1000 * i + (i > 40 ? 30000 : 0), 50 + i, 50 + i + i % 3])
		var kept = trace(1, points), room = { width: 500, gutter: 40, door: 148 }
		const alike = (view, px) => { const x = m.timeScale(view, room, px).x
			return m.tracePath(kept, x, same, 5000) === m.tracePath(trace(1, points.map(q => [...q])), ms => x(ms), same, 5000) }`)
	for _, view := range []string{"[0, 90000]", "[10000, 50000]", "[-20000, 70000]"} {
		for _, door := range []int{40, 41, 150, 151, 149, 352, 300, 40} {
			if !script.Ask[bool](p, fmt.Sprintf("alike(%s, %d)", view, door)) {
				t.Errorf("in the view %s with the door at %d px the trace is drawn otherwise", view, door)
			}
		}
	}
}

func TestReadingsGrowOnTheEndsOfTheirTraces(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/scale")
	p.Run(trace + `
		const iso = ms => new Date(ms).toISOString()
		var old = { from: iso(0), to: iso(100000), columns: 10, last: iso(90000), traces: [trace(1, [[90000, 5, 5]]), trace(2, [[80000, 9, 9]])] }
		var grown = m.append(old, [{ probe: 1, at: 90000, c: 99 }, { probe: 1, at: 95000, c: 6 }, { probe: 1, at: 98000, c: 4 }, { probe: 1, at: 101000, c: 7 }])`)
	if got := script.Ask[string](p, "JSON.stringify(m.pointsOf(grown.traces.traces[0]))"); got != "[[90000,5,5],[95000,4,6],[101000,7,7]]" {
		t.Errorf("the trace grew to %s", got)
	}
	if !script.Ask[bool](p, "grown.all && grown.traces.last === iso(101000) && grown.traces.traces[1] === old.traces[1] && grown.traces.traces[0].points === old.traces[0].points") {
		t.Error("what did not change was made anew, or the end is not told")
	}
	if script.Ask[bool](p, "m.append(old, [{ probe: 7, at: 95000, c: 6 }]).all") {
		t.Error("a probe that is not drawn yet is said to be")
	}
}

func TestLanesAreLaidByWhatWasDone(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/lanes", "ui/reader")
	p.Run(`const at = m => new Date(1789819200000 + 60000 * m).toISOString(), ms = m => 1789819200000 + 60000 * m
		const cuts = [{ id: 1, name: '1L', placement: { pit_run_id: 5 } }, { id: 2, name: '1R', placement: { pit_run_id: 5 } }]
		const did = (act, min, cut_id, more) => ({ id: min, act, at: at(min), cut_id, pit_run_id: null, detail: {}, by: 'Tove', said: '', note: '', ...more })
		const log = [did('on', 0, 1), did('on', 4, 2), did('wrap', 300, 1), did('probe', 310, 1, { detail: { c: 70 } }), did('probe', 305, 1, { detail: { c: 60 } }),
			did('move', 320, 2, { detail: { run_id: 6 } }), did('pull', 500, 1), did('carve', 560, 1)]`)
	for js, want := range map[string]any{
		"m.anchorOf(log, cuts, 'on') - ms(0)":            0.0,
		"m.anchorOf(log, [cuts[1]], 'on') - ms(0)":       4 * 60000.0,
		"m.anchorOf(log, [cuts[1]], 'wrap')":             nil,
		"m.shifts([ms(4), null, ms(0)]).by.join()":       "240000,0,0",
		"m.railLabel(ms(-75), 'on', ms(0))":              "−1:15",
		"m.railLabel(ms(75), 'clock', ms(0))":            "13:15",
		"m.handReads(log, cuts, null)[0].c":              70.0, // the last, in whatever order they were written
		"m.handReads(log, cuts, ms(306))[0].c":           60.0,
		"m.runOf(cuts[1], log)":                          6.0,
		"m.runOf(cuts[1], log, ms(319))":                 5.0,
		"m.runsPressed('all', cuts, [], log).join()":     "5,6",
		"m.runsPressed('pit 9', cuts, [], log).join()":   "9",
		"m.runsPressed('all', [], [{id: 3}], []).join()": "3",
		"m.runsPressed(0, [], [{id: 3}], []).length":     0.0,
	} {
		if got := script.Ask[any](p, js); got != want {
			t.Errorf("%s is %v, want %v", js, got, want)
		}
	}
	var names []string
	type stretch struct {
		From, To float64
		Name     string
		Wrapped  bool
	}
	stretches := script.Ask[[]stretch](p, "m.stretchesOf(log.filter(e => e.cut_id === 1), ms(600))")
	for i, s := range stretches {
		names = append(names, s.Name)
		if i > 0 && s.From != stretches[i-1].To {
			t.Errorf("between %s and %s there is a hole", stretches[i-1].Name, s.Name)
		}
		if s.Wrapped != strings.HasPrefix(s.Name, "wrapped") {
			t.Errorf("%s is drawn as wrapped %v", s.Name, s.Wrapped)
		}
	}
	if want := []string{"smoke", "wrapped", "rest"}; !slices.Equal(names, want) {
		t.Errorf("the cut went through %q, want %q", names, want)
	}
	if n := len(stretches); n == 3 && stretches[2].To-stretches[2].From != 3.6e6 {
		t.Errorf("the rest ends %v ms after the pull, want at the knife", stretches[2].To-stretches[2].From)
	}
	sets := script.Ask[[]struct{ C float64 }](p, `m.setPoints({ id: 5, set_point_c: 120, set_point_typed: '250 F' }, [
		did('set', 200, null, { pit_run_id: 5, detail: { set_c: 140 } }), did('set', 100, null, { pit_run_id: 5, detail: { set_c: 130 } }),
		did('set', 50, null, { pit_run_id: 6, detail: { set_c: 99 } })])`)
	if got := fmt.Sprint(sets); got != "[{120} {130} {140}]" {
		t.Errorf("the set points are %s, want as planned, then in the order of time", got)
	}
}

func TestFlagsDoNotCoverEachOther(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "fire/lanes")
	random := rand.New(rand.NewPCG(33, 5))
	for range 60 {
		type event struct {
			ID  int    `json:"id"`
			Act string `json:"act"`
			At  string `json:"at"`
		}
		var log []event
		for i := range 40 {
			log = append(log, event{i, []string{"wood", "lid", "spritz", "probe"}[random.IntN(4)], fmt.Sprintf("2026-09-19T%02d:%02d:00Z", 8+random.IntN(10), random.IntN(60))})
		}
		p.Give("log", log)
		flags := script.Ask[[]struct {
			Act      string
			X, Nudge float64
			Row      int
			Events   []event
		}](p, "m.flagsOf(log, t => (t - Date.parse('2026-09-19T08:00:00Z')) / 40000, 900)")
		shown := 0
		for i, f := range flags {
			shown += len(f.Events)
			for _, g := range flags[:i] {
				if f.Row == g.Row && math.Abs(f.X-g.X) < 33 {
					t.Fatalf("%s and %s stand %v px apart in one row", f.Act, g.Act, math.Abs(f.X-g.X))
				}
			}
			if edge := f.X + f.Nudge; f.X >= 0 && f.X <= 900 && (edge < 12-1e-9 || edge > 900-24+1e-9 && f.X > 900-24) {
				t.Fatalf("a flag at %v of 900 px is moved to %v: it is not seen whole", f.X, edge)
			}
		}
		if shown != len(log) {
			t.Fatalf("%d of %d acts have a flag", shown, len(log))
		}
	}
}

func TestAPlanIsStretchedAndLaidOnItsRail(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "plan/rail")
	p.Run(`const phase = (kind, s, more) => ({ kind, least_s: 0, most_s: 0, ends: [{ watch: 'time', value: s, typed: '' }], ...more })
		const outline = () => ({ arms: [
			{ phases: [phase('smoke', 3600), phase('hold', 14400, { least_s: 7200, most_s: 18000 })] },
			{ phases: [phase('smoke', 3600), phase('hold', 14400), { kind: 'hold', least_s: 0, most_s: 0, ends: [{ watch: 'core', value: 90, typed: '' }] }] }] })
		const after = (arm, i, s, vary) => { const o = outline(); m.stretched(o, arm, i, s, vary); return o.arms.map(a => a.phases.map(q => q.ends[0].value).join()).join(' ') }`)
	for js, want := range map[string]string{
		"after(0, 0, 5400, false)":   "5400,14400 3600,14400,90",
		"after(0, 1, 16000, false)":  "3600,15900 3600,15900,90", // held equal, in steps of five minutes
		"after(0, 1, 16000, true)":   "3600,15900 3600,14400,90", // the hold is what varies
		"after(1, 2, 100, true)":     "3600,14400 3600,14400,90", // does not end by the clock
		"after(0, 0, 1, true)":       "300,14400 3600,14400,90",
		"after(0, 0, 9999999, true)": "345600,14400 3600,14400,90",
		"m.spanText(14400)":          "4 h",
		"m.spanText(5400)":           "1 h 30",
		"m.spanText(2700)":           "45 min",
	} {
		if got := script.Ask[string](p, js); got != want {
			t.Errorf("%s is %q, want %q", js, got, want)
		}
	}
	if got := script.Ask[string](p, "(o => (m.stretched(o, 0, 1, 18000, false), [o.arms[0].phases[1].least_s, o.arms[0].phases[1].most_s].join()))(outline())"); got != "10800,21600" {
		t.Errorf("a hold an hour longer has the window %s, want 10800,21600", got)
	}
	p.Run(`const plan = { pits: [{ light: '2026-09-19T04:00:00Z' }], lanes: [{ on: '2026-09-19T06:00:00Z', begin: '2026-09-18T18:00:00Z' }],
		serve: '2026-09-19T22:00:00Z', late: { by_s: 0 } }, rail = m.railOf(plan)`)
	last := -1.0
	for hour := range 29 {
		x := script.Ask[float64](p, fmt.Sprintf("m.railX(rail, Date.parse('2026-09-18T18:00:00Z') + %d * 3600000)", hour))
		if x < last || x < 0 || x > 100 {
			t.Errorf("%d h after the beginning stands at %v %%, after %v", hour, x, last)
		}
		last = x
	}
	if x := script.Ask[float64](p, "m.railX(rail, rail.fire)"); math.Abs(x-14) > 1e-9 {
		t.Errorf("half an hour before it is lit stands at %v %%, want 14", x)
	}
	if !script.Ask[bool](p, "m.railOf({ ...plan, late: { by_s: 7200 } }).to - rail.to === 7200000") {
		t.Error("a plan that is late has no room for it")
	}
}
