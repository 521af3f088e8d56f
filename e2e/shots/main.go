// Command shots takes the pictures of docs/screenshots from a running demo:
// go run ./e2e/shots -site http://127.0.0.1:8080
package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"whitebarn/internal/demo"
	"whitebarn/internal/testkit/browser"
)

func main() {
	site := flag.String("site", "http://127.0.0.1:8080", "the running demo")
	out := flag.String("out", "docs/screenshots", "folder of the pictures")
	only := flag.String("only", "", "take just the pictures whose names hold this")
	flag.Parse()
	if err := run(*site, *out, *only); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

type shot struct {
	name, path    string
	width, height int
	prepare       string // script run on the page first
}

var shots = []shot{
	{"barn", "/", 1280, 800, ""},
	{"ask", "/trials/3/ask", 1280, 800, ""},
	{"match", "/trials/3/match", 1280, 800, ""},
	{"plan", "/trials/3/plan", 1280, 800, ""},
	{"prep", "/trials/2/prep", 1280, 800, ""},
	{"fire", "/trials/3/fire", 1280, 800, ""},
	{"fire-night", "/trials/3/fire", 1280, 800, `() => document.documentElement.dataset.theme = 'night'`},
	{"fire-phone", "/trials/2/fire", 390, 844, ""},
	{"rest", "/trials/3/rest", 1280, 800, ""},
	{"yields", "/trials/3/rest", 1280, 800, `() => document.querySelector('[data-testid=switch]').click()`},
	{"table", "/trials/3/table", 1280, 800, ""},
	{"settle", "/trials/3/settle", 1280, 800, ""},
	{"crew", "/crew", 1280, 800, ""},
}

func run(site, out, only string) error {
	b, err := browser.Start()
	if err != nil {
		return err
	}
	defer b.Close()
	first, err := b.Page(site, "/", 1280, 800)
	if err != nil {
		return err
	}
	first.MustElement("#sign-in").MustInput("odalys")
	first.MustElement("#password").MustInput(demo.Password)
	first.MustElement("button[type=submit]").MustClick()
	first.MustElement(".sky")
	for _, s := range shots {
		if !strings.Contains(s.name, only) {
			continue
		}
		p, err := first.Tab(site, s.path, s.width, s.height)
		if err != nil {
			return err
		}
		p.MustWaitRequestIdle()()
		if s.prepare != "" {
			p.MustEval(s.prepare)
		}
		p.MustEval(`() => document.fonts.ready.then(() => true)`)
		time.Sleep(700 * time.Millisecond) // charts measure themselves, then ask for their readings
		png, err := p.Screenshot(false, nil)
		if err != nil {
			return err
		}
		if err := os.WriteFile(filepath.Join(out, s.name+".png"), png, 0o644); err != nil {
			return err
		}
		for _, t := range p.Trouble() {
			fmt.Println(s.name, t)
		}
		p.MustClose()
	}
	return nil
}
