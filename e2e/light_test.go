package e2e

import (
	"strings"
	"sync"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
)

// TestPagesAskOnceAndForLittle opens the pages that ask for most: no answer is asked for
// twice, and what the API sends for them, compressed, is little.
func TestPagesAskOnceAndForLittle(t *testing.T) {
	t.Parallel()
	u, site, _ := demoBarn(t, "odalys", 1280, 800)
	if err := (proto.NetworkSetBypassServiceWorker{Bypass: true}).Call(u.Page.Page); err != nil {
		t.Fatal(err)
	}
	var mu sync.Mutex
	asked, sizes := map[proto.NetworkRequestID]string{}, map[string][]int{}
	go u.EachEvent(
		func(e *proto.NetworkRequestWillBeSent) {
			if at := strings.TrimPrefix(e.Request.URL, site); strings.HasPrefix(at, "/api/") && !strings.HasPrefix(at, "/api/live") {
				mu.Lock()
				asked[e.RequestID] = e.Request.Method + " " + at
				mu.Unlock()
			}
		},
		func(e *proto.NetworkLoadingFinished) {
			mu.Lock()
			if at, ours := asked[e.RequestID]; ours {
				sizes[at] = append(sizes[at], int(e.EncodedDataLength))
			}
			mu.Unlock()
		})()
	for _, p := range []struct {
		path, ready string
		most        int // bytes
	}{
		{"/trials/4/fire", "[data-testid=fan-PAPER]", 90_000},
		{"/trials/4/plan", "[data-testid=plan-rail]", 40_000},
		{"/", "[data-testid=coming]", 40_000},
	} {
		u.open("about:", "blank", "body")
		mu.Lock()
		clear(sizes)
		mu.Unlock()
		u.open(site, p.path, p.ready)
		u.MustWaitRequestIdle()()
		mu.Lock()
		all := 0
		for at, of := range sizes {
			if len(of) > 1 {
				t.Errorf("%s asks %d times for %s", p.path, len(of), at)
			}
			for _, n := range of {
				all += n
			}
		}
		if len(sizes) < 4 || all == 0 || all > p.most {
			t.Errorf("%s asks for %d bytes in %d answers, want %d at most: %v", p.path, all, len(sizes), p.most, sizes)
		}
		t.Logf("%s: %d bytes in %d answers", p.path, all, len(sizes))
		mu.Unlock()
	}
}

// comesInPlace says that little moved while the page came, which was gone to at a moment of its clock.
func (u user) comesInPlace(path string, since float64) {
	u.t.Helper()
	u.MustWaitRequestIdle()()
	if err := u.Timeout(patience).Wait(rod.Eval(`() => document.fonts.ready.then(() => true)`).ByPromise()); err != nil {
		u.fail("the letters of %s do not come: %v", path, err)
	}
	moved := u.MustEval(`since => new Promise(done => {
		let sum = 0
		window.moved = []
		new PerformanceObserver(l => { for (const e of l.getEntries()) if (!e.hadRecentInput && e.startTime >= since) {
			sum += e.value
			for (const s of e.sources) window.moved.push(
				(s.node?.className?.baseVal ?? s.node?.className ?? s.node?.nodeName) + ' from ' + Math.round(s.previousRect.y) + ' to ' + Math.round(s.currentRect.y))
		} }).observe({ type: 'layout-shift', buffered: true })
		setTimeout(() => done(sum), 300)
	})`, since).Num()
	if moved > 0.1 {
		u.t.Errorf("%s moves by %.2f while it comes, want 0.1 at most: %v", path, moved, u.MustEval(`() => window.moved`))
	}
}
