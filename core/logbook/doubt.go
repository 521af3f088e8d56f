package logbook

import (
	"fmt"
	"math"
	"slices"
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

// In doubt a reading stands on record and counts against a piece; for it, it counts once somebody says it is so.
type Doubt struct {
	Words string `json:"words"` // temperatures stand as {C:62.8}
	High  bool   `json:"high"`  // over what could be, else under it
}

// HandRead is a reading of a piece by hand.
type HandRead struct {
	At time.Time
	C  float64
}

// What is no move of meat, and no meat on a fire (ours).
const (
	otherPlace = 15.0             // C that two places of a piece, or two thermometers, may differ by
	moves      = 1.5              // C a minute that it may have moved besides
	movesFor   = 90 * time.Minute // after which two readings have nothing to do with each other
	aside      = 40.0             // C from the middle of the others that were read just now
	justNow    = 15 * time.Minute
	fewOthers  = 3
	thawed     = time.Hour // on the fire, after which nothing of a piece is frozen
)

// DoubtRead says what is odd about a reading of a piece: a move no meat makes since its last, or far from all the
// others that were read just now, or frozen on the fire. on is when it went on; nil is no doubt.
func DoubtRead(r HandRead, on time.Time, mine, others []HandRead) *Doubt {
	var last *HandRead
	for i, m := range mine {
		if !m.At.After(r.At) && (last == nil || !m.At.Before(last.At)) {
			last = &mine[i]
		}
	}
	if last != nil && r.At.Sub(last.At) <= movesFor {
		if off := r.C - last.C; math.Abs(off) > otherPlace+moves*r.At.Sub(last.At).Minutes() {
			return &Doubt{fmt.Sprintf("{C:%.4f}, and {C:%.4f} at %s: meat does not move so fast.", r.C, last.C, moment(last.At)), off > 0}
		}
		return nil
	}
	var near []float64
	for _, o := range others {
		if o.At.Sub(r.At).Abs() <= justNow {
			near = append(near, o.C)
		}
	}
	if len(near) >= fewOthers {
		slices.Sort(near)
		if middle := near[len(near)/2]; math.Abs(r.C-middle) > aside {
			return &Doubt{fmt.Sprintf("{C:%.4f}, and the others about {C:%.4f}.", r.C, middle), r.C > middle}
		}
	}
	if r.C < 0 && !on.IsZero() && r.At.Sub(on) >= thawed {
		return &Doubt{fmt.Sprintf("{C:%.4f}, on the fire since %s.", r.C, moment(on)), false}
	}
	return nil
}
