// Package alarm says what a crew must be told of at the fire: a pit out of its
// band, a dead fire, a core at its target, a finish too late for the table, a
// safety clock, a silent probe, a holder too cool. An alarm is raised once, once it is
// sure, and goes when its cause has gone for a while: no storms, no flutter.
package alarm

import (
	"slices"
	"time"
)

// Kind is what an alarm is about.
type Kind string

// The kinds of alarm.
const (
	PitLow    Kind = "pit low"
	PitHigh   Kind = "pit high"
	DeadFire  Kind = "dead fire"
	AtTarget  Kind = "at target"
	TooLate   Kind = "too late"
	Danger    Kind = "danger range"
	Silent    Kind = "probe silent"
	HolderLow Kind = "holder low"
	ComeUp    Kind = "come-up"
	Cooling   Kind = "after cooking"
)

// Values lists the kinds.
func (Kind) Values() []string {
	return []string{string(PitLow), string(PitHigh), string(DeadFire), string(AtTarget), string(TooLate), string(Danger), string(Silent),
		string(HolderLow), string(ComeUp), string(Cooling)}
}

// Level is how loud an alarm is.
type Level string

// The levels: a word, a chime, an alarm.
const (
	Note  Level = "note"
	Watch Level = "watch"
	Grave Level = "alarm"
)

// Values lists the levels.
func (Level) Values() []string { return []string{string(Note), string(Watch), string(Grave)} }

// Sight is what is seen of one thing for one kind of alarm.
type Sight struct {
	Kind    Kind
	Subject string // what it is about, for instance "pit run 4" or "cut 12"
	Level   Level
	Holds   bool   // the cause is there
	Gone    bool   // it is gone by a margin; between the two nothing changes
	Words   string // what, how bad, what next; {C:93.3} and {dC:5} are for the reader's units
}

// State is what is remembered of a kind of alarm of a subject.
type State struct {
	Kind    Kind
	Subject string
	Since   time.Time // the cause has been there since; zero when it is not
	Left    time.Time // and gone since
	Raised  bool
	Level   Level // it was raised at
}

// sureAfter is how long a cause must be there before it is told of, and
// goneAfter how long it must be gone before it is over.
var sureAfter = map[Kind]time.Duration{PitLow: 5 * time.Minute, PitHigh: 5 * time.Minute, HolderLow: 10 * time.Minute, TooLate: 2 * time.Minute}

const goneAfter = 3 * time.Minute

// Change is an alarm that is raised, grows louder, or is over.
type Change struct {
	Sight
	Raised bool // else it is over
}

// Step goes on from what was known to what is seen now. What is not seen any
// more, a cut that was pulled for instance, is over. The order of the changes
// is that of the sights.
func Step(known []State, seen []Sight, now time.Time) (after []State, changes []Change) {
	for _, s := range seen {
		i := slices.IndexFunc(known, func(k State) bool { return k.Kind == s.Kind && k.Subject == s.Subject })
		k := State{Kind: s.Kind, Subject: s.Subject}
		if i >= 0 {
			k = known[i]
		}
		switch {
		case s.Holds:
			k.Left = time.Time{}
			if k.Since.IsZero() {
				k.Since = now
			}
			louder := k.Raised && s.Level == Grave && k.Level != Grave
			if (!k.Raised || louder) && now.Sub(k.Since) >= sureAfter[s.Kind] {
				k.Raised, k.Level = true, s.Level
				changes = append(changes, Change{s, true})
			}
		case s.Gone:
			k.Since = time.Time{}
			if k.Left.IsZero() {
				k.Left = now
			}
			if k.Raised && now.Sub(k.Left) >= goneAfter {
				k.Raised = false
				changes = append(changes, Change{s, false})
			}
		}
		after = append(after, k)
	}
	for _, k := range known {
		still := slices.ContainsFunc(seen, func(s Sight) bool { return k.Kind == s.Kind && k.Subject == s.Subject })
		if !still && k.Raised {
			changes = append(changes, Change{Sight: Sight{Kind: k.Kind, Subject: k.Subject, Level: k.Level, Gone: true}})
		}
	}
	return after, changes
}
