// Package gate judges a piece of meat before it goes on the table: all that was read
// of it, from the fridge to the plate, against the lines of core/safety.
package gate

import (
	"fmt"
	"slices"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/safety"
	"whitebarn/core/words"
)

// Input is all that is known of a piece, and the lines it is judged by.
type Input struct {
	course.Course
	Meat      safety.Meat
	Lines     safety.Lines
	Confirmed bool          // a person said outright what meat it is
	Asked     []safety.Hint // words of the product that say otherwise, unanswered
	WholeBird bool
	Kg        float64 // at the fire; 0 is not known
	Now       time.Time
	BoilsC    float64 // water, at the barn's height
	Bound     Bound   // on how fast its core moves
	Reason    string  // a pitmaster's, to serve it all the same
	// Slowest is the way up of the slowest piece of its pit, where that is another.
	Slowest *safety.ComeUp

	plate time.Time // when the last of it was eaten, or now
	eaten bool      // it is on record, or may still come
}

// Opens is what opens the gate again.
type Opens string

// What does.
const (
	ByReason  Opens = "reason"  // a pitmaster's, in words
	ByReading Opens = "reading" // of the thermometer, or cooking on
	ByRecord  Opens = "record"  // the act that is missing
	ByMeat    Opens = "meat"    // saying what meat it is
	ByWaiting Opens = "waiting"
	ByVoiding Opens = "voiding" // of a wrong entry, if it was one; nothing else
)

// Values lists them.
func (Opens) Values() []string {
	return []string{string(ByReason), string(ByReading), string(ByRecord), string(ByMeat), string(ByWaiting), string(ByVoiding)}
}

// Stop is one thing that keeps the gate shut. Temperatures stand in the words as
// {C:62.8}, for the reader's unit.
type Stop struct {
	Key    string `json:"key"`
	Words  string `json:"words"`
	Remedy string `json:"remedy"`
	Opens  Opens  `json:"opens"`
	Waived bool   `json:"waived"` // a reason opened it
	Hard   bool   `json:"hard"`   // it also keeps the piece out of the verdict
}

// Ruling is what the gate says of a piece, and why.
type Ruling struct {
	Meat     safety.Meat    `json:"meat"`
	Minimum  safety.Minimum `json:"minimum"`
	Finding  safety.Finding `json:"finding"`
	Places   []Shown        `json:"places"`
	ComeUp   safety.ComeUp  `json:"come_up"`
	Range    safety.Range   `json:"range"`
	After    safety.After   `json:"after"`
	Stops    []Stop         `json:"stops"`
	Warnings []string       `json:"warnings"`
	Open     bool           `json:"open"`     // it may be served
	Counts   bool           `json:"counts"`   // it may count in a verdict
	Advisory bool           `json:"advisory"` // served by a reason: the eaters are told
	Over     bool           `json:"over"`     // its cook is: a serving is of another time than now
}

// heavyKg asks for two places: 6 lb.
const heavyKg = 6 * 0.45359237

// Places of a piece that the rules know by name.
const (
	Breast       = "breast"
	Thigh        = "thigh"
	ColdestFound = "coldest found"
)

// forever is later than anything on the record.
var forever = time.Date(9999, 1, 1, 0, 0, 0, 0, time.UTC)

func (in Input) knife() time.Time {
	if in.Knife.IsZero() {
		return forever
	}
	return in.Knife
}

// Of judges a piece.
func Of(in Input) Ruling {
	r := Ruling{Meat: in.Meat, Finding: safety.NotShown, Places: []Shown{}, Stops: []Stop{}, Warnings: []string{}}
	if in.Lines == (safety.Lines{}) {
		in.Lines = safety.Usual
	}
	var err error
	if r.Minimum, err = in.Lines.Minimum(in.Meat); err != nil {
		r.stop(Stop{Key: "meat", Words: "Nobody said what meat it is.", Remedy: "Say what meat it is, and how it was handled.", Opens: ByMeat, Hard: true})
		return r
	}
	if !in.Confirmed || len(in.Asked) > 0 {
		r.stop(in.unsure())
	}
	if in.On.IsZero() {
		r.stop(Stop{Key: "on", Words: "It was never on the fire.", Remedy: "Log when it went on.", Opens: ByRecord, Hard: true})
		return r
	}
	in.Places = in.placed()
	in.plate, in.eaten = in.Eaten(in.Now)
	r.Over = in.Course.Over(in.Now)
	for _, p := range in.Places {
		if s := in.judged(p, r.Minimum); s.Readings > 0 || s.OverProbe || s.InDoubt {
			r.Places = append(r.Places, s)
		}
	}
	r.minimum(in)
	r.clocks(in)
	if in.Pull.IsZero() {
		r.stop(Stop{Key: "pull", Words: "It was not pulled.", Remedy: "Log the pull.", Opens: ByRecord})
	} else if !in.eaten {
		r.stop(Stop{Key: "eaten", Words: "It is not on record when it was eaten.",
			Remedy: "Say when it was carved or served; to serve it now, read it now.", Opens: ByRecord})
	}
	r.Open, r.Counts = true, true
	for i := range r.Stops {
		s := &r.Stops[i]
		s.Waived = s.Opens == ByReason && in.Reason != ""
		r.Open = r.Open && s.Waived
		r.Counts = r.Counts && (s.Waived || !s.Hard)
		r.Advisory = r.Advisory || s.Waived
	}
	return r
}

