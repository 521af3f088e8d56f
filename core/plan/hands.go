package plan

import (
	"fmt"
	"slices"
	"time"

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
)

// Values lists the acts.
func (Act) Values() []string {
	return []string{string(ActPrepare), string(ActLight), string(ActOn), string(ActSpritz), string(ActWood), string(ActWrap), string(ActUnwrap), string(ActPull), string(ActHold), string(ActSear), string(ActSlice), string(ActCheck)}
}

// onlyPlanned is how many minutes an act takes that no pad logs, by itself and
// for each cut (ours).
var onlyPlanned = map[Act][2]float64{ActPrepare: {5, 4}, ActSear: {5, 3}}

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
}

func sure(t time.Time) Moment { return Moment{t, t, t} }

// tasks writes down what is to be done and shares it out.
func (w *work) tasks() {
	for i := range w.out.Pits {
		p := &w.out.Pits[i]
		w.task(sure(p.Light), ActLight, -1, p.Pit, nil, "Light "+w.in.Pits[p.Pit].Name)
		for _, at := range p.Wood {
			w.task(sure(at), ActWood, -1, p.Pit, nil, "Wood to "+w.in.Pits[p.Pit].Name)
		}
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
	w.share()
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
	do := func(at Moment, act Act, what string) { w.task(at, act, l.Arm, pit, cuts, what) }
	wrapped, was := false, sure(l.On)
	do(was, ActOn, tag+" on, "+words.Plural(len(cuts), "cut"))
	for _, b := range l.Blocks {
		p := arm.Phases[b.Phase]
		begins := was
		switch p.Kind {
		case phase.Thaw, phase.Brine, phase.DryBrine, phase.Inject:
			w.task(sure(b.From), ActPrepare, l.Arm, -1, cuts, tag+": "+p.Name)
			continue
		case phase.Smoke:
			if now := !p.Bare(); now != wrapped {
				wrapped = now
				do(begins, map[bool]Act{true: ActWrap, false: ActUnwrap}[now], map[bool]string{true: "Wrap ", false: "Unwrap "}[now]+tag)
			}
			for n := 0; p.SpritzEveryS > 0; n++ {
				at := b.From.Add(seconds(p.SpritzFromS + float64(n)*p.SpritzEveryS))
				if !at.Before(b.To.Middle) {
					break
				}
				if at.After(b.From) {
					do(sure(at), ActSpritz, "Spritz "+tag)
				}
			}
		case phase.Hold:
			w.task(begins, ActHold, l.Arm, -1, cuts, tag+" into the hold")
		case phase.Sear:
			do(begins, ActSear, "Sear "+tag)
		}
		was = b.To
	}
	do(l.Pull, ActPull, "Pull "+tag)
}

func (w *work) task(at Moment, act Act, arm, pit int, cuts []int64, what string) {
	if cuts == nil {
		cuts = []int64{}
	}
	t := Task{At: at, Act: act, Arm: arm, Pit: pit, Cuts: cuts, Words: what, Person: -1}
	t.ForS = 60 * Minutes(act, len(cuts))
	if act == ActSlice {
		t.ForS = max(w.in.SliceS, 60)
	}
	w.out.Tasks = append(w.out.Tasks, t)
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
