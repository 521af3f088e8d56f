package logbook

import "time"

// Entry is an act on one target by one hand.
type Entry struct {
	ID     int64
	Act    Act
	At     time.Time
	Target string
	By     string
	Press  string
}

// Clash is the same act on the same target, logged by two hands at about the
// same time: one of the two is likely too many, and a person says which.
type Clash struct {
	First  int64 `json:"first"`
	Second int64 `json:"second"`
}

// clashWithin is how near in time two hands mean the same thing.
const clashWithin = 2 * time.Minute

// SameTime says whether two moments are that near.
func SameTime(a, b time.Time) bool { return a.Sub(b).Abs() <= clashWithin }

// ClashesOf finds them among events in order of time. Notes, photos and
// readings may well be many.
func ClashesOf(events []Entry) []Clash {
	out := []Clash{}
	for i, a := range events {
		if row, _ := a.Act.Row(); row.Many {
			continue
		}
		for _, b := range events[i+1:] {
			if !SameTime(a.At, b.At) {
				break
			}
			if a.Act == b.Act && a.Target == b.Target && a.By != b.By && a.Press != b.Press {
				out = append(out, Clash{a.ID, b.ID})
			}
		}
	}
	return out
}
