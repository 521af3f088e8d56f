// Package browser drives Debian's Chromium for tests and pictures.
package browser

import (
	"fmt"
	"os"
	"strings"
	"sync"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
	"github.com/go-rod/rod/lib/utils"
)

const binary = "/usr/bin/chromium-headless-shell"

// Browser is a running Chromium.
type Browser struct {
	rod    *rod.Browser
	launch *launcher.Launcher
}

// Start starts a headless Chromium with a profile of its own.
func Start() (*Browser, error) {
	if _, err := os.Stat(binary); err != nil {
		return nil, fmt.Errorf("the browser is not installed: apt-get install chromium-headless-shell")
	}
	profile, err := os.MkdirTemp("", "white-barn-browser-")
	if err != nil {
		return nil, err
	}
	l := launcher.New().Bin(binary).Headless(true).NoSandbox(os.Geteuid() == 0).UserDataDir(profile).Env(append(os.Environ(), "TZ=UTC")...)
	for _, f := range []flags.Flag{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking", "disable-component-update", "disable-sync", "disable-dev-shm-usage", "hide-scrollbars"} {
		l.Set(f)
	}
	l.Set("force-device-scale-factor", "1").Set("lang", "en-US")
	url, err := l.Launch()
	if err != nil {
		return nil, fmt.Errorf("start chromium: %w", err)
	}
	b := rod.New().ControlURL(url).NoDefaultDevice()
	if err := b.Connect(); err != nil {
		l.Kill()
		return nil, fmt.Errorf("connect to chromium: %w", err)
	}
	return &Browser{rod: b, launch: l}, nil
}

// Close ends the browser and removes its profile.
func (b *Browser) Close() {
	_ = b.rod.Close()
	b.launch.Kill()
	b.launch.Cleanup()
}

// Page is a page with a notebook of what went wrong on it.
type Page struct {
	*rod.Page
	keeps bool

	mu      sync.Mutex
	trouble []string
	allowed []string
}

// Page opens an address of a site in a context of its own; sizes are in CSS
// pixels. Everything outside the site counts as trouble. It has no service worker,
// which would fetch all of the site for every context.
func (b *Browser) Page(site, path string, width, height int) (*Page, error) {
	return b.open(site, path, width, height, false)
}

// Keeping opens a page like Page that keeps what it needs while the site is away.
func (b *Browser) Keeping(site, path string, width, height int) (*Page, error) {
	return b.open(site, path, width, height, true)
}

func (b *Browser) open(site, path string, width, height int, keeps bool) (*Page, error) {
	incognito, err := b.rod.Incognito()
	if err != nil {
		return nil, err
	}
	return open(incognito, site, path, width, height, keeps)
}

func open(context *rod.Browser, site, path string, width, height int, keeps bool) (*Page, error) {
	raw, err := context.Page(proto.TargetCreateTarget{URL: "about:blank"})
	if err != nil {
		return nil, err
	}
	raw = raw.Sleeper(func() utils.Sleeper { return utils.BackoffSleeper(5*time.Millisecond, 50*time.Millisecond, nil) })
	p := &Page{Page: raw, keeps: keeps}
	if err := raw.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1, Mobile: width < 600}); err != nil {
		return nil, err
	}
	if err := (proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: "prefers-reduced-motion", Value: "reduce"}}}).Call(raw); err != nil {
		return nil, err
	}
	if !keeps {
		if _, err := raw.EvalOnNewDocument(`delete Navigator.prototype.serviceWorker`); err != nil {
			return nil, err
		}
	}
	p.watch(site)
	if err := raw.Navigate(site + path); err != nil {
		return nil, err
	}
	return p, raw.WaitLoad()
}

// watch notes console errors, exceptions, failed requests and foreign hosts.
func (p *Page) watch(site string) {
	for _, enable := range []interface{ Call(proto.Client) error }{proto.RuntimeEnable{}, proto.LogEnable{}, proto.NetworkEnable{}} {
		_ = enable.Call(p.Page)
	}
	var mu sync.Mutex
	urls := map[proto.NetworkRequestID]string{}
	go p.EachEvent(
		func(e *proto.RuntimeConsoleAPICalled) {
			if e.Type == proto.RuntimeConsoleAPICalledTypeError || e.Type == proto.RuntimeConsoleAPICalledTypeWarning || e.Type == proto.RuntimeConsoleAPICalledTypeAssert {
				var words []string
				for _, a := range e.Args {
					if a.Value.Nil() {
						words = append(words, a.Description)
					} else {
						words = append(words, a.Value.String())
					}
				}
				p.note("console %s: %s", e.Type, strings.Join(words, " "))
			}
		},
		func(e *proto.RuntimeExceptionThrown) {
			text := e.ExceptionDetails.Text
			if e.ExceptionDetails.Exception != nil {
				text += " " + e.ExceptionDetails.Exception.Description
			}
			p.note("exception: %s", text)
		},
		func(e *proto.LogEntryAdded) {
			if e.Entry.Level == proto.LogLogEntryLevelError && e.Entry.Source != proto.LogLogEntrySourceNetwork {
				p.note("log: %s", e.Entry.Text)
			}
		},
		func(e *proto.NetworkRequestWillBeSent) {
			mu.Lock()
			urls[e.RequestID] = e.Request.Method + " " + e.Request.URL
			mu.Unlock()
			if u := e.Request.URL; !strings.HasPrefix(u, site+"/") && !strings.HasPrefix(u, "data:") && !strings.HasPrefix(u, "blob:") && u != "about:blank" {
				p.note("request outside the barn: %s", u)
			}
		},
		func(e *proto.NetworkResponseReceived) {
			if e.Response.Status >= 400 {
				mu.Lock()
				defer mu.Unlock()
				p.note("%s answered %d", urls[e.RequestID], e.Response.Status)
			}
		},
		func(e *proto.NetworkLoadingFailed) {
			if !e.Canceled {
				mu.Lock()
				defer mu.Unlock()
				p.note("%s failed: %s", urls[e.RequestID], e.ErrorText)
			}
		},
	)()
}

func (p *Page) note(format string, v ...any) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.trouble = append(p.trouble, fmt.Sprintf(format, v...))
}

// Expect lets trouble that holds the text pass: a test that provokes a refusal
// says so.
func (p *Page) Expect(text string) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.allowed = append(p.allowed, text)
}

// Trouble lists what went wrong and was not expected.
func (p *Page) Trouble() []string {
	p.mu.Lock()
	defer p.mu.Unlock()
	var out []string
	for _, t := range p.trouble {
		expected := false
		for _, a := range p.allowed {
			expected = expected || strings.Contains(t, a)
		}
		if !expected {
			out = append(out, t)
		}
	}
	return out
}

// Tab opens another page in the same context, signed in alike.
func (p *Page) Tab(site, path string, width, height int) (*Page, error) {
	return open(p.Browser(), site, path, width, height, p.keeps)
}
