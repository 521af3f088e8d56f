package plan

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/words"
)

// Act is what hands are needed for.
type Act string

// The acts a plan sees coming.
const (
	ActPrepare Act = "prepare" // begin a phase before the fire
	ActLight   Act = "light"
	ActOn      Act = "on"
	ActSpritz  Act = "spritz"
	ActWood    Act = "wood"
	ActWrap    Act = "wrap"
	ActUnwrap  Act = "unwrap"
	ActPull    Act = "pull"
	ActHold    Act = "hold"
	ActSear    Act = "sear"
	ActSlice   Act = "slice"
	ActCheck   Act = "check" // of a cut that is nearly done
	ActSet     Act = "set"   // the pit to its next set point
	ActMove    Act = "move"  // to another cooker
	ActTurn    Act = "turn"
	ActFlip    Act = "flip"
	ActRotate  Act = "rotate"
	ActBaste   Act = "baste"
	ActSauce   Act = "sauce"
	ActFry     Act = "fry"
	ActBroil   Act = "broil"
	ActChill   Act = "chill"
	ActReheat  Act = "reheat"
)

// acts are all of them.
var acts = []Act{ActPrepare, ActLight, ActOn, ActSpritz, ActWood, ActWrap, ActUnwrap, ActPull, ActHold, ActSear, ActSlice, ActCheck,
	ActSet, ActMove, ActTurn,
	ActFlip, ActRotate, ActBaste, ActSauce, ActFry, ActBroil, ActChill, ActReheat}

// Values lists the acts.
func (Act) Values() []string {
	out := make([]string, len(acts))
	for i, a := range acts {
		out[i] = string(a)
	}
	return out
}

// onlyPlanned is how many minutes an act takes that no pad logs, by itself and
// for each cut (ours).
var onlyPlanned = map[Act][2]float64{ActPrepare: {5, 4}}

// Minutes is how long an act on so many cuts takes a pair of hands: what a pad
// logs takes as long as it does there.
func Minutes(a Act, cuts int) float64 {
	if act, ok := a.Logs(); ok {
		return act.Takes(cuts)
	}
	return onlyPlanned[a][0] + onlyPlanned[a][1]*float64(cuts)
}

// Task is something a hand does at a time.
type Task struct {
	At     Moment  `json:"at"`
	ForS   float64 `json:"for_s"`
	Act    Act     `json:"act"`
	Arm    int     `json:"arm"` // -1: not of one arm
	Pit    int     `json:"pit"` // -1: not at a pit
	Cuts   []int64 `json:"cuts"`
	Words  string  `json:"words"`
	Person int     `json:"person"` // place in the people; -1: nobody is free
	// Detail is what a pad logs with it, as planned: the wrap, the set point, the cooker.
	Detail logbook.Detail `json:"detail"`
	EveryS float64        `json:"every_s"` // it comes again after so long; 0: once
	PitID  int64          `json:"pit_id"`  // of a move: the pit it goes to
	PitSet string         `json:"pit_set"` // and at what it is kept there
	phase  int            // of the arm it belongs to
	nth    int            // how often the same was to be done to these cuts before
}

func sure(t time.Time) Moment { return Moment{t, t, t} }

// tasks writes down what is to be done and shares it out.
func (w *work) tasks() {
	for i := range w.out.Pits {
		p := &w.out.Pits[i]
		pit := w.in.Pits[p.Pit]
		w.task(sure(p.Light), ActLight, -1, p.Pit, nil, "Light "+pit.Name)
		for _, at := range p.Wood {
			w.task(sure(at), ActWood, -1, p.Pit, nil, "Wood to "+pit.Name).EveryS = pit.WoodEveryS
		}
		w.steps(p.Pit)
	}
	for i := range w.out.Lanes {
		w.laneTasks(&w.out.Lanes[i])
	}
	var all []int64
	for _, c := range w.in.Cuts {
		all = append(all, c.ID)
	}
	w.task(sure(w.out.Deadline), ActSlice, -1, -1, all, "Slice "+words.Plural(len(all), "cut"))
	slices.SortStableFunc(w.out.Tasks, func(a, b Task) int { return a.At.Middle.Compare(b.At.Middle) })
	for i := range w.out.Tasks {
		t := &w.out.Tasks[i]
		for _, u := range w.out.Tasks[:i] {
			if u.Act == t.Act && u.Arm == t.Arm && t.Arm >= 0 && t.EveryS == 0 && u.EveryS == 0 {
				t.nth++
			}
		}
	}
	w.share()
}

