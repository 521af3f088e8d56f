package settle

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// reach is how far a word goes: the next cook, these cooks, these pieces.
type reach int

const (
	ofNext reach = iota
	ofCooks
	ofPieces
)

var reaches = map[reach]verdict.Reach{ofNext: verdict.NextCook, ofCooks: verdict.TheseCooks, ofPieces: verdict.ThesePieces}

// Widest is the side of the widest reach that can tell; that of these cooks where none can.
func (p Pair) Widest() Side {
	s, _ := p.said()
	return s
}

func (p Pair) said() (Side, reach) {
	tells := func(s Side) bool { return s.Word != "" && s.Word != verdict.CannotTell }
	switch {
	case tells(p.Next):
		return p.Next, ofNext
	case tells(p.Cooks):
		return p.Cooks, ofCooks
	case p.Pieces != nil && tells(*p.Pieces):
		return *p.Pieces, ofPieces
	}
	return p.Cooks, ofCooks
}

// within names a reach; the next cook's is everywhere.
func (t Trial) within(r reach) string {
	switch r {
	case ofNext:
		return ""
	case ofPieces:
		return " on these pieces"
	}
	return " " + inCooks(len(t.distinct(func(c Cut) string { return c.Cook })))
}

// inCooks is the reach of so many cooks, in words.
func inCooks(n int) string {
	switch n {
	case 0, 1:
		return "in this cook"
	case 2:
		return "in these two cooks"
	}
	return fmt.Sprintf("in these %d cooks", n)
}

// fight is an arm over another, as far as it was shown, with what else could be the reason.
type fight struct {
	winner, loser int
	reach         reach
	word          verdict.Word
	but           string
	inCooks       bool // no more than leaning for the next cook, clear in these
	few           int  // so few tasters that it is said
}

// few is how many tasters a word rests on where they are too few to speak for others; else 0.
func (r Row) few() int {
	if r.Tasters < trial.LeastTasters {
		return r.Tasters
	}
	return 0
}

// toFew says to whom a word is so.
func toFew(n int) string {
	switch n {
	case 1:
		return " to this taster"
	case 2:
		return " to these two tasters"
	}
	return ""
}

// beatsAll is the arm that clearly beats every other on an outcome, and the narrowest reach
// of that; -1 for none.
func (t Trial) beatsAll(r Row) (arm int, within reach) {
	wins := make([]int, len(t.Ask.Arms))
	least := make([]reach, len(t.Ask.Arms))
	for _, p := range r.Pairs {
		if s, far := p.said(); s.Word == verdict.Clear {
			wins[*s.Winner]++
			least[*s.Winner] = max(least[*s.Winner], far)
		}
	}
	if arm = slices.Index(wins, len(wins)-1); arm < 0 {
		return arm, ofNext
	}
	return arm, least[arm]
}

