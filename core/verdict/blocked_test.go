package verdict

import (
	"encoding/json"
	"math"
	"os"
	"testing"
)

// TestLeastSquaresMeetsTheReference checks y ~ arm + block against results
// computed independently (drop1 and glht of R's lm), missing cells and
// unconnected arms included.
func TestLeastSquaresMeetsTheReference(t *testing.T) {
	text, err := os.ReadFile("../testdata/02_blocked.json")
	if err != nil {
		t.Fatal(err)
	}
	var set struct {
		Cases []struct {
			Name  string
			Input struct {
				Arms          []string
				ScoresByBlock [][]*float64 `json:"scores_by_block"`
			}
			Expect struct {
				LeastSquares *struct {
					Connected bool
					DF        int        `json:"df_resid"`
					MS        *float64   `json:"ms_resid"`
					Means     []*float64 `json:"adjusted_means"`
					SE        []*float64 `json:"adjusted_se"`
					Pairs     []struct {
						Pair     [2]string
						Diff, SE *float64
						RawP     *float64 `json:"p"`
						RawPHolm *float64 `json:"p_holm"`
					}
				} `json:"least_squares"`
			}
		}
	}
	if err := json.Unmarshal(text, &set); err != nil {
		t.Fatal(err)
	}
	near := func(got float64, want *float64) bool {
		return want != nil && math.Abs(got-*want) <= 1e-7*(1+math.Abs(*want))
	}
	ran := 0
	for _, c := range set.Cases {
		want := c.Expect.LeastSquares
		if want == nil {
			continue
		}
		ran++
		place := map[string]int{}
		for i, a := range c.Input.Arms {
			place[a] = i
		}
		var cells []Cell
		var units []Observation
		for b, row := range c.Input.ScoresByBlock {
			for a, y := range row {
				if y != nil {
					cells = append(cells, Cell{Arm: a, Block: b, Y: *y})
					units = append(units, Observation{Arm: a, Unit: string(rune('A'+a)) + string(rune('a'+b)), Block: string(rune('a' + b)), Value: *y})
				}
			}
		}
		fit := LeastSquares(len(c.Input.Arms), len(c.Input.ScoresByBlock), cells)
		if want.Connected && (fit.DF != want.DF || want.MS != nil && !near(fit.MS, want.MS)) {
			t.Errorf("%s: %d degrees of freedom and mean square %v, want %d", c.Name, fit.DF, fit.MS, want.DF)
		}
		for i, m := range want.Means {
			if got, se, ok := fit.Mean(i); m != nil && (!ok || !near(got, m) || i < len(want.SE) && want.SE[i] != nil && !near(se, want.SE[i])) {
				t.Errorf("%s: adjusted mean of %s is %v ± %v, want %v", c.Name, c.Input.Arms[i], got, se, *m)
			}
		}
		compared := Compare(units, Setting{Arms: len(c.Input.Arms)})
		var evidence []Comparison
		for _, p := range compared.Pairs {
			if p.Evidence != nil {
				evidence = append(evidence, *p.Evidence)
			}
		}
		for i, p := range want.Pairs {
			diff, se, ok := fit.Contrast(place[p.Pair[0]], place[p.Pair[1]])
			if p.Diff == nil {
				if ok {
					t.Errorf("%s: %v can be told apart by %v, want no estimate", c.Name, p.Pair, diff)
				}
				continue
			}
			if !ok || !near(diff, p.Diff) || p.SE != nil && !near(se, p.SE) {
				t.Errorf("%s: %v differ by %v ± %v, want %v", c.Name, p.Pair, diff, se, *p.Diff)
			}
			if p.RawPHolm != nil && len(evidence) == len(want.Pairs) {
				j := Judge(evidence, 1e-9, Plain)[i]
				if !near(*j.P, p.RawP) || !near(*j.PHolm, p.RawPHolm) {
					t.Errorf("%s: %v has p %v, by Holm %v; want %v and %v", c.Name, p.Pair, *j.P, *j.PHolm, *p.RawP, *p.RawPHolm)
				}
			}
		}
	}
	if ran < 8 {
		t.Errorf("only %d tables were compared", ran)
	}
}
