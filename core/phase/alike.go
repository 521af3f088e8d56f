package phase

import "math"

// Alike says whether cooks of these phases are of the same kind: wrapped in
// the same at the end, at about the same heat, and pulled for the same reason.
func Alike(a, b []Phase) bool {
	last := func(phases []Phase) (p Phase, ok bool) {
		for _, q := range AtFire(phases) {
			p, ok = q, true
		}
		return p, ok
	}
	p, ok := last(a)
	q, ok2 := last(b)
	if !ok || !ok2 || len(p.Ends) != len(q.Ends) || p.All != q.All || p.Bare() != q.Bare() || !p.Bare() && p.Wrap != q.Wrap ||
		p.Kind != q.Kind || math.Abs(p.SetC-q.SetC) > alikeHeat {
		return false
	}
	for i, e := range p.Ends {
		f := q.Ends[i]
		if e.Watch != f.Watch || (e.Watch == ByCore || e.Watch == ByCooling || e.Watch == BySurface) && math.Abs(e.Value-f.Value) > alikeCore ||
			(e.Watch == ByTime || e.Watch == ByLoss || e.Watch == GivenUp) && e.Value != f.Value {
			return false
		}
	}
	return true
}

// Cooks no further apart than this are of one kind.
const (
	alikeHeat = 8.0 // C, of the pit
	alikeCore = 2.0 // C, of the core it is pulled at
)
