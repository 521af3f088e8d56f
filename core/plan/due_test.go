package plan

import (
	"slices"
	"strings"
	"testing"
	"time"
)

// words of what is due, the first first.
func dueWords(due []Due) (out []string) {
	for _, d := range due {
		out = append(out, d.Words)
	}
	return out
}

func TestWhatIsDueFollowsTheLog(t *testing.T) {
	in := supper()
	for i := range in.Arms {
		in.Arms[i].Phases[1].SpritzEveryS, in.Arms[i].Phases[1].SpritzFromS = 3600, 7200
	}
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	first := DueOf(p, in, nil, nil)
	if len(first) == 0 || first[0].Act != ActPrepare {
		t.Fatalf("with nothing done the first is %+v", first)
	}
	counts := map[Act]int{}
	for i, d := range first {
		counts[d.Act]++
		if d.Why == "" || i > 0 && d.At.Middle.Before(first[i-1].At.Middle) {
			t.Errorf("%s is due at %s because %q, after %s", d.Words, d.At.Middle, d.Why, first[max(i-1, 0)].Words)
		}
	}
	if counts[ActSpritz] != 2 || counts[ActWood] != 1 || counts[ActOn] != 2 || counts[ActSlice] != 1 {
		t.Errorf("due are %v; what repeats is due once for each arm or pit", counts)
	}

	on := day(3, 6, 0)
	log := []Entry{{Act: ActLight, Pit: 0, At: on.Add(-time.Hour)}}
	for _, c := range in.Cuts {
		log = append(log, Entry{Act: ActOn, Cut: c.ID, Pit: -1, At: on})
	}
	after := dueWords(DueOf(p, in, log, nil))
	for _, gone := range []string{"Light Brick Pit", "PAPER on, 2 cuts", "BARE: dry brine"} {
		if slices.Contains(after, gone) {
			t.Errorf("with the cuts on, %s is still due", gone)
		}
	}

	// Spritzed and fed, both are due an interval later.
	done := on.Add(130 * time.Minute)
	log = append(log, Entry{Act: ActWood, Pit: 0, At: done})
	for _, id := range []int64{1, 3} { // PAPER
		log = append(log, Entry{Act: ActSpritz, Cut: id, Pit: -1, At: done})
	}
	for _, d := range DueOf(p, in, log, nil) {
		switch {
		case d.Words == "Spritz PAPER":
			if !d.At.Middle.Equal(done.Add(time.Hour)) || !strings.Contains(d.Why, "last at 08:10") {
				t.Errorf("PAPER is to be spritzed at %s, %s", d.At.Middle, d.Why)
			}
		case d.Act == ActWood:
			if !d.At.Middle.Equal(done.Add(50 * time.Minute)) {
				t.Errorf("wood is due at %s", d.At.Middle)
			}
		}
	}

	// Wrapped cuts are spritzed no more; half an arm pulled is still to be pulled.
	for _, id := range []int64{1, 3} {
		log = append(log, Entry{Act: ActWrap, Cut: id, Pit: -1, At: done.Add(3 * time.Hour)})
	}
	log = append(log, Entry{Act: ActPull, Cut: 1, Pit: -1, At: done.Add(6 * time.Hour)})
	words := dueWords(DueOf(p, in, log, nil))
	if slices.Contains(words, "Spritz PAPER") || slices.Contains(words, "Wrap PAPER") || !slices.Contains(words, "Pull PAPER") || !slices.Contains(words, "Spritz BARE") {
		t.Errorf("with PAPER wrapped and one of it pulled, due are %v", words)
	}
}