// Past is what the gate says of a piece that was eaten long before it was written up: what is on
// record is shown, and nothing is stopped any more. Its verdict is capped elsewhere.
func Past(in Input) Ruling {
	r := Of(in)
	r.Stops, r.Open, r.Counts, r.Advisory = []Stop{}, false, true, false
	return r
}

// Shut is the first thing that keeps the piece from the table whatever is still to be
// logged; ok is false where there is none.
func (r Ruling) Shut() (s Stop, ok bool) {
	for _, s := range r.Stops {
		if s.Hard && !s.Waived && s.Opens != ByWaiting {
			return s, true
		}
	}
	return Stop{}, false
}

func (r *Ruling) stop(s Stop) { r.Stops = append(r.Stops, s) }

func (in Input) unsure() Stop {
	var said []string
	for _, h := range in.Asked {
		said = append(said, "“"+h.Word+"”")
	}
	s := Stop{Key: "meat", Remedy: "Confirm what meat it is, once.", Opens: ByMeat}
	s.Words = fmt.Sprintf("%s, %s: nobody confirmed it.", words.Capital(string(in.Meat.Species)), in.Meat.Handling)
	if len(said) > 0 {
		s.Words = fmt.Sprintf("The product says %s, and the meat is said to be %s, %s.", words.And(said), in.Meat.Species, in.Meat.Handling)
		s.Remedy = "Correct it, or let the pitmaster say why it is so."
	}
	return s
}

// minimum says what the places show together.
func (r *Ruling) minimum(in Input) {
	opens := ByReason
	remedy := "Read it in its coldest place, or let the pitmaster give a reason."
	if r.Minimum.Absolute {
		opens, remedy = ByReading, "Cook it on and read it again, or leave it out."
	}
	say := func(key, format string, v ...any) {
		r.stop(Stop{Key: key, Words: fmt.Sprintf(format, v...), Remedy: remedy, Opens: opens, Hard: true})
	}
	if len(r.Places) == 0 {
		if r.Minimum.Absolute {
			remedy = "Read it in its coldest place."
		}
		say("not shown", "No temperature was read in it on the fire or after.")
		return
	}
	r.Finding = safety.Met
	shown := slices.ContainsFunc(r.Places, func(p Shown) bool { return p.Passed })
	for i, p := range r.Places {
		if !shown || p.Suspended {
			p.Stands, r.Places[i].Stands = "", "" // it leans on one that passed
		}
		switch at := where(p.Place); {
		case p.Stands != "":
		case p.Suspended:
			r.Finding = safety.NotShown
			remedy = "Read it there twice more; the two must bear it out."
			say("suspended", "{C:%.4f} was read by hand%s, lower than what passed it.", p.UnderC, at)
		case !p.Passed && p.stuck:
			r.Finding = safety.NotShown
			remedy = "Read it there by hand."
			say("stuck", "A probe%s stood at {C:%.4f} from its first reading, as one that is stuck does: it counts once it moves, or a hand bears it out.", at, p.C)
		case !p.Passed && p.InDoubt:
			r.Finding = safety.NotShown
			remedy = "Say at Fire that it is so, take it back, or read it there once more."
			say("in doubt", "A hand reading%s is in doubt, so it counts once somebody says that it is so.", at)
		case !p.Passed && p.OverProbe:
			r.Finding = safety.NotShown
			remedy = "Read it there once more."
			say("over probe", "A hand reading%s is far over the probe, so it counts once it is read again.", at)
		case !p.Passed:
			if r.Finding == safety.Met {
				r.Finding = safety.Below
			}
			timed := ""
			if r.Minimum.Timed {
				timed = fmt.Sprintf(", and held %d %% of the time that would do", int(100*p.Share))
			}
			say("below", "It reached {C:%.4f}%s of {C:%.4f}%s.", p.C, at, r.Minimum.C, timed)
		}
	}
	if want := in.wanted(r.Places); want != "" && r.Finding == safety.Met {
		r.Finding = safety.NotShown
		remedy = "Read it there too."
		say("places", "%s", want)
	}
	r.rested(in)
}

func where(place string) string {
	if place == "" {
		return ""
	}
	return " (" + place + ")"
}

// wanted says which places are still to be read; empty when none is.
func (in Input) wanted(read []Shown) string {
	switch missing := in.missing(read); {
	case len(missing) == 0:
		return ""
	case in.WholeBird:
		return "A whole bird is read in the breast and in the thigh."
	}
	return "Over {kg:2.7216} it is read in two places, or in the coldest that was found."
}

// rested sees to the three minutes' rest of whole cuts of red meat that passed at once,
// below where the table of times asks for none.
func (r *Ruling) rested(in Input) {
	if r.Minimum.RestS == 0 || r.Finding != safety.Met {
		return
	}
	var last time.Time
	for _, p := range r.Places {
		if p.Share < 1 && p.C < safety.AtOnceC-alike && p.At.After(last) {
			last = *p.At
		}
	}
	if last.IsZero() {
		return
	}
	rest := time.Duration(r.Minimum.RestS) * time.Second
	switch {
	case !in.Knife.IsZero() && in.Knife.Sub(last) < rest:
		r.Finding = safety.Below
		cut := "It was cut before it had rested for three minutes."
		r.stop(Stop{Key: "rest", Words: cut, Remedy: "Let the pitmaster give a reason.", Opens: ByReason, Hard: true})
	case in.plate.Sub(last) < rest:
		r.Finding = safety.NotShown
		r.stop(Stop{Key: "rest", Words: "It has not rested for three minutes yet.", Remedy: "Let it rest.", Opens: ByWaiting, Hard: true})
	}
}
