package plan

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/phase"
	"whitebarn/core/pit"
	"whitebarn/core/thermal"
	"whitebarn/core/words"
)

// ConflictKind is what stands in the way.
type ConflictKind string

// The kinds of conflict.
const (
	TooLate     ConflictKind = "too late"
	LeadShort   ConflictKind = "lead too short"
	NotReady    ConflictKind = "not ready"
	Crowded     ConflictKind = "pit too small"
	SamePlace   ConflictKind = "same place"
	TwoHeats    ConflictKind = "two temperatures"
	HolderFull  ConflictKind = "holder"
	FewProbes   ConflictKind = "probes"
	FewHands    ConflictKind = "hands"
	NightWork   ConflictKind = "night"
	UnequalHold ConflictKind = "unequal hold"
	UnequalWood ConflictKind = "unequal wood"
	NeverEnds   ConflictKind = "never ends"
	LongHold    ConflictKind = "hold too long"
	SlowWarm    ConflictKind = "slow to warm"
	NotRead     ConflictKind = "holder not read"
	Boils       ConflictKind = "boils"
)

// Values lists the kinds.
func (ConflictKind) Values() []string {
	return []string{string(TooLate), string(LeadShort), string(NotReady), string(Crowded), string(SamePlace), string(TwoHeats),
		string(HolderFull), string(FewProbes), string(FewHands), string(NightWork), string(UnequalHold), string(UnequalWood), string(NeverEnds),
		string(LongHold), string(SlowWarm), string(NotRead), string(Boils)}
}

// Remedy is what a way out does to the plan.
type Remedy string

// The remedies that can be applied with one touch. Words alone say the rest.
const (
	InWords  Remedy = ""
	MoveMeal Remedy = "serve" // serve at At
	SetHolds Remedy = "hold"  // let every arm hold for ForS
	SetHeat  Remedy = "heat"  // let the arm smoke at SetC
)

// Values lists the remedies.
func (Remedy) Values() []string {
	return []string{string(InWords), string(MoveMeal), string(SetHolds), string(SetHeat)}
}

// WayOut is a move that would take a conflict away.
type WayOut struct {
	Words string    `json:"words"`
	Do    Remedy    `json:"do"`
	At    time.Time `json:"at"`
	ForS  float64   `json:"for_s"`
	Arm   int       `json:"arm"`
	SetC  float64   `json:"set_C"`
}

// Conflict is one thing that stands in the way, where it happens.
type Conflict struct {
	Kind    ConflictKind `json:"kind"`
	Words   string       `json:"words"`
	At      time.Time    `json:"at"`
	To      time.Time    `json:"to"`
	Arm     int          `json:"arm"` // -1: not of one arm
	Pit     int          `json:"pit"` // -1: not of one pit
	WaysOut []WayOut     `json:"ways_out"`
}

func (w *work) conflict(kind ConflictKind, at, to time.Time, arm, pit int, text string, ways ...WayOut) {
	if ways == nil {
		ways = []WayOut{}
	}
	w.out.Conflicts = append(w.out.Conflicts, Conflict{kind, text, at, to, arm, pit, ways})
}

func say(format string, v ...any) WayOut { return WayOut{Words: fmt.Sprintf(format, v...)} }

// conflicts gathers all that stands in the way, the gravest first.
func (w *work) conflicts() {
	for i := range w.out.Lanes {
		w.ofTime(&w.out.Lanes[i])
		w.ofWarmth(&w.out.Lanes[i])
		w.ofBoiling(&w.out.Lanes[i])
	}
	w.ofLeads()
	w.ofChance()
	for p := range w.in.Pits {
		w.ofPit(p)
	}
	w.ofHolders()
	w.ofProbes()
	w.ofHands()
	w.ofEquality()
}

// nearBoilingC is how near the boiling point a core gets so slowly that it is said (ours).
const nearBoilingC = 1.0

// ofBoiling says where a core is to come to what is boiling water at the barn's height.
func (w *work) ofBoiling(l *Lane) {
	boils := thermal.BoilingPoint(w.in.Pressure)
	for _, p := range w.in.Arms[l.Arm].Phases {
		for _, e := range p.Ends {
			if e.Watch == phase.ByCore && e.Value >= boils-nearBoilingC {
				text := fmt.Sprintf("%s is to come to {C:%.1f} inside. At this height water boils at {C:%.1f}: it comes there late, or never.",
					w.in.Arms[l.Arm].Tag, e.Value, boils)
				w.conflict(Boils, l.On, w.out.Deadline, l.Arm, -1, text, say("Lower what it is cooked to"))
				return
			}
		}
	}
}

