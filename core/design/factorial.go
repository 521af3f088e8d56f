package design

import (
	"fmt"
	"math/bits"
	"regexp"
	"sort"
	"strings"

	"whitebarn/core/fault"
)

// mostFactors bounds a two-level design: 2^10 runs are past any barn.
const mostFactors = 10

// FactorialInput asks for a two-level design of K factors named A, B, ...;
// each generator, "D=ABC" or "E=-ABCD", halves it.
type FactorialInput struct {
	K          int      `json:"k"`
	Generators []string `json:"generators"`
}

// Factorial is a full or fractional two-level design in standard order. Words
// and aliases are sorted shortest first, then by letter; "-" is the opposite
// sign and "" the mean.
type Factorial struct {
	Runs                 [][]int             `json:"runs"`
	NRuns                int                 `json:"n_runs"`
	DefiningWords        []string            `json:"defining_words"`
	Resolution           *int                `json:"resolution"` // nil for a full design
	Aliases              map[string][]string `json:"aliases"`    // of main and two-factor effects
	RankAllEffects       int                 `json:"rank_all_effects"`
	RankMainEffects      int                 `json:"rank_main_effects"`
	RankMainAndTwoFactor int                 `json:"rank_main_and_two_factor"`
	MainClearOfTwoFactor bool                `json:"main_clear_of_two_factor"`
}

// word is a product of factors with its sign; factors are bits.
type word struct {
	bits     uint
	negative bool
}

func (a word) times(b word) word { return word{a.bits ^ b.bits, a.negative != b.negative} }

func (a word) String() string {
	var s strings.Builder
	if a.negative {
		s.WriteByte('-')
	}
	for f := range mostFactors {
		if a.bits>>f&1 == 1 {
			s.WriteByte(byte('A' + f))
		}
	}
	return s.String()
}

func (a word) size() int { return bits.OnesCount(a.bits) }

var generator = regexp.MustCompile(`^([A-J])=([-+]?)([A-J]+)$`)

// FactorialOf lays out a two-level design and its alias structure (Box, Hunter
// and Hunter, Statistics for Experimenters, 2005, chapter 6).
func FactorialOf(in FactorialInput) (Factorial, error) {
	if in.K < 1 || in.K > mostFactors {
		return Factorial{}, fault.New("k", fmt.Sprintf("%d factors", in.K), fmt.Sprintf("give 1 to %d", mostFactors))
	}
	base := in.K - len(in.Generators)
	if base < 1 {
		return Factorial{}, fault.New("generators", fmt.Sprintf("%d generators leave nothing of %d factors", len(in.Generators), in.K), "give fewer")
	}
	made := make([]word, in.K) // each factor as a product of the base factors
	for f := range base {
		made[f] = word{bits: 1 << f}
	}
	var relation []word
	for i, text := range in.Generators {
		m := generator.FindStringSubmatch(strings.ReplaceAll(text, " ", ""))
		field := fmt.Sprintf("generators[%d]", i)
		if m == nil {
			return Factorial{}, fault.New(field, fmt.Sprintf("%q is not a generator", text), `write it like "D=ABC"`)
		}
		product := word{negative: m[2] == "-"}
		for _, r := range m[3] {
			product.bits ^= 1 << (r - 'A')
		}
		f := int(m[1][0] - 'A')
		if f < base || f >= in.K || made[f].bits != 0 || product.bits >= 1<<base || product.bits == 0 {
			return Factorial{}, fault.New(field, fmt.Sprintf("%q does not make a new factor from %s", text, word{bits: 1<<base - 1}), "make each of the last factors once from the first ones")
		}
		made[f] = product
		relation = append(relation, word{product.bits | 1<<f, product.negative})
	}
	out := Factorial{NRuns: 1 << base, DefiningWords: []string{}, Aliases: map[string][]string{}}
	for run := range out.NRuns {
		row := make([]int, in.K)
		for f := range row {
			row[f] = sign(made[f], uint(run))
		}
		out.Runs = append(out.Runs, row)
	}
	words := subgroup(relation)
	out.DefiningWords = sorted(words)
	for _, w := range words {
		if out.Resolution == nil || w.size() < *out.Resolution {
			n := w.size()
			out.Resolution = &n
		}
	}
	out.MainClearOfTwoFactor = out.Resolution == nil || *out.Resolution > 3
	for _, e := range effects(in.K, 2) {
		aliases := make([]word, len(words))
		for i, w := range words {
			aliases[i] = e.times(w)
		}
		if len(words) > 0 {
			out.Aliases[e.String()] = sorted(aliases)
		}
	}
	out.RankMainEffects = rank(signColumns(out.Runs, effects(in.K, 1)))
	out.RankMainAndTwoFactor = rank(signColumns(out.Runs, effects(in.K, 2)))
	out.RankAllEffects = rank(signColumns(out.Runs, effects(in.K, in.K)))
	return out, nil
}

// sign is the level of a product in a run: a set bit of the run means the high
// level, and each low level turns the sign.
func sign(w word, run uint) int {
	if (bits.OnesCount(w.bits&^run)%2 == 1) != w.negative {
		return -1
	}
	return 1
}

// subgroup are all products of the generators' words, without the mean.
func subgroup(relation []word) []word {
	var out []word
	for pick := 1; pick < 1<<len(relation); pick++ {
		var w word
		for i, r := range relation {
			if pick>>i&1 == 1 {
				w = w.times(r)
			}
		}
		out = append(out, w)
	}
	return out
}

// effects are all products of up to so many factors.
func effects(k, most int) []word {
	var out []word
	for b := uint(1); b < 1<<k; b++ {
		if bits.OnesCount(b) <= most {
			out = append(out, word{bits: b})
		}
	}
	return out
}

// signColumns are the mean and the effects' columns of a design.
func signColumns(runs [][]int, effects []word) [][]float64 {
	cols := [][]float64{ones(len(runs))}
	for _, e := range effects {
		col := make([]float64, len(runs))
		for i, run := range runs {
			col[i] = 1
			for f, s := range run {
				if e.bits>>f&1 == 1 {
					col[i] *= float64(s)
				}
			}
		}
		cols = append(cols, col)
	}
	return cols
}

func sorted(words []word) []string {
	out := make([]string, len(words))
	for i, w := range words {
		out[i] = w.String()
	}
	letters := func(s string) string { return strings.TrimPrefix(s, "-") }
	sort.Slice(out, func(i, j int) bool {
		a, b := letters(out[i]), letters(out[j])
		if len(a) != len(b) {
			return len(a) < len(b)
		}
		return a < b
	})
	return out
}
