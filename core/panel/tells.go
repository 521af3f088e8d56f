package panel

import (
	"fmt"
	"math"

	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

// TellsInput asks what a flight may tell of these pieces, and how many tasters would do.
type TellsInput struct {
	Format   Format  `json:"format"`
	Tasters  int     `json:"tasters"`   // who taste blind
	PerArm   int     `json:"per_arm"`   // samples of an arm on a plate
	Rounds   int     `json:"rounds"`    // flights alike of a test of three
	SD       float64 `json:"sd_taster"` // of one taster's score of one sample
	Smallest float64 `json:"smallest"`  // difference that matters
}

// Tells is what a flight may tell.
type Tells struct {
	Said   []string `json:"said"`
	Enough bool     `json:"enough"` // what matters would show
}

// Of planning: shown so often, by a test of this level.
const (
	tellPower = 0.8
	tellAlpha = 0.05
	// clearApart is a d' at which two samples are plainly not the same: three in four name the odd one.
	clearApart = 2.6
)

// LeastRepeats of each arm a taster alone needs: of 4 against 4 the clearest parting has a
// chance of 0.029.
const LeastRepeats = 4

// TellsOf says it.
func TellsOf(in TellsInput) Tells {
	switch in.Format {
	case ByTriangle, ByDuoTrio:
		return in.forced()
	case ByPreference:
		return in.preference()
	case ByRanks:
		return in.ranking()
	}
	return in.scores()
}

// scores counts on each taster's own difference of two arms, t over tasters.
func (in TellsInput) scores() (out Tells) {
	per := max(1, in.PerArm)
	if in.Tasters == 1 {
		if per < LeastRepeats {
			out.Said = append(out.Said, fmt.Sprintf("One taster alone tells nothing from %s an arm: take %d of each, or triangles.", words.Plural(per, "sample"), LeastRepeats))
			return out
		}
		p := 2 / choose(2*per, per)
		out.Said = append(out.Said, fmt.Sprintf("One taster alone, %d of each: only where every sample of one arm lies over all of the other is it shown (chance %.3f).", per, p))
		out.Enough = p <= tellAlpha
		return out
	}
	if in.Tasters < 1 {
		return out
	}
	sd := in.SD * math.Sqrt(2/float64(per))
	p, err := verdict.Power(verdict.Planning{N: in.Tasters, SD: sd, Delta: 2 * in.Smallest, Power: tellPower, Alpha: tellAlpha})
	if err != nil {
		return out
	}
	found := fmt.Sprintf("%s tell these pieces apart 8 times in 10 from %.1f points on", words.Plural(in.Tasters, "taster"), p.DetectableDifference)
	if in.Tasters == 2 {
		found = fmt.Sprintf("Two tasters tell these pieces apart only where both say nearly the same: %.1f points, 8 times in 10", p.DetectableDifference)
	}
	out.Enough = p.DetectableDifference <= 2*in.Smallest+1e-9
	if !out.Enough {
		found += fmt.Sprintf("; for %.1f points it takes %d", 2*in.Smallest, p.NRequired)
	}
	out.Said = append(out.Said, found+".")
	return out
}

func (in TellsInput) forced() (out Tells) {
	m, _ := in.Format.Method()
	n := in.Tasters * max(1, in.Rounds)
	if n < 1 {
		return out
	}
	least := m.Least(n, tellAlpha)
	if least == 0 {
		need := 1
		for m.Least(need, tellAlpha) == 0 {
			need++
		}
		out.Said = append(out.Said, fmt.Sprintf("%s: even all right may be luck. It takes %d at least, each right.", words.Plural(n, "answer"), need))
		return out
	}
	chance := atLeast(least, n, m.Correct(clearApart))
	out.Enough = chance >= tellPower
	out.Said = append(out.Said, fmt.Sprintf("%d of %d right shows that they can be told apart; a plain difference does so %s.", least, n, timesInTen(chance)))
	return out
}

func (in TellsInput) preference() (out Tells) {
	for k := (in.Tasters + 1) / 2; k <= in.Tasters; k++ {
		if twoTailed(k, in.Tasters) <= tellAlpha {
			chance := atLeast(k, in.Tasters, 0.8)
			out.Enough = chance >= tellPower
			out.Said = []string{fmt.Sprintf("%d of %d for one shows a preference; where four in five have it, that comes %s.", k, in.Tasters, timesInTen(chance))}
			return out
		}
	}
	out.Said = []string{fmt.Sprintf("%s show no preference even if all agree. It takes six.", words.Capital(words.Plural(in.Tasters, "vote")))}
	return out
}

func (in TellsInput) ranking() (out Tells) {
	if in.Tasters < 2 {
		out.Said = []string{"One ranking alone shows nothing of others: rank again in another flight, or use triangles."}
		return out
	}
	out.Enough = in.Tasters >= 6
	out.Said = []string{"A ranking needs little practice; from six tasters on it shows which is liked best, not by how much."}
	if !out.Enough {
		out.Said = []string{fmt.Sprintf("%s: a ranking shows something only where nearly all agree. Six and more do better.", words.Capital(words.Plural(in.Tasters, "taster")))}
	}
	return out
}

func timesInTen(p float64) string {
	switch n := math.Round(10 * p); {
	case p >= 0.975:
		return "nearly always"
	case n < 1:
		return "hardly ever"
	default:
		return fmt.Sprintf("%.0f times in 10", n)
	}
}

// choose is n over k.
func choose(n, k int) float64 {
	c := 1.0
	for i := range k {
		c = c * float64(n-i) / float64(i+1)
	}
	return math.Round(c)
}
