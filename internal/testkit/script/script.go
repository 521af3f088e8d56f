// Package script runs the plain TypeScript modules of the front end in an embedded JavaScript
// engine: their clock, timers and time zones are the test's.
package script

import (
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/dop251/goja"
	"github.com/evanw/esbuild/pkg/api"
)

// Page is a page without a browser: modules, and a clock that moves when the test says so.
type Page struct {
	t      testing.TB
	vm     *goja.Runtime
	now    time.Time
	timers []timer
	made   int64
}

type timer struct {
	id int64
	at time.Time
	f  goja.Callable
}

// root is web/src: tests run in a folder of the module.
func root(t testing.TB) string {
	t.Helper()
	dir, err := filepath.Abs(".")
	if err != nil {
		t.Fatal(err)
	}
	for ; ; dir = filepath.Dir(dir) {
		if _, err := os.Stat(filepath.Join(dir, "go.mod")); err == nil {
			return filepath.Join(dir, "web", "src")
		}
		if dir == filepath.Dir(dir) {
			t.Fatal("the test does not run in a folder of the module")
		}
	}
}

// Load opens a page, at a time, whose global m has all that modules of web/src export, as
// "ui/outbox". A module that needs a package, or a browser, fails the test.
func Load(t testing.TB, at time.Time, modules ...string) *Page {
	t.Helper()
	var entry strings.Builder
	for _, m := range modules {
		entry.WriteString("export * from './" + m + "'\n")
	}
	dir := root(t)
	built := api.Build(api.BuildOptions{
		Stdin:  &api.StdinOptions{Contents: entry.String(), ResolveDir: dir, Loader: api.LoaderTS},
		Bundle: true, Format: api.FormatIIFE, GlobalName: "m", Target: api.ES2017, Packages: api.PackagesExternal,
	})
	if len(built.Errors) > 0 {
		t.Fatalf("%v cannot be bundled: %s", modules, built.Errors[0].Text)
	}
	p := &Page{t: t, vm: goja.New(), now: at}
	p.vm.SetTimeSource(func() time.Time { return p.now })
	p.set("setTimeout", p.later)
	p.set("clearTimeout", p.forget)
	p.set("Intl", map[string]any{"DateTimeFormat": p.formatter})
	p.Run(string(built.OutputFiles[0].Contents))
	return p
}

func (p *Page) set(name string, v any) {
	if err := p.vm.Set(name, v); err != nil {
		p.t.Fatal(err)
	}
}

// Run runs a script, and what it promised.
func (p *Page) Run(js string) goja.Value {
	p.t.Helper()
	v, err := p.vm.RunString(js)
	if err != nil {
		p.t.Fatalf("%.200s: %v", js, err)
	}
	return v
}

// Give makes a value of the test known to scripts under a name.
func (p *Page) Give(name string, v any) {
	p.t.Helper()
	text, err := json.Marshal(v)
	if err != nil {
		p.t.Fatal(err)
	}
	p.Run(name + " = " + string(text))
}

// Ask is what a script answers, as JSON has it.
func Ask[T any](p *Page, js string) (out T) {
	p.t.Helper()
	v := p.Run("JSON.stringify(" + js + ")")
	if goja.IsUndefined(v) {
		p.t.Fatalf("%s answers nothing", js)
	}
	if err := json.Unmarshal([]byte(v.String()), &out); err != nil {
		p.t.Fatalf("%s answers %s: %v", js, v, err)
	}
	return out
}

// Pass lets time go by: timers that are due meanwhile run at their own moments, in order.
func (p *Page) Pass(d time.Duration) {
	p.t.Helper()
	end := p.now.Add(d)
	for {
		i := -1
		for n, t := range p.timers {
			if !t.at.After(end) && (i < 0 || t.at.Before(p.timers[i].at)) {
				i = n
			}
		}
		if i < 0 {
			break
		}
		due := p.timers[i]
		p.timers = slices.Delete(p.timers, i, i+1)
		p.now = due.at
		if _, err := due.f(goja.Undefined()); err != nil {
			p.t.Fatal(err)
		}
	}
	p.now = end
}

func (p *Page) later(f goja.Callable, ms float64) int64 {
	p.made++
	p.timers = append(p.timers, timer{p.made, p.now.Add(time.Duration(ms * float64(time.Millisecond))), f})
	return p.made
}

func (p *Page) forget(id int64) {
	p.timers = slices.DeleteFunc(p.timers, func(t timer) bool { return t.id == id })
}

// formatter stands for the part of Intl that the clock asks: the parts of a moment in a zone.
func (p *Page) formatter(call goja.ConstructorCall) *goja.Object {
	zone, err := time.LoadLocation(call.Argument(1).ToObject(p.vm).Get("timeZone").String())
	if err != nil {
		panic(p.vm.NewGoError(err))
	}
	moment := func(v goja.Value) time.Time {
		ms := v.ToObject(p.vm).Get("getTime")
		get, _ := goja.AssertFunction(ms)
		at, err := get(v)
		if err != nil {
			panic(err)
		}
		return time.UnixMilli(at.ToInteger()).In(zone)
	}
	type part struct {
		Type  string `json:"type"`
		Value string `json:"value"`
	}
	out := p.vm.NewObject()
	_ = out.Set("format", func(v goja.Value) string { return moment(v).Format("Mon 2 Jan") })
	_ = out.Set("formatToParts", func(v goja.Value) goja.Value {
		t := moment(v)
		var parts []part
		for name, layout := range map[string]string{"year": "2006", "month": "01", "day": "02", "hour": "15", "minute": "04", "second": "05"} {
			parts = append(parts, part{name, t.Format(layout)})
		}
		text, _ := json.Marshal(parts)
		list, err := p.vm.RunString("(" + string(text) + ")")
		if err != nil {
			panic(err)
		}
		return list
	})
	return out
}
