package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// crew counts what the hands of a user do.
type crew struct {
	user
	clicks, keys int
}

func (c *crew) tap(selector string) {
	c.t.Helper()
	c.clicks++
	c.user.click(selector)
}

// write types into a field that has the focus by a click or by Tab.
func (c *crew) write(selector, text string) {
	c.t.Helper()
	c.keys += len(text)
	c.user.fill(selector, text)
}

// tab goes to the field and writes there.
func (c *crew) tab(selector, text string) {
	c.t.Helper()
	c.keys++
	c.write(selector, text)
}

// send writes and presses Enter.
func (c *crew) send(selector, text string) {
	c.t.Helper()
	c.keys += len(text) + 1
	c.user.enter(selector, text)
}

func (c *crew) press(keys ...input.Key) {
	c.t.Helper()
	c.keys += len(keys)
	c.user.key(keys...)
}

// pick opens a list and picks of it.
func (c *crew) pick(selector, option string) {
	c.t.Helper()
	c.clicks += 2
	c.user.choose(selector, option)
}

// on goes on to the next step.
func (c *crew) on(step string) {
	c.t.Helper()
	c.clicks++
	c.user.click("[data-testid=step-on]")
	c.user.at(step)
}

// TestTheFirstEvening takes an empty barn to a verdict by clicks and keys alone: two arms,
// four pairs, one cook that is logged by hand, four tasters, whose ballots are sealed. What the
// crew has to do is counted, and the gate asks nothing of them.
func TestTheFirstEvening(t *testing.T) {
	t.Parallel()
	address, s := serve(t)
	c := &crew{user: open(t, address, "/", 1280, 800)}
	if err := (proto.EmulationSetTimezoneOverride{TimezoneID: evening().String()}).Call(c.Page.Page); err != nil {
		t.Fatal(err)
	}
	c.MustReload()

	c.write("#barn", "Hill")
	c.tab("#name", "Odalys")
	c.keys++ // Tab past the sign-in, which is the name
	c.keys++
	c.send("#password", "hornbeam at 7")
	c.see("[data-testid=ways-in]", "Look around a demo")
	c.tap("[data-testid=way-wrap]")

	c.see("[data-testid=can-answer]", "It can answer")
	c.clicks++
	c.write("#product", "lamb shoulder")
	c.tab("#cut", "shoulder")
	c.pick("[data-testid=species]", "red meat")
	c.pick("[data-testid=handling]", "whole muscle")
	c.tap("[data-testid=keep-ask]")
	c.at("match")

	c.see("h1", "Hang the first cut.")
	for i, weight := range []string{"5 2", "5 4", "4 15", "5 1", "5 0", "4 14", "5 3", "5 5"} {
		if i == 0 {
			c.clicks++
		}
		c.send("#cut-trimmed", weight)
		c.hung(i + 1)
	}
	c.clicks++ // out of the field
	c.MustEval(`() => document.activeElement.blur()`)
	c.press(input.KeyD)
	c.see("[data-testid=last-draw]", "Drawn by lot")

	c.on("plan")
	c.clicks++
	c.write(`input[aria-label="New pit"]`, "Drum")
	c.tap("[data-testid=add-pit]")
	c.see("[data-testid=pit-0]", "Drum")
	c.tab("#set0", "250")
	c.clicks++ // a table that was set an hour ago is said to be
	c.send(`input[aria-label="On the table, clock"]`, "1700")
	c.see("[data-testid=past]", "which is past")
	c.send(`input[aria-label="On the table, clock"]`, "1930")
	c.gone("[data-testid=past]")
	c.tap("[data-testid=keep-cook]")
	c.see("aside", "8 cuts")

	c.on("prep")
	c.on("fire")
	at := func(clock string) {
		c.tap("[data-testid=when]")
		c.clicks++
		c.send(`input[aria-label="Time of the act, clock"]`, clock)
	}
	logged := func(n int) {
		if err := c.Timeout(patience).Wait(rodCount("[data-testid=event-log] tr", n)); err != nil {
			c.fail("the log does not come to %d presses: %v", n, err)
		}
	}
	at("1200")
	c.press(input.KeyO)
	logged(1)
	reads := func(clock, degrees string) {
		at(clock)
		c.press(input.KeyR)
		for n := range 8 {
			c.see("[data-testid=group-read]", fmt.Sprintf("%d of 8 read", n))
			c.send("input[data-now]", degrees)
		}
		c.gone("[data-testid=group-read]")
	}
	reads("1500", "155")
	logged(9)
	reads("1750", "203")
	logged(17)
	c.see("[data-testid=last-entry]", "17:50 Read")
	at("1755")
	c.press(input.KeyP)
	logged(18)
	c.see("nav", "8 of 8 cuts pulled")

	c.on("rest")
	// What was read at the fire stands: nothing is asked for again.
	c.see("[data-testid=cut-1L] .gate", "open")
	c.see("[data-testid=gate]", "Not carved yet: 1L, 1R")
	if said := c.find("[data-testid=gate]").MustText(); strings.Contains(said, "To be read") || strings.Contains(said, "Shut") {
		t.Errorf("after an ordinary night the gate says %q", said)
	}
	for i, off := range []string{"3 6", "3 7", "3 4", "3 5", "3 4", "3 3", "3 6", "3 8"} {
		if i == 0 {
			c.clicks++
		}
		c.send(fmt.Sprintf(`input[aria-label="Weight off the pit of %d%c"]`, i/2+1, "LR"[i%2]), off)
		c.see("nav", fmt.Sprintf("%d of 8 cuts weighed", i+1)) // the next is typed once it is kept
	}

	c.on("table")
	for i, name := range []string{"Ife", "Bram", "Tove", "Joren"} {
		if i == 0 {
			c.clicks++
		}
		c.send("[data-testid=taster-name]", name)
		c.see("article", name)
	}
	c.tap("[data-testid=prepare-flight]")
	c.see("[data-testid=carver]", "Odalys")
	c.tap("[data-testid=serve]")
	c.see("[data-testid=flight]", "6 samples, carved by Odalys")

	tasters, err := s.Tasters(t.Context(), 1)
	if err != nil || len(tasters) != 4 {
		t.Fatalf("%d tasters (%v), want four", len(tasters), err)
	}
	for _, taster := range tasters {
		n := 4
		sealScores(t, s, taster.ID, func(string) map[string]int {
			n++
			return map[string]int{"juiciness": 5 + n%3, "tenderness": 5 + n%3, "bark": 5 + n%3, "overall": 5 + n%3, "smoke": 5}
		})
	}
	if err := s.NotifyChange(t.Context(), 1, "table"); err != nil {
		t.Fatal(err)
	}
	c.see("aside", "4 of 4")
	if pieces, err := s.Flights(t.Context(), 1); err != nil || len(pieces) != 1 {
		t.Errorf("served were %+v (%v)", pieces, err)
	}
	if struck, err := s.StruckOf(t.Context(), 1); err != nil || len(struck) > 0 {
		t.Errorf("struck are %+v (%v)", struck, err)
	}
	c.tap("[data-testid=reveal]")
	c.tap("[data-testid=reveal-sure]")
	c.at("settle")
	c.see("[data-testid=headline]", ".")
	t.Logf("the crew's %d clicks and %d keys", c.clicks, c.keys)
	const mostClicks, mostKeys = 45, 300
	if c.clicks > mostClicks || c.keys > mostKeys {
		t.Errorf("the first evening takes %d clicks and %d keys, want %d and %d at most", c.clicks, c.keys, mostClicks, mostKeys)
	}
}
