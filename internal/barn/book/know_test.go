package book

import (
	"testing"
	"time"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/store"
)

// TestWordsFindWhatWasTried: a product by most of its words, a factor by its name or one of its
// levels, an outcome by its name; words of nothing find nothing.
func TestWordsFindWhatWasTried(t *testing.T) {
	products := []MapChoice{{1, "duck leg"}, {2, "lamb shoulder"}, {3, "lamb neck"}}
	factors := []MapChoice{{7, "wrap"}, {8, "hold time"}, {9, "wood"}}
	catalogue := []store.CatalogueFactor{{Factor: trial.Factor{ID: 7, Name: "wrap"}, Levels: []store.CatalogueLevel{{Value: "paper"}, {Value: "none"}}},
		{Factor: trial.Factor{ID: 9, Name: "wood"}, Levels: []store.CatalogueLevel{{Value: "alder and apricot"}}}, {Factor: trial.Factor{ID: 10, Name: "rub"}, Levels: []store.CatalogueLevel{{Value: "dry"}}}}
	for _, c := range []struct {
		text            string
		product, factor int64
	}{
		{"Paper wrap, lamb shoulder?", 2, 7}, {"lamb neck paper", 3, 7}, {"LAMB", 2, 0}, {"does ALDER suit duck", 1, 9}, {"hold time",
			0, 8}, {"dry", 0, 0}, {"", 0, 0}, {"goose", 0, 0},
	} {
		w := tokens(c.text)
		if p, f := match(w, products), factorIn(w, factors, catalogue); p != c.product || f != c.factor {
			t.Errorf("%q finds product %d and factor %d, want %d and %d", c.text, p, f, c.product, c.factor)
		}
	}
	outcomes := []trial.OutcomeDefault{{Key: trial.Juiciness, Name: "Juiciness"}, {Key: trial.Overall, Name: "Overall liking"},
		{Key: trial.Bark, Name: "Bark or skin"}}
	for _, c := range []struct {
		asked trial.OutcomeKey
		text  string
		want  trial.OutcomeKey
	}{{"", "bark of lamb", trial.Bark}, {"", "lamb", trial.Overall}, {trial.Juiciness, "bark", trial.Juiciness}, {"unknown", "juiciness", trial.Juiciness}} {
		q := KnowChosen{Outcome: c.asked}
		if q.outcome(tokens(c.text), outcomes); q.Outcome != c.want {
			t.Errorf("%q with %q chosen asks of %q, want %q", c.text, c.asked, q.Outcome, c.want)
		}
	}
}

// TestTheContrastWithMostTrialsIsAnswered, of those the one of which most was told; a choice
// stands.
func TestTheContrastWithMostTrialsIsAnswered(t *testing.T) {
	effect := func(id, first, second int64, word verdict.Word) store.KnownEffect {
		return store.KnownEffect{TrialID: id, First: first, Second: second, Word: word, SE: 1}
	}
	all := []store.KnownEffect{effect(1, 41, 40, verdict.CannotTell), effect(2, 40, 41, verdict.Leaning), effect(3, 42, 40, verdict.Clear)}
	q := KnowChosen{}
	if q.pair(all, nil); min(q.First, q.Second) != 40 || max(q.First, q.Second) != 41 {
		t.Errorf("it answers of %d and %d, want of the two with two trials", q.First, q.Second)
	}
	alone := KnowChosen{}
	if alone.pair(all[1:], nil); max(alone.First, alone.Second) != 42 {
		t.Errorf("of one trial each it answers of %d and %d, want of the one that told more", alone.First, alone.Second)
	}
	var asked KnowChosen
	if asked.pair(all, map[int64]bool{42: true}); asked.First != 42 && asked.Second != 42 {
		t.Errorf("of a level that was named, %d and %d are told", asked.First, asked.Second)
	}
	chosen := KnowChosen{First: 42, Second: 41}
	if chosen.pair(all, nil); chosen.First != 42 || chosen.Second != 41 {
		t.Error("what was chosen is not answered")
	}
}

// TestAnEffectIsTurned with its means and tags, so that the level asked first stands first.
func TestAnEffectIsTurned(t *testing.T) {
	a, b := 7.3, 5.9
	e := store.KnownEffect{First: 40, Second: 41, Estimate: -1.4, SE: 0.3, Setting: settle.Setting{Tags: [2]string{"BARE", "PAPER"}, Means: [2]*float64{&b, &a}}}
	is := turned(e, 41)
	if is.Estimate != 1.4 || is.Setting.Tags[0] != "PAPER" || *is.Setting.Means[0] != 7.3 || is.SE != 0.3 {
		t.Errorf("turned it is %+v", is)
	}
	if as := turned(e, 40); as.Estimate != -1.4 || as.Setting.Tags[0] != "BARE" {
		t.Errorf("not turned it is %+v", as)
	}
	if e.Setting.Tags[0] != "BARE" {
		t.Error("what is kept was changed")
	}
}

// TestTheMapCountsWhatWasSettled: a trial that ended without a word stays open, the newest
// sentence is said.
func TestTheMapCountsWhatWasSettled(t *testing.T) {
	now := time.Now()
	word := func(w verdict.Word) *verdict.Word { return &w }
	var c MapCell
	for _, r := range []store.MapRow{{TrialID: 4, Levels: []string{"none", "paper"}}, {TrialID: 3, RevealedAt: &now,
		Word: word(verdict.CannotTell), Levels: []string{"none", "paper"}},
		{TrialID: 2, RevealedAt: &now, Word: word(verdict.Clear), Levels: []string{"none", "paper"}}, {TrialID: 1, RevealedAt: &now,
			Levels: []string{"none", "foil"}}} {
		c.add(r)
	}
	if c.Settled != 1 || c.Open != 3 || len(c.Series) != 4 || !c.Series[2].Settled || c.Series[1].Settled {
		t.Errorf("it counts %d settled and %d open of %+v", c.Settled, c.Open, c.Series)
	}
}

// TestTheVersionInForceIsTheLastThatDidNotFail.
func TestTheVersionInForceIsTheLastThatDidNotFail(t *testing.T) {
	now := time.Now()
	version := func(id int64, failed bool) store.ProcessVersion {
		v := store.ProcessVersion{ID: id}
		if failed {
			v.FailedAt = &now
		}
		return v
	}
	for name, c := range map[string]struct {
		versions []store.ProcessVersion
		want     int64
	}{
		"none": {nil, 0}, "one": {[]store.ProcessVersion{version(1, false)}, 1}, "the first failed": {[]store.ProcessVersion{version(1, true), version(2, false)}, 2},
		"the last failed": {[]store.ProcessVersion{version(1, false), version(2, true)},
			1}, "all failed": {[]store.ProcessVersion{version(1, true), version(2, true)}, 2},
	} {
		if v, ok := (card{versions: c.versions}).inForce(); v.ID != c.want || ok != (c.want != 0) {
			t.Errorf("%s: version %d is in force (%v), want %d", name, v.ID, ok, c.want)
		}
	}
}
