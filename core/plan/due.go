package plan

import (
	"fmt"
	"math"
	"slices"
	"time"

	"whitebarn/core/phase"
)

// Entry is something that was done at the fire: to a cut, or to a pit.
type Entry struct {
	Act  Act
	Cut  int64 // 0: not to a cut
	Pit  int   // place in the pits; -1: not to a pit
	At   time.Time
	SetC float64 // of a set: to what
}

// Due is a task that is still to be done, and why it comes when it does.
type Due struct {
	Task
	Key      string `json:"key"` // names it among the tasks of its cook
	Why      string `json:"why"`
	PutOffBy string `json:"put_off_by"` // empty when nobody did
}

// PutOff is a task that somebody wants to see later.
type PutOff struct {
	Task  string // its key
	Until time.Time
	By    string
}

// key names a task by its arm's tag and its pit's number, which stay where the lists of a
// plan change; what repeats has one key.
func (t Task) key(in Input) string {
	tag, pit := "", int64(0)
	if t.Arm >= 0 {
		tag = in.Arms[t.Arm].Tag
	}
	if t.Pit >= 0 {
		pit = in.Pits[t.Pit].ID
	}
	key := fmt.Sprintf("%s %s %d", t.Act, tag, pit)
	switch {
	case t.Act == ActSet && t.Detail.SetC != nil:
		key += fmt.Sprintf(" %.0f", *t.Detail.SetC)
	case t.nth > 0:
		key += fmt.Sprintf(" %d", t.nth+1)
	}
	return key
}

// Reading is one that the gate will need of some cuts of an arm.
type Reading struct {
	Kind       string // names it among those of its arm
	Arm        int
	Cuts       []int64
	At         time.Time
	BeforePull bool // it is read just before the pull, where one is planned
	Words, Why string
}

// beforePull is how long before the earliest pull such a reading is due (ours).
const beforePull = 15 * time.Minute

// dueAt is when a reading is due in a plan.
func (r Reading) dueAt(p Plan) time.Time {
	for _, t := range p.Tasks {
		if at := t.At.Early.Add(-beforePull); r.BeforePull && t.Act == ActPull && t.Arm == r.Arm && at.After(r.At) {
			return at
		}
	}
	return r.At
}