// steps are the changes of a pit's set point, each once for all arms that ask for it.
func (w *work) steps(pit int) {
	set := w.in.Pits[pit].SetC
	const same = 1.5 // C
	var told []float64
	for i := range w.out.Lanes {
		l := &w.out.Lanes[i]
		was := set
		from := sure(l.On)
		for _, b := range l.Blocks {
			ph := w.in.Arms[l.Arm].Phases[b.Phase]
			if !ph.Kind.InPit() || !w.stands(l.Arm, pit) || !w.ownPit(ph, pit) {
				from = b.To
				continue
			}
			apart := math.Abs(ph.SetC-was) > same
			if apart && !slices.ContainsFunc(told, func(c float64) bool { return math.Abs(c-ph.SetC) <= same }) {
				told = append(told, ph.SetC)
				t := w.task(from, ActSet, -1, pit, nil, fmt.Sprintf("%s to %s", w.in.Pits[pit].Name, ph.SetTyped))
				t.Detail = logbook.Detail{Set: ph.SetTyped, SetC: &ph.SetC}
			}
			was, from = ph.SetC, b.To
		}
	}
}

func (w *work) laneTasks(l *Lane) {
	arm := w.in.Arms[l.Arm]
	tag := arm.Tag
	var cuts []int64
	pits := map[int]bool{}
	pit := -1
	for _, c := range w.in.cutsOf(l.Arm) {
		cuts = append(cuts, w.in.Cuts[c].ID)
		pit = w.in.Cuts[c].Pit
		pits[pit] = true
	}
	if len(pits) > 1 {
		pit = -1
	}
	do := func(at Moment, act Act, of int, what string) *Task {
		t := w.task(at, act, l.Arm, pit, cuts, what)
		t.phase = of
		return t
	}
	wrap, was := "", sure(l.On)
	cooker := int64(0)
	do(was, ActOn, -1, tag+" on, "+words.Plural(len(cuts), "cut"))
	for _, b := range l.Blocks {
		p := arm.Phases[b.Phase]
		begins := was
		if p.Kind.Lead() {
			w.task(sure(b.From), ActPrepare, l.Arm, -1, cuts, tag+": "+p.Name)
			continue
		}
		if p.PitID != 0 && p.PitID != cooker && (cooker != 0 || pit < 0 || p.PitID != w.in.Pits[pit].ID) {
			t := do(begins, ActMove, b.Phase, tag+" to "+w.in.cooker(Cut{Pit: max(pit, 0)}, p).Name)
			t.PitID, t.PitSet = p.PitID, p.SetTyped
		}
		cooker = p.PitID
		if now := coverOf(p); now != wrap && (p.Kind.InPit() || p.Kind == phase.Hold && wrap == "") {
			w.covered(do, begins, p, b.Phase, wrap, tag)
			wrap = now
		}
		w.again(do, b, p, tag)
		switch act, ok := beginsWith[p.Kind]; {
		case p.Kind == phase.Hold:
			w.task(begins, ActHold, l.Arm, -1, cuts, tag+" into the hold").Detail = logbook.Detail{HolderID: p.HolderID}
		case ok:
			t := do(begins, act, b.Phase, words.Capital(p.Name)+" "+tag)
			t.Detail.With = map[phase.Kind]string{phase.Coals: "over coals", phase.Griddle: "on the griddle"}[p.Kind]
			wrap = ""
		}
		was = b.To
	}
	do(l.Pull, ActPull, -1, "Pull "+tag)
}

// beginsWith is what is done as a phase of a kind begins.
var beginsWith = map[phase.Kind]Act{phase.Glaze: ActSauce, phase.Sear: ActSear, phase.Coals: ActSear, phase.Griddle: ActSear,
	phase.Fry: ActFry, phase.Broil: ActBroil,
	phase.Chill: ActChill, phase.Reheat: ActReheat}

// covered is a wrap or an unwrap, with what goes in.
func (w *work) covered(do func(Moment, Act, int, string) *Task, at Moment, p phase.Phase, of int, was, tag string) {
	if p.Bare() {
		do(at, ActUnwrap, of, "Unwrap "+tag)
		return
	}
	t := do(at, ActWrap, of, "Wrap "+tag)
	if p.Kind == phase.Hold {
		t.Words = "Wrap " + tag + " to hold"
	}
	if key := logbook.Material(p.Wrap); slices.Contains(key.Values(), p.Wrap) {
		t.Detail.Wrap = key
	}
	t.Detail.Parcel = p.Parcel
}