// ofTime looks at what does not fit before the table, or never ends.
func (w *work) ofTime(l *Lane) {
	tag := w.in.Arms[l.Arm].Tag
	for _, c := range w.in.cutsOf(l.Arm) {
		if !w.lengths[c].reached {
			w.conflict(NeverEnds, l.On, w.out.Deadline, l.Arm, -1, fmt.Sprintf("%s never comes to one of its end conditions: the pit is not hot enough for it.", tag),
				say("Raise the pit, or lower what it is cooked to"), say("Let the phase end after a time too, whichever comes first"))
			break
		}
	}
	if !w.ahead() || !w.wentOn(l.Arm).IsZero() {
		return
	}
	if earliest := w.earliest(l.Arm); l.Latest.Before(earliest) {
		short := earliest.Sub(l.Latest).Seconds()
		later := mealAt(w.in.Serve.Add(earliest.Sub(l.Latest)))
		w.conflict(TooLate, l.Latest, l.On, l.Arm, -1,
			fmt.Sprintf("%s should be on by %s, %s before it can be: on at %s it is ready %s.", tag, w.clock(l.Latest), span(short), w.clock(l.On), Tens(l.Ready)),
			WayOut{Words: fmt.Sprintf("Serve at %s", w.clock(later)), Do: MoveMeal, At: later}, say("Raise the pit, or wrap earlier"))
	}
}

// ofLeads says when there is not the time for what comes before the fire.
func (w *work) ofLeads() {
	var tags []string
	var first time.Time
	have, want, short := 0.0, 0.0, 0.0
	for _, l := range w.out.Lanes {
		if !w.ahead() || !l.Begin.Before(w.in.Now) || !l.Begin.Before(l.On) || !l.On.After(w.in.Now) {
			continue
		}
		tags = append(tags, w.in.Arms[l.Arm].Tag)
		if lacks := w.in.Now.Sub(l.Begin).Seconds(); lacks > short {
			short, first = lacks, l.Begin
			have, want = l.On.Sub(w.in.Now).Seconds(), l.On.Sub(l.Begin).Seconds()
		}
	}
	if len(tags) == 0 {
		return
	}
	at := mealAt(w.in.Serve.Add(seconds(short)))
	w.conflict(LeadShort, first, w.in.Now, -1, -1,
		fmt.Sprintf("%s should have been begun at %s: begun now there is %s instead of %s before the fire.", words.And(tags), w.clock(first), span(have), span(want)),
		say("Give every arm %s", span(have)), WayOut{Words: "Serve at " + w.clock(at), Do: MoveMeal, At: at})
}

// ofChance says when the chance wanted is missed.
func (w *work) ofChance() {
	if w.out.Ready >= w.in.Chance || slices.ContainsFunc(w.out.Conflicts, func(c Conflict) bool { return c.Kind == TooLate }) {
		return
	}
	w.conflict(NotReady, w.out.Deadline, w.out.Serve, -1, -1, fmt.Sprintf("All is ready in time %s, and %s is asked for.", Tens(w.out.Ready), Tens(w.in.Chance)),
		say("Start earlier, or let the hold shrink further"), say("Give a pit fewer cuts"))
}

// ofPit looks at places, heat and neighbours of one pit.
func (w *work) ofPit(p int) {
	pit := w.in.Pits[p]
	type stayed struct {
		cut      int
		from, to time.Time
	}
	var all []stayed
	for i, c := range w.in.Cuts {
		if c.Pit == p {
			l := w.laneOf(c.Arm)
			all = append(all, stayed{i, l.On, w.cutPlan(i).Pull.Middle})
		}
	}
	most, at := 0, time.Time{}
	for _, a := range all {
		n := 0
		for _, b := range all {
			if !b.from.After(a.from) && b.to.After(a.from) {
				n++
			}
		}
		if n > most {
			most, at = n, a.from
		}
	}
	if most > pit.Positions {
		w.conflict(Crowded, at, w.out.Deadline, -1, p, fmt.Sprintf("%s has %s and is asked for %d cuts at %s.", pit.Name, words.Plural(pit.Positions, "place"), most, w.clock(at)),
			say("WayOut %s to another pit or another cook day", words.Plural(most-pit.Positions, "cut")), say("Set the places of its grate in Match, if it has more"))
	}
	for i, a := range all {
		for _, b := range all[:i] {
			ca, cb := w.in.Cuts[a.cut], w.in.Cuts[b.cut]
			overlap := a.from.Before(b.to) && b.from.Before(a.to)
			if overlap && ca.Position != "" && ca.Position == cb.Position {
				w.conflict(SamePlace, a.from, b.to, ca.Arm, p, fmt.Sprintf("%s and %s both stand at %s in %s.", cb.Name, ca.Name, ca.Position, pit.Name), say("Give one of them another place on the grate"))
			}
		}
	}
	w.ofHeat(p)
}

