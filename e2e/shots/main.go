// Command shots takes the pictures of docs/screenshots from a fresh demo:
// go run ./e2e/shots -demo bin/whitebarn
package main

import (
	"bufio"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"whitebarn/internal/demo"
	"whitebarn/internal/testkit/browser"
)

func main() {
	binary := flag.String("demo", "bin/whitebarn", "the built program")
	out := flag.String("out", "docs/screenshots", "folder of the pictures")
	only := flag.String("only", "", "take just the pictures whose names hold this")
	flag.Parse()
	if err := run(*binary, *out, *only); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

type shot struct {
	name, path    string
	width, height int
	script        string // run on the page first
}

// cookDucks imports the example log into the ducks' cook and logs a few acts.
const cookDucks = `async log => {
	const send = (path, body) => fetch('/api' + path, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)}).then(r => r.json())
	const trial = await fetch('/api/trials/2').then(r => r.json())
	const cook = trial.cooks[0], run = cook.runs[0].id
	const targets = {'North Drum (F)': {cut_id: null, pit_run_id: run}}
	for (const c of trial.cuts) targets[c.name + ' (F)'] = {cut_id: c.id, pit_run_id: null}
	const form = new FormData()
	form.append('body', JSON.stringify({logger: 'drum', zone: '', scale: '', date_order: '', fold: '', targets}))
	form.append('file', new File([log], 'duck-legs-log.csv'))
	await fetch('/api/cooks/' + cook.id + '/logs', {method: 'POST', body: form})
	const act = (act, at, cut_ids, pit_run_ids = []) => send('/cooks/' + cook.id + '/events', {act, at, note: '', cut_ids, pit_run_ids, press: crypto.randomUUID()})
	const all = trial.cuts.map(c => c.id)
	await act('lit', '2026-09-27T12:25:00Z', [], [run])
	await act('on', '2026-09-27T13:05:00Z', all)
	await act('wood', '2026-09-27T13:35:00Z', [], [run])
	await act('pull', '2026-09-27T15:45:00Z', all)
	return true
}`

// serveDucks serves one flight; the log shows their minimum.
const serveDucks = `async () => {
	const send = (path, body) => fetch('/api' + path, {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify(body)}).then(r => r.json())
	const trial = await fetch('/api/trials/2').then(r => r.json())
	const people = await fetch('/api/people').then(r => r.json())
	const tasters = trial.tasters.filter(t => t.name !== 'Tove').map(t => t.id)
	await send('/trials/2/flights', {carver_id: people.find(p => p.name === 'Tove').id, pieces: trial.cuts.map(c => ({cut_id: c.id, place: 'thigh'})), water_s: 60, tasters})
	const links = await fetch('/api/trials/2/links').then(r => r.json())
	return links.tasters.find(l => l.taster_id === trial.tasters.find(t => t.name === 'Marisol').id).path
}`

const tapBallot = `async () => {
	document.querySelector('[data-testid=begin]').click()
	await new Promise(r => setTimeout(r, 200))
	const tap = (rule, n) => rule.dispatchEvent(new KeyboardEvent('keydown', {key: String(n), bubbles: true}))
	const rules = [...document.querySelectorAll('[role=slider]')]
	rules.slice(0, -1).forEach((r, i) => tap(r, [7, 6, 4][i % 3]))
	return true
}`

// likely waits until what is to come is drawn.
const likely = `async () => {
	const wait = ms => new Promise(r => setTimeout(r, ms))
	for (let i = 0; i < 60 && !document.querySelector('[data-testid=fan-PAPER]'); i++) await wait(200)
	return true
}`

// changeBram opens what a pitmaster does about somebody.
const changeBram = `async () => {
	document.querySelector('[data-testid=change-Bram]').click()
	return true
}`

var shots = []shot{
	{"barn", "/", 1280, 800, ""},
	{"ask", "/trials/4/ask", 1280, 800, ""},
	{"match", "/trials/4/match", 1280, 800, `() => document.querySelector(".bar").click()`},
	{"plan", "/trials/4/plan", 1280, 800, ""},
	{"prep", "/trials/4/prep", 1280, 800, ""},
	{"bench", "/bench/prep.portions", 1280, 800, ""},
	{"fire-live", "/trials/4/fire", 1280, 800, likely},
	{"fire-phone", "/trials/4/fire", 390, 844, likely},
	{"pits", "/pits", 1280, 800, ""},
	{"holder", "/pits/holders/1", 1280, 800, ""},
	{"rest", "/trials/5/rest", 1280, 800, ""},
	{"table", "/trials/2/table", 1280, 800, ""},
	{"panel", "/trials/3/table", 1280, 1000, ""},
	{"settle", "/trials/3/settle", 1280, 800, ""},
	{"house-book", "/book/cards/1", 1280, 800, ""},
	{"records", "/records", 1280, 800, ""},
	{"crew", "/crew", 1280, 800, changeBram},
	{"know", "/book/know?text=paper+juiciness", 1280, 800, ""},
}

func run(binary, out, only string) error {
	site, stop, err := startDemo(binary)
	if err != nil {
		return err
	}
	defer stop()
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
	log, err := demo.DuckLog()
	if err != nil {
		return err
	}
	first.MustEval(cookDucks, string(log))
	ballot := first.MustEval(serveDucks).Str()
	for _, s := range append(shots, shot{"ballot", ballot, 390, 844, tapBallot}) {
		if !strings.Contains(s.name, only) {
			continue
		}
		p, err := first.Tab(site, s.path, s.width, s.height)
		if err != nil {
			return err
		}
		p.MustWaitRequestIdle()()
		if s.script != "" {
			p.MustEval(s.script)
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

// startDemo runs a demo of its own on a free port and a folder that goes.
func startDemo(binary string) (site string, stop func(), err error) {
	dir, err := os.MkdirTemp("/var/tmp", "white-barn-shots-")
	if err != nil {
		return "", nil, err
	}
	if err := os.Chmod(dir, 0o711); err != nil {
		return "", nil, err
	}
	cmd := exec.Command(binary, "demo", "-addr", "127.0.0.1:0", "-data", filepath.Join(dir, "data"))
	stdout, err := cmd.StdoutPipe()
	if err != nil {
		return "", nil, err
	}
	if err := cmd.Start(); err != nil {
		return "", nil, err
	}
	stop = func() {
		_ = cmd.Process.Signal(syscall.SIGINT)
		_ = cmd.Wait()
		_ = os.RemoveAll(dir)
	}
	lines := bufio.NewScanner(stdout)
	for lines.Scan() {
		if _, address, ok := strings.Cut(lines.Text(), "answers at "); ok {
			return address, stop, nil
		}
	}
	stop()
	return "", nil, fmt.Errorf("%s ended without an address", binary)
}
