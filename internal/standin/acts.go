package standin

import (
	"fmt"
	"time"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
)

// acts are what can be done to the barn.
var acts = map[string]func(*Barn, Event, func(Reading)) error{
	doLid: onPit(func(b *Barn, p *pit, e Event) { p.lidUntil = b.now + max(e.For.Seconds(), 40) }),
	doFuel: onPit(func(b *Barn, p *pit, e Event) {
		p.fuel += kilograms(e.Fuel, 1.5)
		if p.script.Control == bySplits {
			p.splits = append(p.splits, b.now)
		}
		p.lidUntil = max(p.lidUntil, b.now+20)
	}),
	doLight:  onPit(func(b *Barn, p *pit, _ Event) { p.script.Light = min(p.script.Light, Duration(b.now*1e9)) }),
	doSet:    onPit(func(_ *Barn, p *pit, e Event) { p.setC = celsius(e.SetTo, p.setC) }),
	doOn:     onCut(func(_ *Barn, c *piece, _ Event) { c.move(inPit) }),
	doWrap:   onCut(func(_ *Barn, c *piece, e Event) { c.cover(e.With) }),
	doUnwrap: onCut(func(_ *Barn, c *piece, _ Event) { c.wrap = "none" }),
	doSpritz: onCut(func(_ *Barn, c *piece, _ Event) { c.spritz += spritzAmount }),
	doPull:   onCut(func(b *Barn, c *piece, _ Event) { c.pull(b) }),
	doHold:   onCut(func(b *Barn, c *piece, _ Event) { c.hold(b) }),
	doSlip:   onCut(func(_ *Barn, c *piece, _ Event) { c.slipped = true }),
	doMend:   onCut(func(_ *Barn, c *piece, _ Event) { c.slipped, c.script.Probe.Slip = false, 0 }),
	doOil:    onCut(func(b *Barn, c *piece, e Event) { c.stand(inOil, b.now+max(e.For.Seconds(), 60), celsius(e.Heat, 177)) }),
	doTorch:  onCut(func(b *Barn, c *piece, e Event) { c.stand(underTorch, b.now+max(e.For.Seconds(), 60), 0) }),
	doMove:   move,
	doFry:    fry,
	doChill:  onCut(func(_ *Barn, c *piece, _ Event) { c.where, c.wrap = inFridge, "none" }),
	doWeigh:  weigh,
}

// move takes a cut, or all, into another pit.
func move(b *Barn, e Event, out func(Reading)) error {
	if b.script.pitNamed(e.To) < 0 {
		return fault.New("to", fmt.Sprintf("there is no pit %q", e.To), "give one of the script's pits")
	}
	return onCut(func(_ *Barn, c *piece, e Event) { c.script.Pit, c.where = e.To, inPit })(b, e, out)
}

// oilFalls is by how much a kettle of oil falls as a piece goes in, C.
const oilFalls = 9.0

// fry drops a cut into the kettle of the barn, which falls by it; without one into oil of
// the heat that is said, for a while.
func fry(b *Barn, e Event, out func(Reading)) error {
	for i, p := range b.script.Pits {
		if p.Kind == "oil" {
			return onCut(func(b *Barn, c *piece, _ Event) {
				c.script.Pit, c.where, c.wrap = p.Name, inPit, "none"
				b.pits[i].air -= oilFalls
			})(b, e, out)
		}
	}
	e.For = max(e.For, Duration(usualFry))
	return onCut(func(b *Barn, c *piece, e Event) { c.stand(inOil, b.now+e.For.Seconds(), celsius(e.Heat, 177)) })(b, e, out)
}

const usualFry = 4 * time.Minute

func onPit(f func(*Barn, *pit, Event)) func(*Barn, Event, func(Reading)) error {
	return func(b *Barn, e Event, _ func(Reading)) error {
		i := b.script.pitNamed(e.Pit)
		if i < 0 {
			return fault.New("pit", fmt.Sprintf("there is no pit %q", e.Pit), "give one of the script's pits")
		}
		f(b, b.pits[i], e)
		return nil
	}
}

// onCut does something to one cut, or to all when none is named.
func onCut(f func(*Barn, *piece, Event)) func(*Barn, Event, func(Reading)) error {
	return func(b *Barn, e Event, _ func(Reading)) error {
		found := false
		for _, c := range b.cuts {
			if e.Cut == "" || c.script.Name == e.Cut {
				f(b, c, e)
				found = true
			}
		}
		if !found {
			return fault.New("cut", fmt.Sprintf("there is no cut %q", e.Cut), "give one of the script's cuts")
		}
		return nil
	}
}

// weigh puts a cut on the scale.
func weigh(b *Barn, e Event, out func(Reading)) error {
	if b.script.Scale != "" {
		step := 0.005 // kg
		kg := b.Cut(e.Cut).Kg
		out(Reading{Channel: b.script.Scale, At: b.Now(), Weight: true, Value: float64(int(kg/step+0.5)) * step})
	}
	return nil
}

func (b *Barn) do(e Event, out func(Reading)) error { return acts[e.Do](b, e, out) }

func (c *piece) move(to where) {
	if c.where == inFridge || to != inPit {
		c.where = to
	}
}

// cover wraps a cut in what is named, or in its own wrap, or in foil.
func (c *piece) cover(with string) {
	for _, key := range []string{with, c.script.Wrap, "foil"} {
		if _, err := thermal.WrapOf(key); err == nil && key != "none" {
			c.wrap = key
			return
		}
	}
}

func (c *piece) hold(b *Barn) {
	c.pull(b)
	if len(b.holders) > 0 {
		c.where = inHolder
	}
}

func (c *piece) stand(in where, until, heat float64) {
	c.where, c.stage, c.stageAt, c.wrap = in, until, heat, "none"
}