// ofHeat finds two temperatures asked of one pit at the same time.
func (w *work) ofHeat(p int) {
	type wanted struct {
		lane     *Lane
		from, to time.Time
		set      float64
		typed    string
	}
	var all []wanted
	for i := range w.out.Lanes {
		l := &w.out.Lanes[i]
		if !w.stands(l.Arm, p) {
			continue
		}
		for _, b := range l.Blocks {
			if ph := w.in.Arms[l.Arm].Phases[b.Phase]; ph.Kind.InPit() && w.ownPit(ph, p) {
				all = append(all, wanted{l, b.From, b.To.Middle, ph.SetC, ph.SetTyped})
			}
		}
	}
	const alike = 1.5 // C
	pit := w.in.Pits[p]
	for i, a := range all {
		// The first of a lane is what the pit is set to for this cook; later ones are steps.
		if d := a.set - pit.SetC; d > alike || d < -alike {
			if i == 0 || all[i-1].lane != a.lane {
				w.conflict(TwoHeats, a.from, a.to, a.lane.Arm, p, fmt.Sprintf("%s is to smoke at %s, and %s is set otherwise for this cook.", w.in.Arms[a.lane.Arm].Tag, a.typed, pit.Name),
					say("Set the pit to %s, or give the arm another pit", a.typed), WayOut{Words: "Smoke it at the pit's set point", Do: SetHeat, Arm: a.lane.Arm, SetC: pit.SetC})
			}
		}
		for _, b := range all[:i] {
			d := a.set - b.set
			if a.lane != b.lane && (d > alike || d < -alike) && overlap(a.from, a.to, b.from, b.to) > stepsApart {
				first, second := w.in.Arms[b.lane.Arm].Tag, w.in.Arms[a.lane.Arm].Tag
				w.conflict(TwoHeats, later(a.from, b.from), earlier(a.to, b.to), -1, p, fmt.Sprintf("%s is asked for %s by %s and for %s by %s at the same time.", pit.Name, b.typed, first, a.typed, second),
					say("Give %s another pit, or another cook day", second), WayOut{Words: fmt.Sprintf("Smoke %s at %s too", second, b.typed), Do: SetHeat, Arm: a.lane.Arm, SetC: b.set})
				return
			}
		}
	}
}

// stepsApart is how far from each other the same step of two arms may come: the pit is set
// once, with the first or with the last of them.
const stepsApart = 45 * time.Minute