func TestACutNearItsEndIsCheckedMoreOften(t *testing.T) {
	in := supper()
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	pull := p.Tasks[slices.IndexFunc(p.Tasks, func(x Task) bool { return x.Act == ActPull })]
	check := func(now time.Time, log []Entry, off ...PutOff) Due {
		t.Helper()
		in.Now = now
		due := DueOf(p, in, log, off)
		i := slices.IndexFunc(due, func(d Due) bool { return d.Act == ActCheck && d.Arm == pull.Arm })
		if i < 0 {
			t.Fatalf("no check of %s is due", pull.Words)
		}
		return due[i]
	}
	early := pull.At.Early
	looked := func(before time.Duration) (log []Entry) {
		for _, id := range pull.Cuts {
			log = append(log, Entry{Act: ActCheck, Cut: id, Pit: -1, At: early.Add(-before)})
		}
		return log
	}
	if d := check(early.Add(-4*time.Hour), looked(3*time.Hour)); !d.At.Middle.Equal(early.Add(-45 * time.Minute)) {
		t.Errorf("the first check is due at %s, the cut may be done from %s", d.At.Middle, early)
	}
	if d := check(early.Add(-20*time.Minute), looked(30*time.Minute)); !d.At.Middle.Equal(early) || !strings.Contains(d.Why, "every 30 min") {
		t.Errorf("checked half an hour before, the next is due at %s because %q", d.At.Middle, d.Why)
	}
	if d := check(early.Add(time.Minute), looked(0)); !d.At.Middle.Equal(early.Add(15*time.Minute)) || !strings.Contains(d.Why, "it may be done") {
		t.Errorf("once it may be done, the next is due at %s because %q", d.At.Middle, d.Why)
	}
	first := check(early.Add(-2*time.Hour), nil)
	until := first.At.Middle.Add(10 * time.Minute)
	if d := check(early.Add(-2*time.Hour), nil, PutOff{first.Key, until, "Tove"}, PutOff{first.Key + "1", until.Add(time.Hour), "Bram"}); !d.At.Middle.Equal(until) || d.PutOffBy != "Tove" {
		t.Errorf("put off by ten minutes it is due at %s, put off by %q", d.At.Middle, d.PutOffBy)
	}
	if d := check(early.Add(-2*time.Hour), nil, PutOff{first.Key, first.At.Middle.Add(-time.Hour), "Tove"}); !d.At.Middle.Equal(first.At.Middle) {
		t.Errorf("put off to a time before it was due, it is due at %s", d.At.Middle)
	}
}

// TestWhatIsPutOffStaysWithItsPit takes another pit out of a plan, or puts one before it.
func TestWhatIsPutOffStaysWithItsPit(t *testing.T) {
	in := Input{Arms: []Arm{{Tag: "PAPER"}, {Tag: "BARE"}}, Pits: []Pit{{ID: 7}, {ID: 4}}}
	turned := Input{Arms: []Arm{{Tag: "BARE"}}, Pits: []Pit{{ID: 4}, {ID: 9}, {ID: 7}}}
	for _, c := range []struct {
		was, now Task
		same     bool
	}{
		{Task{Act: ActWood, Arm: -1, Pit: 0}, Task{Act: ActWood, Arm: -1, Pit: 2}, true},
		{Task{Act: ActWood, Arm: -1, Pit: 0}, Task{Act: ActWood, Arm: -1, Pit: 0}, false},
		{Task{Act: ActSpritz, Arm: 1, Pit: 1}, Task{Act: ActSpritz, Arm: 0, Pit: 0}, true},
		{Task{Act: ActSpritz, Arm: 0, Pit: 1}, Task{Act: ActSpritz, Arm: 0, Pit: 0}, false},
	} {
		if was, now := c.was.key(in), c.now.key(turned); was == now != c.same {
			t.Errorf("%q and then %q: the same is %v, want %v", was, now, was == now, c.same)
		}
	}
}

// Readings that the gate will need stand among what is due; one of before the pull waits for it.
func TestReadingsThatAreNeededAreDue(t *testing.T) {
	in := supper()
	p, err := Of(t.Context(), in)
	if err != nil {
		t.Fatal(err)
	}
	pull := p.Tasks[slices.IndexFunc(p.Tasks, func(x Task) bool { return x.Act == ActPull && x.Arm == 1 })]
	now := day(3, 7, 0)
	due := func(r Reading, off ...PutOff) Due {
		t.Helper()
		r.Arm, r.At, r.Words, r.Why = 1, now, "Read it", "because"
		all := DueOf(p, in, nil, off, r)
		i := slices.IndexFunc(all, func(d Due) bool { return d.Words == "Read it" })
		if i < 0 {
			t.Fatalf("it is not among %v", dueWords(all))
		}
		return all[i]
	}
	if d := due(Reading{Kind: "start", Cuts: []int64{2, 4}}); !d.At.Middle.Equal(now) || d.Act != ActCheck || d.Why != "because" ||
		d.Key != "read start "+in.Arms[1].Tag {
		t.Errorf("a reading that is due now is %+v", d)
	}
	if d := due(Reading{Kind: "places", BeforePull: true}); !d.At.Middle.Equal(pull.At.Early.Add(-15 * time.Minute)) {
		t.Errorf("one of before the pull is due at %s, and the pull at %s", d.At.Middle, pull.At.Early)
	}
	until := now.Add(20 * time.Minute)
	if d := due(Reading{Kind: "start"}, PutOff{Task: "read start " + in.Arms[1].Tag, Until: until,
		By: "Tove"}); !d.At.Middle.Equal(until) || d.PutOffBy != "Tove" {
		t.Errorf("put off it is %+v", d)
	}
}
