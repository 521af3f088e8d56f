package phase

import (
	"fmt"
	"strconv"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/units"
)

// Resolve reads what was typed of a phase into numbers.
func (p *Phase) Resolve() error {
	var wrong fault.List
	if p.SetTyped != "" {
		t, err := units.ParseTemperature(p.SetTyped)
		wrong.Take("set_typed", err)
		p.SetC, p.SetTyped = t.C, t.Typed
	}
	for i := range p.Parcel {
		wrong.Take(fmt.Sprintf("parcel[%d]", i), p.Parcel[i].Resolve())
	}
	if len(p.Parcel) > 0 {
		p.LiquidG = logbook.ParcelG(p.Parcel)
	}
	for i := range p.Ends {
		e := &p.Ends[i]
		var err error
		switch e.Watch {
		case ByTime, GivenUp:
			var s units.Span
			s, err = units.ParseSpan(e.Typed)
			e.Value, e.Typed = s.S, s.Typed
		case ByCore, ByCooling, BySurface, ByOil:
			var t units.Temperature
			t, err = units.ParseTemperature(e.Typed)
			e.Value, e.Typed = t.C, t.Typed
		case ByLoss:
			var v float64
			if v, err = strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(e.Typed), "%")), 64); err != nil {
				err = fault.New("", fmt.Sprintf("%q is no share of the weight", e.Typed), `write it like "35 %"`)
			}
			e.Value = v / 100
		default:
			e.Value, e.Typed = 0, ""
		}
		wrong.Take(fmt.Sprintf("ends[%d].typed", i), err)
	}
	return wrong.Err()
}

// PullEnd is the core temperature at which an arm's last phase in the pit
// ends, and where it is read; ok is false when it ends by something else. A phase that the
// clock or a look alone ends, as a glaze after the core was reached, leaves it as it was.
func PullEnd(phases []Phase) (end End, ok bool) {
	for _, p := range AtFire(phases) {
		if p.unread() && ok {
			continue
		}
		end, ok = End{}, false
		for _, e := range p.Ends {
			if e.Watch == ByCore && e.Value >= end.Value {
				end, ok = e, true
			}
		}
	}
	return end, ok
}

// unread says whether a phase ends by nothing that is read in the meat.
func (p Phase) unread() bool {
	for _, e := range p.Ends {
		if e.Watch != ByTime && e.Watch != ByLook && e.Watch != GivenUp && e.Watch != BySurface && e.Watch != ByOil {
			return false
		}
	}
	return true
}

// PullCore is that temperature alone.
func PullCore(phases []Phase) (c float64, ok bool) {
	end, ok := PullEnd(phases)
	return end.Value, ok
}
