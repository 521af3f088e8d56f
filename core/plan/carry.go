package plan

import (
	"reflect"
	"slices"

	"whitebarn/core/phase"
	"whitebarn/core/prep"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// Carry plans every arm as an arm was, but for what the trial varies: where the first guess for
// an arm differs from that for the arm to go on with, the guess stands.
func (o Outline) Carry(a trial.Ask, family thermal.Family, from ArmPhases) Outline {
	control := a.Arms[a.GoOnWith()]
	usual := UsualPhases(a, control, family, ByHeat)
	doses := usualDoses(a, control)
	for i, arm := range a.Arms {
		o.Arms[i] = ArmPhases{arm.ID, carried(from.Phases, usual, UsualPhases(a, arm, family, ByHeat)), carriedDoses(from.Doses, doses, usualDoses(a, arm))}
	}
	return o
}

// carried are phases as they were, with those in which one guess differs from another.
func carried(was, usual, guess []phase.Phase) []phase.Phase {
	switch {
	case reflect.DeepEqual(usual, guess):
		return was
	case !slices.EqualFunc(usual, guess, alike):
		return between(was, usual, guess)
	}
	out := slices.Clone(was)
	nth := map[phase.Kind]int{}
	for i, p := range guess {
		n := nth[p.Kind]
		nth[p.Kind]++
		if reflect.DeepEqual(p, usual[i]) {
			continue
		}
		at := -1
		for j, q := range out {
			if q.Kind == p.Kind {
				if at = j; n == 0 {
					break
				}
				n--
			}
		}
		if at < 0 {
			return guess
		}
		out[at] = p
	}
	return out
}

func alike(a, b phase.Phase) bool { return a.Kind == b.Kind }

// between are phases as they were before and behind a stretch in which a guess has other phases
// than another; the stretch is as guessed, but pulled as it was where both guesses pull alike.
func between(was, usual, guess []phase.Phase) []phase.Phase {
	most := min(len(usual), len(guess))
	head, tail := 0, 0
	for head < most && reflect.DeepEqual(usual[head], guess[head]) {
		head++
	}
	for tail < most-head && reflect.DeepEqual(usual[len(usual)-1-tail], guess[len(guess)-1-tail]) {
		tail++
	}
	out := slices.Clone(guess)
	if head+tail > len(was) {
		return out
	}
	if slices.EqualFunc(was[:head], guess[:head], alike) {
		copy(out, was[:head])
	}
	if slices.EqualFunc(was[len(was)-tail:], guess[len(guess)-tail:], alike) {
		copy(out[len(out)-tail:], was[len(was)-tail:])
	}
	_, u := phase.Fire(usual)
	_, g := phase.Fire(guess)
	_, w := phase.Fire(was)
	if u > 0 && g > 0 && w > 0 && reflect.DeepEqual(usual[u-1].Ends, guess[g-1].Ends) {
		out[g-1].Ends, out[g-1].All = was[w-1].Ends, was[w-1].All
	}
	return out
}

// carriedDoses are doses as they were, with those in which one guess differs from another.
func carriedDoses(was, usual, guess []prep.Dose) []prep.Dose {
	if reflect.DeepEqual(usual, guess) {
		return append([]prep.Dose{}, was...)
	}
	out := []prep.Dose{}
	varied := func(k prep.DoseKind) bool {
		of := func(all []prep.Dose) (out []prep.Dose) {
			for _, d := range all {
				if d.Kind == k {
					out = append(out, d)
				}
			}
			return out
		}
		return !reflect.DeepEqual(of(usual), of(guess))
	}
	for _, d := range was {
		if !varied(d.Kind) {
			out = append(out, d)
		}
	}
	for _, d := range guess {
		if varied(d.Kind) {
			out = append(out, d)
		}
	}
	return out
}
