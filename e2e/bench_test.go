package e2e

import (
	"bytes"
	"fmt"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/go-rod/rod"

	"whitebarn/internal/demo"
	"whitebarn/internal/testkit/browser"
)

// signedIn opens a page of a person's own browser.
func signedIn(b *testing.B, site, path string) *browser.Page {
	p, err := chromium.Page(site, "/", 1280, 800)
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { _ = p.Browser().Close() })
	p.MustElement("#sign-in").MustInput("tove")
	p.MustElement("#password").MustInput(demo.Password)
	p.MustElement("button[type=submit]").MustClick()
	p.MustElement(".sky")
	if path != "" {
		p.MustNavigate(site + path)
	}
	return p
}

// painted notes, for each moment the chart has come up to, how long after that
// moment the frame was painted.
const painted = `() => {
	window.waits = []
	const plot = document.querySelector('[data-testid=chart]')
	new MutationObserver(() => {
		const last = Date.parse(plot.dataset.last)
		requestAnimationFrame(() => setTimeout(() => window.waits.push(Date.now() - last), 0))
	}).observe(plot, {attributes: true, attributeFilter: ['data-last']})
}`

func percentile(v []float64, p float64) float64 {
	slices.Sort(v)
	return v[min(len(v)-1, int(p*float64(len(v))))]
}

// BenchmarkLive has twelve probes send once a second for half a minute while five
// browsers watch: from the device's send to the painted frame.
func BenchmarkLive(b *testing.B) {
	site, s := serveDemo(b)
	var cook int64
	if err := s.Pool().QueryRow(b.Context(), "update cooks set played = false where played returning id").Scan(&cook); err != nil {
		b.Fatal(err)
	}
	_, token, err := s.NewDevice(b.Context(), 1, "bench gateway", nil)
	if err != nil {
		b.Fatal(err)
	}
	sequence := 0
	send := func() {
		var body bytes.Buffer
		at := time.Now()
		for probe := range 12 {
			sequence++
			fmt.Fprintf(&body, "%d,core %d,%s,%.2f,C\n", sequence, probe, at.UTC().Format("2006-01-02T15:04:05.000Z"), 70+float64(probe)+float64(sequence%50)/25)
		}
		req, _ := http.NewRequest("POST", site+"/api/devices/readings", &body)
		req.Header.Set("Authorization", "Bearer "+token)
		req.Header.Set("Content-Type", "text/csv")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			b.Fatal(err)
		}
		_ = res.Body.Close()
		if res.StatusCode != http.StatusOK {
			b.Fatalf("readings are answered with %s", res.Status)
		}
	}
	send() // the probes are known from now on
	_, err = s.Pool().Exec(b.Context(), `insert into probe_assignments (probe_id, cook_id, cut_id, place, from_at, recorded_by)
		select p.id, $1, (select array_agg(distinct cut_id) from placements where cook_id = $1 and pit_run_id is not null and voided_at is null)[1 + p.n % 6], case when p.n < 6 then '' else 'thin' end, now() - interval '1 minute', 1
		from (select p.id, row_number() over (order by p.id)::int - 1 as n from probes p join devices d on d.id = p.device_id where d.name = 'bench gateway') p`, cook)
	if err != nil {
		b.Fatal(err)
	}
	browsers, seconds := 5, 30
	if testing.Short() {
		browsers, seconds = 2, 3
	}
	var pages []*browser.Page
	for range browsers {
		p := signedIn(b, site, "/trials/4/fire")
		p.MustElementR("[data-testid=wire]", "live")
		p.MustElement("[data-testid=chart] path.trace")
		pages = append(pages, p)
	}
	time.Sleep(3 * time.Second) // forecasts that were asked for on opening
	for b.Loop() {
		for _, p := range pages {
			p.MustEval(painted)
		}
		tick := time.NewTicker(time.Second)
		for range seconds {
			<-tick.C
			send()
		}
		tick.Stop()
		time.Sleep(2 * time.Second) // the last is painted
		var waits []float64
		for _, p := range pages {
			for _, w := range p.MustEval(`() => window.waits`).Arr() {
				waits = append(waits, w.Num())
			}
		}
		if len(waits) < (browsers-1)*seconds {
			b.Fatalf("%d browsers painted %d of %d seconds", browsers, len(waits), browsers*seconds)
		}
		b.ReportMetric(percentile(waits, 0.5), "p50-ms")
		b.ReportMetric(percentile(waits, 0.95), "p95-ms")
		b.ReportMetric(percentile(waits, 1), "max-ms")
	}
}

