// Package trial holds what a trial is: its question, its arms, its cuts and
// the eight steps it goes through.
package trial

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/safety"
)

// UnitKind is the smallest thing a level of a factor is set on by itself. Cuts
// inside one unit are not replicates for that factor.
type UnitKind string

// The kinds of unit.
const (
	UnitCut       UnitKind = "cut"        // wrap, trim, rub
	UnitPitRun    UnitKind = "pit run"    // temperature, fuel, wood, set-up
	UnitHolderRun UnitKind = "holder run" // hold
	UnitBatch     UnitKind = "batch"      // brine
)

// Values lists the kinds.
func (UnitKind) Values() []string {
	return []string{string(UnitCut), string(UnitPitRun), string(UnitHolderRun), string(UnitBatch)}
}

// Arm is one way of cooking in a trial.
type Arm struct {
	ID      int64  `json:"id"`
	Tag     string `json:"tag"`     // the crew's word, 2 to 7 letters
	Level   string `json:"level"`   // its level of the factor
	Control bool   `json:"control"` // today's practice
}

// Held is something kept equal in every arm.
type Held struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Chosen is an outcome the trial decides by.
type Chosen struct {
	Key                OutcomeKey `json:"key"`
	SmallestDifference float64    `json:"smallest_difference"`
	Exact              bool       `json:"exact"` // skewed or ranked: judge by sign flips
}

// Ask is the first step: what is asked, what varies and what decides.
type Ask struct {
	Question  string          `json:"question"`
	Product   string          `json:"product"`
	Cut       string          `json:"cut"`
	Species   safety.Species  `json:"species"`
	Handling  safety.Handling `json:"handling"`
	Factor    string          `json:"factor"`
	Unit      UnitKind        `json:"unit"`
	Arms      []Arm           `json:"arms"`
	Held      []Held          `json:"held"`
	Outcomes  []Chosen        `json:"outcomes"`
	Allergens []string        `json:"allergens"` // in any arm; tasters see the union
}

var tagWord = regexp.MustCompile(`^[A-Z]{2,7}$`)

// Tidy trims what people type and leaves no list nil.
func (a Ask) Tidy() Ask {
	for _, p := range []*string{&a.Question, &a.Product, &a.Cut, &a.Factor} {
		*p = strings.TrimSpace(*p)
	}
	a.Arms, a.Outcomes = append([]Arm{}, a.Arms...), append([]Chosen{}, a.Outcomes...)
	for i := range a.Arms {
		a.Arms[i].Tag = strings.ToUpper(strings.TrimSpace(a.Arms[i].Tag))
		a.Arms[i].Level = strings.TrimSpace(a.Arms[i].Level)
	}
	a.Held = append([]Held{}, a.Held...)
	a.Allergens = slices.DeleteFunc(append([]string{}, a.Allergens...), func(v string) bool { return strings.TrimSpace(v) == "" })
	return a
}

// Check refuses an Ask that cannot be recorded, with every fault at once.
// What merely weakens a trial is left to Warnings.
func (a Ask) Check() error {
	var wrong fault.List
	words := func(field, value, remedy string, most int) {
		switch n := len([]rune(strings.TrimSpace(value))); {
		case n == 0:
			wrong.Add(field, "nothing is written", remedy)
		case n > most:
			wrong.Add(field, fmt.Sprintf("%d letters are too many", n), fmt.Sprintf("keep it to %d", most))
		}
	}
	words("question", a.Question, "ask in one sentence", 140)
	words("product", a.Product, "say what is cooked, for instance lamb shoulder", 60)
	words("cut", a.Cut, "say what one piece is called, for instance shoulder", 40)
	words("factor", a.Factor, "say what changes between the arms", 60)
	if _, err := safety.MinimumOf(safety.Meat{Species: a.Species, Handling: a.Handling}); err != nil {
		wrong.Take("", err)
	}
	if len(a.Arms) != 2 {
		wrong.Add("arms", fmt.Sprintf("%d arms", len(a.Arms)), "give two arms")
	}
	tags, levels := map[string]bool{}, map[string]bool{}
	for i, arm := range a.Arms {
		field := fmt.Sprintf("arms[%d]", i)
		if !tagWord.MatchString(arm.Tag) {
			wrong.Add(field+".tag", fmt.Sprintf("%q is not a tag word", arm.Tag), "use 2 to 7 capital letters, for instance PAPER")
		}
		if arm.Tag != "" && tags[arm.Tag] {
			wrong.Add(field+".tag", fmt.Sprintf("%s is there twice", arm.Tag), "give each arm its own tag")
		}
		level := strings.ToLower(strings.TrimSpace(arm.Level))
		words(field+".level", arm.Level, "say what this arm does", 80)
		if level != "" && levels[level] {
			wrong.Add(field+".level", fmt.Sprintf("%q is in both arms", arm.Level), "the arms must differ in it")
		}
		tags[arm.Tag], levels[level] = true, true
	}
	for i, h := range a.Held {
		words(fmt.Sprintf("held[%d].name", i), h.Name, "name what is held equal, or take the line out", 60)
	}
	seen := map[OutcomeKey]bool{}
	for i, o := range a.Outcomes {
		field := fmt.Sprintf("outcomes[%d]", i)
		d, known := DefaultOf(o.Key)
		switch {
		case !known:
			wrong.Add(field+".key", fmt.Sprintf("%q is not an outcome", o.Key), "choose one of the list")
		case seen[o.Key]:
			wrong.Add(field+".key", d.Name+" is there twice", "take one out")
		case d.Better != Description && !(o.SmallestDifference > 0 && o.SmallestDifference < 1000):
			wrong.Add(field+".smallest_difference", fmt.Sprintf("%s: %v is not a difference", d.Name, o.SmallestDifference), "give the smallest difference that would matter, more than zero")
		}
		seen[o.Key] = true
	}
	return wrong.Err()
}

// Warnings says what the Ask leaves open, in words a pitmaster would use.
func (a Ask) Warnings() []string {
	var out []string
	control := false
	for _, arm := range a.Arms {
		control = control || arm.Control
	}
	if !control {
		out = append(out, "No arm is today's practice. You will learn which arm is better, not whether to change.")
	}
	if len(a.Held) == 0 {
		out = append(out, "Nothing is named as held equal. What is not named tends to drift.")
	}
	decides := false
	for _, o := range a.Outcomes {
		d, _ := DefaultOf(o.Key)
		decides = decides || d.Better != Description
	}
	if !decides {
		out = append(out, "No outcome decides yet.")
	}
	return out
}
