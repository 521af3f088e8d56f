package plan

import (
	"slices"
	"time"

	"whitebarn/core/logbook"
)

// logged are the acts of the fire as a plan has them.
var logged = map[logbook.Act]Act{
	logbook.Lit: ActLight, logbook.On: ActOn, logbook.Spritz: ActSpritz, logbook.Wood: ActWood, logbook.Wrap: ActWrap,
	logbook.Unwrap: ActUnwrap, logbook.Pull: ActPull, logbook.Hold: ActHold, logbook.Carve: ActSlice, logbook.Probe: ActCheck,
}

// ActOf is an act of the log as a plan has it; ok is false for one that no
// plan sees coming.
func ActOf(a logbook.Act) (act Act, ok bool) {
	act, ok = logged[a]
	return act, ok
}

// takesToo is takes for the acts that no plan sees coming (ours). A note or a
// photo is taken in passing.
var takesToo = map[logbook.Act][2]float64{
	logbook.Fuel: {5, 0}, logbook.Lid: {1, 0}, logbook.Vent: {1, 0}, logbook.Water: {3, 0}, logbook.Move: {1, 1},
	logbook.Bark: {1, 0.25}, logbook.Spot: {1, 0}, logbook.Note: {}, logbook.Photo: {},
}

// LoggedMinutes is how long an act that was logged on so many cuts takes a
// pair of hands, where nobody said otherwise.
func LoggedMinutes(a logbook.Act, cuts int) float64 {
	if act, ok := ActOf(a); ok {
		return Minutes(act, cuts)
	}
	return takesToo[a][0] + takesToo[a][1]*float64(cuts)
}

// Press is one press of a pad: an act on some cuts at once. What is done to a
// pit is done for the cuts that stand in it.
type Press struct {
	Act     logbook.Act
	At      time.Time
	Cuts    []int64
	Minutes *float64 // as somebody said; nil for the usual
}

// Hands is the work that hands had with a cut, min.
type Hands struct {
	Minutes float64 `json:"minutes"`
	Night   float64 `json:"night"` // of them, between 23:00 and 06:00
}

// HandsOn shares the hands' work out among the cuts it was for, equally within a
// press. Night is by the clock of the zone.
func HandsOn(presses []Press, zone *time.Location) map[int64]Hands {
	out := map[int64]Hands{}
	for _, p := range presses {
		if len(p.Cuts) == 0 {
			continue
		}
		ofPit := 0
		if !p.Act.OfPit() {
			ofPit = len(p.Cuts)
		}
		minutes := LoggedMinutes(p.Act, ofPit)
		if p.Minutes != nil {
			minutes = *p.Minutes
		}
		each := minutes / float64(len(p.Cuts))
		night := atNight(p.At.In(zone))
		for _, cut := range p.Cuts {
			h := out[cut]
			h.Minutes += each
			if night {
				h.Night += each
			}
			out[cut] = h
		}
	}
	return out
}

// Presses puts together what one press wrote: the same act at the same moment.
func Presses(in []Press) []Press {
	var out []Press
	for _, p := range in {
		i := slices.IndexFunc(out, func(q Press) bool { return q.Act == p.Act && q.At.Equal(p.At) })
		if i < 0 {
			p.Cuts = slices.Clone(p.Cuts)
			out = append(out, p)
			continue
		}
		for _, c := range p.Cuts {
			if !slices.Contains(out[i].Cuts, c) {
				out[i].Cuts = append(out[i].Cuts, c)
			}
		}
	}
	return out
}