// aMillion gives a finished cook of the demo twelve probes of 24 hours at 1 Hz
// in place of its own log.
const aMillion = `with d as (insert into devices (name, kind) values ('bench logger', 'file') returning id),
	p as (insert into probes (device_id, channel) select d.id, 'probe ' || n from d, generate_series(0, 11) n returning id, substr(channel, 7)::int as n),
	gone as (update probe_assignments set voided_at = now(), voided_by = 1 where cook_id = $1 and voided_at is null),
	a as (insert into probe_assignments (probe_id, cook_id, cut_id, pit_run_id, from_at, to_at, recorded_by)
		select p.id, $1, case when n < 8 then (select array_agg(distinct cut_id) from placements where cook_id = $1 and pit_run_id is not null and voided_at is null)[1 + n] end,
			case when n >= 8 then (select pit_run_id from cook_pit_runs where cook_id = $1 limit 1) end, '2026-09-18T20:00:00Z', '2026-09-19T20:00:00Z', 1 from p)
	insert into readings (probe_id, at, c, value, scale)
	select p.id, '2026-09-18T20:00:00Z'::timestamptz + make_interval(secs => t), v, v, 'C' from p, generate_series(0, 86399, $2) t,
		lateral (select case when p.n < 8 then 4 + 91 * (1 - exp(-t / 20000.0)) + 0.2 * sin(t / 7.0 + p.n) else 121 + 3 * sin(t / 900.0) + sin(t / 5.0) end as v) x`

// opened notes when the frame with all traces was painted, ms since the page was asked for. The page looks itself: who
// asks it from outside adds the time between two looks.
const opened = `(() => {
	const look = () => {
		const drawn = [...document.querySelectorAll('[data-testid=chart] path.trace')].filter(x => x.getAttribute('d').length > 1000).length
		if (drawn >= 12) setTimeout(() => { window.opened = performance.now() })
		else requestAnimationFrame(look)
	}
	requestAnimationFrame(look)
})()`

// pan moves the chart to and fro with the mouse's events, and zooms, for so long, ms; the
// answer is how many frames a second were painted, and the longest wait for one, ms.
const pan = `async time => {
	const plot = document.querySelector('[data-testid=chart]')
	const box = plot.getBoundingClientRect()
	const fire = (kind, x) => plot.dispatchEvent(new PointerEvent(kind, {clientX: box.left + x, clientY: box.top + 120, bubbles: true}))
	for (let i = 0; i < 6; i++) plot.dispatchEvent(new WheelEvent('wheel', {deltaY: -1, clientX: box.left + 400, clientY: box.top + 120, bubbles: true, cancelable: true}))
	await new Promise(r => setTimeout(r, 700))
	let frames = 0, longest = 0, last = performance.now()
	const start = last
	fire('pointerdown', 500)
	await new Promise(done => {
		const next = now => {
			frames++
			longest = Math.max(longest, now - last)
			last = now
			if (now - start > time) return done()
			fire('pointermove', 500 + 300 * Math.sin((now - start) / 400))
			requestAnimationFrame(next)
		}
		requestAnimationFrame(next)
	})
	fire('pointerup', 500)
	return [frames * 1000 / (last - start), longest]
}`

// replayed plays the cook for so long, ms, and answers with the frames a second.
const replayed = `async time => {
	document.querySelector('[data-testid=replay-start]').click()
	let frames = 0
	const start = performance.now()
	await new Promise(done => {
		const next = now => (frames++, now - start > time ? done() : requestAnimationFrame(next))
		requestAnimationFrame(next)
	})
	return frames * 1000 / time
}`

// BenchmarkBoard opens the board of a finished day of a million readings, moves
// it about, and plays it.
func BenchmarkBoard(b *testing.B) {
	site, s := serveDemo(b)
	var cook int64
	if err := s.Pool().QueryRow(b.Context(), "select min(id) from cooks where trial_id = 3").Scan(&cook); err != nil {
		b.Fatal(err)
	}
	step, panning, playing := 1, 5000, 3000 // s, ms
	if testing.Short() {
		step, panning, playing = 60, 1000, 1000
	}
	if _, err := s.Pool().Exec(b.Context(), aMillion, cook, step); err != nil {
		b.Fatal(err)
	}
	if _, err := s.Pool().Exec(b.Context(), "vacuum analyze readings"); err != nil {
		b.Fatal(err)
	}
	p := signedIn(b, site, "")
	p.MustEvalOnNewDocument(opened)
	for b.Loop() {
		var times []float64 // the first fills the caches
		for range 4 {
			if err := p.Navigate(site + "/trials/3/fire"); err != nil {
				b.Fatal(err)
			}
			if err := p.Timeout(patience).Wait(rod.Eval(`() => window.opened > 0`)); err != nil {
				b.Fatal("the board does not open: ", err)
			}
			times = append(times, p.MustEval(`() => window.opened`).Num())
			time.Sleep(4 * time.Second) // what comes after the picture
		}
		b.ReportMetric(times[0], "first-open-ms")
		b.ReportMetric(percentile(times[1:], 0.5), "open-ms")
		got := p.MustEvaluate(rod.Eval(pan, panning).ByPromise()).Value.Arr()
		b.ReportMetric(got[0].Num(), "frames/s")
		b.ReportMetric(got[1].Num(), "longest-frame-ms")
		b.ReportMetric(p.MustEvaluate(rod.Eval(replayed, playing).ByPromise()).Value.Num(), "replay-frames/s")
	}
}