func overlap(from, to, otherFrom, otherTo time.Time) time.Duration {
	return earlier(to, otherTo).Sub(later(from, otherFrom))
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

func earlier(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}

func (w *work) cutPlan(i int) CutPlan { return w.out.Cuts[i] }

// relies says when nobody read what a holder really holds where it is to hold, or when that
// is under the floor: then the hold, the longest of which takes heldS, counts on the clock
// after cooking.
func (w *work) relies(h Holder, setC, heldS float64, arms []string) {
	on := pit.RelyOn(h.Known, setC, h.FloorC, w.in.Serve)
	cold := setC < h.FloorC || on.Standing == pit.BelowFloor || on.Standing == pit.NoneStands
	if on.Standing == pit.Stands && !cold {
		return
	}
	text := fmt.Sprintf("%s is to hold %s at {C:%.1f}. %s", h.Name, words.And(arms), setC, on.Words)
	if cold {
		text += fmt.Sprintf(" Until it is shown to stay over {C:%.1f}, the %s of the hold count on the clock after cooking: 4:00 under it is thrown away.",
			h.FloorC, span(heldS))
	}
	w.conflict(NotRead, w.out.Deadline, w.out.Deadline, -1, -1, text,
		say("Put a covered pan of water in it the night before, under Pits"))
}

// ofHolders looks at room and heat of the holders.
func (w *work) ofHolders() {
	for _, h := range w.in.Holders {
		n, arms, sets, heat, held := 0, []string{}, map[string]bool{}, 0.0, 0.0
		for _, l := range w.out.Lanes {
			arm := w.in.Arms[l.Arm]
			if p := arm.hold(); p != nil && p.HolderID == h.ID {
				n += len(w.in.cutsOf(l.Arm))
				arms = append(arms, arm.Tag)
				sets[p.SetTyped] = true
				held = max(held, l.HoldS[1])
				if p.SetC > 0 && (heat == 0 || p.SetC < heat) {
					heat = p.SetC // the lowest is the one to fear for
				}
			}
		}
		if h.Capacity > 0 && n > h.Capacity {
			w.conflict(HolderFull, w.out.Deadline, w.out.Deadline, -1, -1, fmt.Sprintf("%s takes %s and is to hold %d.", h.Name, words.Plural(h.Capacity, "cut"), n), say("Use a second holder for %s", arms[len(arms)-1]))
		}
		if heat > 0 && h.FloorC > 0 {
			w.relies(h, heat, held, arms)
		}
		if len(sets) > 1 {
			w.conflict(HolderFull, w.out.Deadline, w.out.Deadline, -1, -1, fmt.Sprintf("%s is asked for two temperatures, by %s.", h.Name, words.And(arms)), say("Give each its own holder, or one temperature"))
		}
	}
	for _, l := range w.out.Lanes {
		arm := w.in.Arms[l.Arm]
		p := arm.hold()
		if p == nil {
			continue
		}
		if p.HolderID == 0 {
			w.conflict(HolderFull, l.Pull.Middle, w.out.Deadline, l.Arm, -1, fmt.Sprintf("%s is to be held, and it is not said in what.", arm.Tag), say("Choose its holder"))
		}
		if p.MostS > 0 && l.HoldS[2] > p.MostS+startStep.Seconds() {
			w.conflict(LongHold, l.Pull.Early, w.out.Deadline, l.Arm, -1, fmt.Sprintf("One time in ten %s is held %s, longer than the %s it may be.", arm.Tag, span(l.HoldS[2]), span(p.MostS)),
				say("Start later at a lower chance, or let it hold longer"))
		}
	}
}

// ofProbes counts what wants a probe: every cut and every pit.
func (w *work) ofProbes() {
	want := len(w.in.Cuts) + len(w.out.Pits)
	if w.in.Probes > 0 && want > w.in.Probes {
		w.conflict(FewProbes, w.out.Lanes[0].On, w.out.Deadline, -1, -1, fmt.Sprintf("%d probes are wanted, one for every cut and pit, and the barn has %d.", want, w.in.Probes),
			say("Probe one cut of each arm, the thickest, and read the others by hand"))
	}
}

// ofEquality flags what should be alike in every arm and is not.
func (w *work) ofEquality() {
	holds, rests := map[float64][]string{}, map[string][]string{}
	for _, l := range w.out.Lanes {
		arm := w.in.Arms[l.Arm]
		s, rest := 0.0, ""
		for _, p := range arm.afters() {
			t, _ := p.Fixed()
			switch p.Kind {
			case phase.Hold:
				s = t
			case phase.Rest:
				rest += fmt.Sprint(p.Ends)
			}
		}
		holds[s] = append(holds[s], arm.Tag)
		rests[rest] = append(rests[rest], arm.Tag)
	}
	if len(holds) > 1 && !w.in.HoldsVary {
		most := w.longestHold()
		w.conflict(UnequalHold, w.out.Deadline, w.out.Deadline, -1, -1, "The arms are held for different times, and the hold is not what is asked about.", WayOut{Words: fmt.Sprintf("Hold every arm %s", span(most)), Do: SetHolds, ForS: most})
	}
	if len(rests) > 1 && !w.in.HoldsVary {
		w.conflict(UnequalHold, w.out.Deadline, w.out.Deadline, -1, -1, "The arms rest differently, and the rest is not what is asked about.", say("Let every arm rest alike"))
	}
	if len(w.out.Pits) < 2 {
		return
	}
	bare := time.Duration(math.MaxInt64) // what every arm has of smoke at least
	for i := range w.out.Lanes {
		l := &w.out.Lanes[i]
		bare = min(bare, w.bareUntil(l).Sub(l.On))
	}
	low, top := math.MaxInt, 0
	for i := range w.out.Lanes {
		least, most := w.woodOf(&w.out.Lanes[i], bare)
		low, top = min(low, least), max(top, most)
	}
	if top-low > 1 {
		w.conflict(UnequalWood, w.out.Lanes[0].On, w.out.Deadline, -1, -1, fmt.Sprintf("In their first %s one arm gets wood %d times and another %d times: smoke cannot be told apart from what is asked.", span(bare.Seconds()), low, top), say("Count the same pieces into every pit"), say("Smoke all arms in one pit"))
	}
}

// Tens says a chance the way the crew does.
func Tens(p float64) string {
	switch n := int(p*10 + 0.5); {
	case p >= 0.975:
		return "nearly always"
	case p < 0.025:
		return "hardly ever"
	case n == 0:
		return "less than 1 time in 10"
	case n == 10:
		return "more than 9 times in 10"
	case n == 1:
		return "1 time in 10"
	default:
		return fmt.Sprintf("%d times in 10", n)
	}
}