// headline says in a few sentences what was found: broken promises that cap a word first,
// then the arms that clearly beat every other, then what is clear or leans between two;
// each with its reach.
func (t Trial) headline(rows []Row, limits []Limit) string {
	type best struct {
		arm   int
		reach reach
		few   int
	}
	type alikeIn struct {
		reach reach
		few   int
	}
	bests, fights := map[best][]string{}, map[fight][]string{}
	same := map[alikeIn][]string{}
	var open []string
	capped := false
	for _, r := range rows {
		name := strings.ToLower(r.Outcome.Name)
		if arm, far := t.beatsAll(r); arm >= 0 && len(r.Pairs) > 0 {
			at := best{arm, far, r.few()}
			bests[at] = append(bests[at], name)
			continue
		}
		told, alike, far := 0, 0, ofNext
		for _, p := range r.Pairs {
			s, within := p.said()
			capped = capped || s.But != "" || p.Cooks.But != "" || p.Next.But != ""
			switch {
			case s.Winner != nil:
				told++
				f := fight{*s.Winner, p.A + p.B - *s.Winner, within, s.Word, s.But, false, r.few()}
				f.inCooks = within == ofNext && s.Word == verdict.Leaning && p.Cooks.Word == verdict.Clear && *p.Cooks.Winner == *s.Winner
				fights[f] = append(fights[f], name)
			case s.Word == verdict.Same:
				alike++
				far = max(far, within)
			}
		}
		switch {
		case len(r.Pairs) == 0 || told > 0:
		case alike == len(r.Pairs):
			same[alikeIn{far, r.few()}] = append(same[alikeIn{far, r.few()}], name)
		default:
			open = append(open, name)
		}
	}
	var parts []string
	for _, l := range limits {
		if l.Broken && capped {
			parts = append(parts, l.Text)
			break
		}
	}
	bestOrder := keysBy(bests, func(a, b best) int {
		return cmp.Or(cmp.Compare(a.reach, b.reach), cmp.Compare(a.arm, b.arm), cmp.Compare(a.few, b.few))
	})
	for _, b := range bestOrder {
		parts = append(parts, t.Ask.Arms[b.arm].Tag+" is the clear winner on "+words.And(bests[b])+t.within(b.reach)+toFew(b.few)+".")
	}
	fightOrder := keysBy(fights, func(a, b fight) int {
		return cmp.Or(cmp.Compare(b2i(a.word != verdict.Clear), b2i(b.word != verdict.Clear)), cmp.Compare(a.reach, b.reach), cmp.Compare(a.winner, b.winner),
			cmp.Compare(a.loser, b.loser), cmp.Compare(a.but, b.but), cmp.Compare(b2i(b.inCooks), b2i(a.inCooks)), cmp.Compare(a.few, b.few))
	})
	for _, f := range fightOrder {
		parts = append(parts, t.fightSaid(f, fights[f]))
	}
	for _, in := range keysBy(same, func(a, b alikeIn) int { return cmp.Or(cmp.Compare(a.reach, b.reach), cmp.Compare(a.few, b.few)) }) {
		parts = append(parts, "The same for our purposes on "+words.And(same[in])+t.within(in.reach)+toFew(in.few)+".")
	}
	if len(open) > 0 {
		parts = append(parts, "Cannot tell on "+words.And(open)+".")
	}
	if names := t.parted(rows); len(names) > 0 {
		parts = append(parts, "Tasters part on "+words.And(names)+".")
	}
	for i, p := range parts {
		parts[i] = strings.ToUpper(p[:1]) + p[1:]
	}
	switch {
	case len(t.Ask.Arms) < 2:
		return "One arm alone: there is nothing to compare."
	case len(parts) == 0:
		return "Nothing to judge yet."
	}
	return strings.Join(parts, " ")
}

// partedShare is from what share of the tasters on, two at least, another arm first is said.
const partedShare = 0.25

// parted are the outcomes on which tasters put different arms first: a result of its own,
// that a mean hides.
func (t Trial) parted(rows []Row) (names []string) {
	for _, r := range rows {
		if r.Outcome.Kind != trial.FromPanel || len(r.Pairs) == 0 || r.Tasters < trial.LeastTasters {
			continue
		}
		first := make([]int, len(t.Ask.Arms))
		told := 0
		for _, h := range panel.Firsts(t.counted(r.Outcome), len(t.Ask.Arms)) {
			if h >= 0 {
				first[h]++
				told++
			}
		}
		slices.Sort(first)
		if second := first[len(first)-2]; second >= 2 && float64(second) >= partedShare*float64(told) {
			names = append(names, strings.ToLower(r.Outcome.Name))
		}
	}
	return names
}

func (t Trial) fightSaid(f fight, names []string) string {
	tag := func(i int) string { return t.Ask.Arms[i].Tag }
	if f.word == verdict.Clear {
		return tag(f.winner) + " clearly beats " + tag(f.loser) + " on " + words.And(names) + t.within(f.reach) + toFew(f.few) + "."
	}
	said := words.And(names) + " " + verb(names, "leans", "lean") + " to " + tag(f.winner)
	if len(t.Ask.Arms) > 2 {
		said += " over " + tag(f.loser)
	}
	said += t.within(f.reach) + toFew(f.few)
	if f.inCooks {
		said += " (clear" + t.within(ofCooks) + ")"
	}
	if f.but != "" {
		said += ", and " + f.but
	}
	return said + "."
}

// keysBy are the keys of a map in an order.
func keysBy[K comparable, V any](m map[K]V, order func(a, b K) int) []K {
	keys := make([]K, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, order)
	return keys
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

func verb(items []string, one, many string) string {
	if len(items) == 1 {
		return one
	}
	return many
}
