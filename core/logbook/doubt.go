package logbook

import (
	"fmt"
	"time"
)

// Times about which a person is asked (ours).
const (
	farFrom   = 12 * time.Hour // from the clock, and from all else that is known of the cook
	dayBefore = 24 * time.Hour // the table: a cook begins then
	sitsAfter = 6 * time.Hour  // the table
	hoursOff  = 2 * time.Hour  // before its time an act is asked about
)

// Around is what is known of a cook when an entry of it comes in. Moments that have not come are zero.
type Around struct {
	Now, Serve time.Time
	Lit        time.Time   // the first fire of the pits the entry is of
	Others     []time.Time // of all else that was logged of the cook
}

// DoubtTime says, in words, what is odd about the time of an entry: meat on a fire that was not lit, or a moment
// far from the clock, the table and all else of the cook. It may be so all the same.
func DoubtTime(e Event, in Around) string {
	row, _ := e.Act.Row()
	switch {
	case (e.Act == On || row.OnFire) && e.At.Before(in.Lit):
		return fmt.Sprintf("The fire was lit at %s, after this.", moment(in.Lit))
	case e.At.Sub(in.Now).Abs() <= farFrom || !e.At.Before(in.Serve.Add(-dayBefore)) && !e.At.After(in.Serve.Add(sitsAfter)):
		return ""
	}
	for _, t := range in.Others {
		if e.At.Sub(t).Abs() <= farFrom {
			return ""
		}
	}
	return fmt.Sprintf("%s is far from now, from the table and from all else of this cook.", moment(e.At))
}

// DoubtEarly says, in words, that an act comes hours before its time.
func DoubtEarly(act Act, pieces int, at, due time.Time) string {
	if due.Sub(at) < hoursOff {
		return ""
	}
	row, _ := act.Row()
	said := fmt.Sprintf("%s is planned for %s, in %s.", row.Name, moment(due), clockOf(due.Sub(at)))
	if act == Pull {
		said += fmt.Sprintf(" It would end the cook of %d.", pieces)
	}
	return said
}

// moment is a time for a sentence, shown in the reader's zone.
func moment(t time.Time) string { return "{time:" + t.UTC().Format(time.RFC3339) + "}" }

func clockOf(d time.Duration) string {
	return fmt.Sprintf("%d:%02d", int(d.Hours()), int(d.Minutes())%60)
}