// DueOf lists what is still to be done of a plan, and the readings that are needed besides, the
// first due first. What the log shows as done is left out; what comes at an interval is due an
// interval after it was last done, and what was put off is due then.
func DueOf(p Plan, in Input, log []Entry, off []PutOff, readings ...Reading) []Due {
	out := []Due{}
	repeated := map[string]bool{}
	for _, t := range p.Tasks {
		last, done := lastDone(t, log)
		switch {
		case t.EveryS > 0:
			key := t.key(in)
			every := seconds(t.EveryS)
			if repeated[key] || passed(t, in, log) {
				continue
			}
			if next := last.Add(every); !last.IsZero() && next.Before(t.At.Middle) && t.phase >= 0 {
				last = time.Time{} // of an earlier phase
			}
			d := Due{Task: t, Why: fmt.Sprintf("every %s, planned from %s", span(every.Seconds()), clockOf(t.At.Middle, p))}
			if !last.IsZero() {
				d.At = sure(last.Add(every))
				d.Why = fmt.Sprintf("every %s, last at %s", span(every.Seconds()), clockOf(last, p))
			}
			repeated[key] = true
			out = append(out, d)
		case done || passed(t, in, log):
		case t.At.Late.After(t.At.Early):
			out = append(out, Due{Task: t, Why: fmt.Sprintf("likely %s to %s", clockOf(t.At.Early, p), clockOf(t.At.Late, p))})
			if t.Act == ActPull {
				out = append(out, check(t, p, in, log))
			}
		default:
			out = append(out, Due{Task: t, Why: "planned"})
		}
	}
	for i := range out {
		out[i].Key = out[i].key(in)
	}
	for _, r := range readings {
		out = append(out, Due{Key: fmt.Sprintf("read %s %s", r.Kind, in.Arms[r.Arm].Tag), Why: r.Why,
			Task: Task{At: sure(r.dueAt(p)), ForS: 60 * Minutes(ActCheck, len(r.Cuts)), Act: ActCheck, Arm: r.Arm, Pit: -1, Cuts: r.Cuts,
				Words: r.Words, Person: -1}})
	}
	for i := range out {
		d := &out[i]
		for _, o := range off {
			if o.Task == d.Key && o.Until.After(d.At.Middle) {
				d.At = sure(o.Until)
				d.PutOffBy = o.By
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Due) int { return a.At.Middle.Compare(b.At.Middle) })
	return out
}

// A cut whose end is not by the clock is looked at before the earliest it may
// be done, and then more often (a rule of the trade).
const (
	firstCheck = 45 * time.Minute // before
	checkEvery = 30 * time.Minute
	checkNear  = 15 * time.Minute // once it may be done
)

// check is the next look at the cuts of a pull.
func check(pull Task, p Plan, in Input, log []Entry) Due {
	every, near := checkEvery, ""
	soon := checkNear
	for _, m := range lastMoves(in.Arms[pull.Arm]) {
		if act, _ := ActOf(m.Act); act == ActCheck && m.EveryS > 0 {
			soon = seconds(m.EveryS)
		}
	}
	if !in.Now.Before(pull.At.Early) {
		every, near = soon, ", it may be done"
	}
	d := Due{Task: pull, Why: fmt.Sprintf("every %s from %s%s", span(every.Seconds()), clockOf(pull.At.Early.Add(-firstCheck), p), near)}
	d.Act, d.Words, d.ForS, d.At = ActCheck, "Check "+in.Arms[pull.Arm].Tag, 60*Minutes(ActCheck, len(pull.Cuts)), sure(pull.At.Early.Add(-firstCheck))
	first := d.At.Middle
	if last, _ := lastDone(d.Task, log); !last.Before(first) {
		d.At = sure(last.Add(every))
		d.Why = fmt.Sprintf("every %s, last at %s%s", span(every.Seconds()), clockOf(last, p), near)
	}
	return d
}

// lastMoves are the moves of the last phase at the fire.
func lastMoves(a Arm) []phase.Repeat {
	if smokes := a.smokes(); len(smokes) > 0 {
		return smokes[len(smokes)-1].Moves
	}
	return nil
}

func clockOf(t time.Time, p Plan) string { return t.In(p.Serve.Location()).Format("15:04") }

// lastDone is when a task's act was last done, and whether it was to all its
// cuts, or to its pit.
func lastDone(t Task, log []Entry) (last time.Time, all bool) {
	if len(t.Cuts) == 0 {
		for _, l := range log {
			if l.Act == t.Act && l.Pit == t.Pit && l.At.After(last) && t.sets(l) {
				last = l.At
			}
		}
		return last, !last.IsZero()
	}
	all = true
	for _, cut := range t.Cuts {
		at, n := find(log, t.Act, cut)
		all = all && n > t.nth
		if at.After(last) {
			last = at
		}
	}
	return last, all
}

// sets says whether a pit was set to what a task asks for; what is no set is.
func (t Task) sets(l Entry) bool {
	const same = 3.0 // C, a dial
	return t.Act != ActSet || t.Detail.SetC == nil || math.Abs(l.SetC-*t.Detail.SetC) <= same
}

// find is when an act was last done to a cut, and how often.
func find(log []Entry, act Act, cut int64) (last time.Time, n int) {
	for _, l := range log {
		if l.Act == act && l.Cut == cut {
			n++
			if l.At.After(last) {
				last = l.At
			}
		}
	}
	return last, n
}

// after which acts on the same cuts a task has no more sense.
var endsWith = map[Act][]Act{
	ActPrepare: {ActOn}, ActOn: {ActPull}, ActSpritz: {ActWrap, ActPull}, ActWrap: {ActPull}, ActUnwrap: {ActPull}, ActHold: {ActSlice}, ActLight: {ActOn},
	ActTurn: {ActPull}, ActFlip: {ActPull}, ActRotate: {ActPull}, ActBaste: {ActPull}, ActSear: {ActSlice}, ActFry: {ActSlice},
	ActBroil: {ActSlice},
	ActSauce: {ActSlice}, ActMove: {ActSlice}, ActChill: {ActSlice}, ActReheat: {ActSlice},
}

// passed says whether what comes after a task was done already to all its cuts.
func passed(t Task, in Input, log []Entry) bool {
	if len(t.Cuts) == 0 {
		return false
	}
	ends := endsWith[t.Act]
	if t.phase >= 0 && t.Arm >= 0 && !in.Arms[t.Arm].atFire(t.phase) { // after the pull
		ends = []Act{ActSlice}
	}
	for _, next := range ends {
		all := true
		for _, cut := range t.Cuts {
			_, n := find(log, next, cut)
			all = all && n > 0
		}
		if all {
			return true
		}
	}
	return false
}
