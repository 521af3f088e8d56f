package evidence

import (
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/trial"
)

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
	Night   float64 `json:"night"` // of them, at night
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
		minutes := p.Act.Takes(ofPit)
		if p.Minutes != nil {
			minutes = *p.Minutes
		}
		each := minutes / float64(len(p.Cuts))
		night := trial.AtNight(p.At.In(zone))
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

// Hands is the work that hands had with each cut of the trial, by its acts. What
// was done to a pit was done for the cuts in it that were not pulled.
func (t Trial) Hands(zone *time.Location) map[int64]Hands {
	var presses []Press
	for _, a := range t.Acts {
		p := Press{Act: a.Act, At: a.At, Minutes: a.Detail.Minutes}
		switch {
		case a.CutID != 0:
			p.Cuts = []int64{a.CutID}
		case a.PitRunID != 0:
			for _, c := range t.Cuts {
				pull, gone := c.Pulled()
				if s, ok := c.Lies(); ok && s.PitRunID == a.PitRunID && !(gone && pull.Before(a.At)) {
					p.Cuts = append(p.Cuts, c.ID)
				}
			}
		}
		presses = append(presses, p)
	}
	return HandsOn(Presses(presses), zone)
}