// again are the things that come again and again in a phase.
func (w *work) again(do func(Moment, Act, int, string) *Task, b Block, p phase.Phase, tag string) {
	repeat := func(act Act, every, from float64, what string) {
		for n := 0; ; n++ {
			at := b.From.Add(seconds(from + float64(n)*every))
			if !at.Before(b.To.Middle) {
				return
			}
			if at.After(b.From) {
				do(sure(at), act, b.Phase, what+" "+tag).EveryS = every
			}
			if every == 0 {
				return
			}
		}
	}
	if p.SpritzEveryS > 0 {
		repeat(ActSpritz, p.SpritzEveryS, p.SpritzFromS, "Spritz")
	}
	for _, m := range p.Moves {
		if act, ok := ActOf(m.Act); ok && act != ActCheck {
			row, _ := m.Act.Row()
			from := m.FromS
			if from == 0 {
				from = m.EveryS
			}
			repeat(act, m.EveryS, from, row.Name)
		}
	}
}

func (w *work) task(at Moment, act Act, arm, pit int, cuts []int64, what string) *Task {
	if cuts == nil {
		cuts = []int64{}
	}
	t := Task{At: at, Act: act, Arm: arm, Pit: pit, Cuts: cuts, Words: what, Person: -1, phase: -1}
	t.ForS = 60 * Minutes(act, len(cuts))
	if act == ActSlice {
		t.ForS = max(w.in.SliceS, 60)
	}
	w.out.Tasks = append(w.out.Tasks, t)
	return &w.out.Tasks[len(w.out.Tasks)-1]
}

// patience is how long a task may wait for a hand.
const patience = 5 * time.Minute

// habit is how much more work a hand may have that did the same before, so
// that a person keeps to a pit and an act.
const habit = 45 * time.Minute

// share gives each task to a hand that is there and free: who did the same
// before, else who has done least.
func (w *work) share() {
	type what struct {
		act      Act
		pit, arm int
	}
	free, load := make([]time.Time, len(w.in.People)), make([]float64, len(w.in.People))
	did := map[what]int{}
	for i := range w.out.Tasks {
		t := &w.out.Tasks[i]
		same := what{t.Act, t.Pit, t.Arm}
		best, least := -1, 0.0
		for p, who := range w.in.People {
			if !who.there(t.At.Middle.In(w.in.Serve.Location())) || free[p].After(t.At.Middle.Add(patience)) {
				continue
			}
			burden := load[p]
			if last, ok := did[same]; ok && last == p {
				burden -= habit.Seconds()
			}
			if best < 0 || burden < least {
				best, least = p, burden
			}
		}
		if t.Person = best; best < 0 {
			continue
		}
		did[same] = best
		begin := t.At.Middle
		if free[best].After(begin) {
			begin = free[best]
		}
		free[best] = begin.Add(seconds(t.ForS))
		load[best] += t.ForS
	}
}

// hourOf reads a time of the day.
func hourOf(text string) (time.Duration, bool) {
	t, err := time.Parse("15:04", text)
	return time.Duration(t.Hour())*time.Hour + time.Duration(t.Minute())*time.Minute, err == nil
}

// there says whether a person lends a hand at a time of the day.
func (p Person) there(t time.Time) bool {
	at := time.Duration(t.Hour())*time.Hour + time.Duration(t.Minute())*time.Minute
	from, begins := hourOf(p.From)
	to, ends := hourOf(p.To)
	switch {
	case begins && ends && to <= from:
		return at >= from || at < to
	case begins && at < from, ends && at >= to:
		return false
	}
	return true
}

// clock writes a time the way the crew says it: the hour, and the day when it
// is not the day of the table.
func (w *work) clock(t time.Time) string {
	t = t.In(w.in.Serve.Location())
	if t.YearDay() == w.in.Serve.YearDay() && t.Year() == w.in.Serve.Year() {
		return t.Format("15:04")
	}
	return t.Format("Mon 15:04")
}

// span writes a length of time.
func span(s float64) string {
	minutes := int(s/60 + 0.5)
	if minutes < 60 {
		return fmt.Sprintf("%d min", minutes)
	}
	return fmt.Sprintf("%d h %02d", minutes/60, minutes%60)
}
