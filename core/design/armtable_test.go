package design

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/mat"
)

// svdRank is the judge of ranks: singular values, where the code uses Gram-Schmidt.
func svdRank(cols [][]float64) int {
	if len(cols) == 0 {
		return 0
	}
	m := mat.NewDense(len(cols[0]), len(cols), nil)
	for j, c := range cols {
		m.SetCol(j, c)
	}
	var svd mat.SVD
	svd.Factorize(m, mat.SVDNone)
	n := 0
	for _, s := range svd.Values(nil) {
		if s > 1e-9 {
			n++
		}
	}
	return n
}

// indicators are one column for each level of each of the given factors, and
// the mean: the model without the coding of the code under test.
func indicators(t ArmTable, factors ...int) [][]float64 {
	cols := [][]float64{ones(len(t.Arms))}
	for _, f := range factors {
		seen := map[string]bool{}
		for _, arm := range t.Arms {
			if seen[arm[f]] {
				continue
			}
			seen[arm[f]] = true
			col := make([]float64, len(t.Arms))
			for i, other := range t.Arms {
				if other[f] == arm[f] {
					col[i] = 1
				}
			}
			cols = append(cols, col)
		}
	}
	return cols
}

// relabels says, by trying every renaming of levels, whether two columns are one.
func relabels(t ArmTable, f, g int) bool {
	for i := range t.Arms {
		for j := range i {
			if (t.Arms[i][f] == t.Arms[j][f]) != (t.Arms[i][g] == t.Arms[j][g]) {
				return false
			}
		}
	}
	return true
}

func TestConfoundingAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 14))
	for range 400 {
		table := ArmTable{Factors: []string{"a", "b", "c", "d"}[:2+r.IntN(3)]}
		for range 2 + r.IntN(5) {
			row := make([]string, len(table.Factors))
			for f := range row {
				row[f] = fmt.Sprint(r.IntN(2 + f%2))
			}
			table.Arms = append(table.Arms, row)
		}
		got, err := ConfoundingOf(table)
		if err != nil {
			t.Fatal(err)
		}
		all := []int{}
		for f := range table.Factors {
			all = append(all, f)
		}
		full := svdRank(indicators(table, all...))
		if got.ModelRank != full {
			t.Fatalf("%v has rank %d, want %d", table.Arms, got.ModelRank, full)
		}
		for f, reading := range got.Factors {
			others := slices.DeleteFunc(slices.Clone(all), func(g int) bool { return g == f })
			if want := full - svdRank(indicators(table, others...)); reading.DFEstimable != want {
				t.Fatalf("%v: %s brings %d to the rank, want %d", table.Arms, reading.Factor, reading.DFEstimable, want)
			}
			if (reading.GVIF != nil) != (reading.Estimable == Full) || reading.GVIF != nil && *reading.GVIF < 1-1e-9 {
				t.Fatalf("%v: %s has inflation %v and is estimable %q", table.Arms, reading.Factor, reading.GVIF, reading.Estimable)
			}
			for g := f + 1; g < len(all); g++ {
				together := slices.Contains(got.Completely, [2]string{table.Factors[f], table.Factors[g]})
				varied := reading.Levels > 1 && got.Factors[g].Levels > 1
				if together != (varied && relabels(table, f, g)) {
					t.Fatalf("%v: %s and %s are said to be one column: %v", table.Arms, table.Factors[f], table.Factors[g], together)
				}
			}
		}
	}
	for _, bad := range []ArmTable{{}, {Factors: []string{"a"}, Arms: [][]string{{"1", "2"}}}} {
		if _, err := ConfoundingOf(bad); err == nil {
			t.Errorf("%v is read", bad)
		}
	}
}

// TestAliasesAreTheSameColumns multiplies the runs of every design of up to six
// factors and one or two random generators.
func TestAliasesAreTheSameColumns(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 72))
	letters := "ABCDEF"
	product := func(run []int, name string) int {
		p := 1
		if strings.HasPrefix(name, "-") {
			p, name = -1, name[1:]
		}
		for _, l := range name {
			p *= run[l-'A']
		}
		return p
	}
	for range 200 {
		base := 2 + r.IntN(3)
		extra := 1 + r.IntN(2)
		in := FactorialInput{K: base + extra}
		for e := range extra {
			pick := 1 + r.IntN(1<<base-1)
			g := string(letters[base+e]) + "=" + []string{"", "-"}[r.IntN(2)]
			for f := range base {
				if pick>>f&1 == 1 {
					g += string(letters[f])
				}
			}
			in.Generators = append(in.Generators, g)
		}
		d, err := FactorialOf(in)
		if err != nil {
			t.Fatalf("%v: %v", in, err)
		}
		for effect, aliases := range d.Aliases {
			if len(aliases) != 1<<extra-1 {
				t.Fatalf("%v: %s has %d aliases, want %d", in.Generators, effect, len(aliases), 1<<extra-1)
			}
			for _, alias := range aliases {
				for _, run := range d.Runs {
					if product(run, effect) != product(run, alias) {
						t.Fatalf("%v: %s and %q differ in run %v", in.Generators, effect, alias, run)
					}
				}
			}
		}
	}
	for _, bad := range []FactorialInput{{K: 0}, {K: 11}, {K: 2, Generators: []string{"B=A", "A=B"}}, {K: 3, Generators: []string{"C=AC"}}, {K: 3, Generators: []string{"nonsense"}}, {K: 3, Generators: []string{"A=BC"}}} {
		if _, err := FactorialOf(bad); err == nil {
			t.Errorf("%v is laid out", bad)
		}
	}
}

func TestLatinSquaresAndBlocksAreBalanced(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	for k := 2; k <= 6; k++ {
		var in PositionsInput
		for _, row := range LatinSquare(r, k) {
			var names []string
			for _, arm := range row {
				names = append(names, string(rune('A'+arm)))
			}
			in.Arms = append(in.Arms, names)
		}
		if p, err := PositionsOf(in); err != nil || !p.IsLatinSquare || p.PositionSpread != 0 {
			t.Errorf("%v is no Latin square (%v)", in.Arms, err)
		}
	}
	for v := 3; v <= 6; v++ {
		for k := 2; k < v; k++ {
			times, meets := make([]int, v), grid(v, v)
			for _, block := range IncompleteBlocks(v, k) {
				if len(block) != k {
					t.Fatalf("a block of %d arms, want %d", len(block), k)
				}
				for i, a := range block {
					times[a]++
					for _, b := range block[:i] {
						meets[a][b]++
						meets[b][a]++
					}
				}
			}
			for a := range v {
				for b := range v {
					if times[a] != times[0] || a != b && meets[a][b] != meets[0][1] || times[0] == 0 {
						t.Fatalf("%d arms in blocks of %d: arm %d comes %d times and meets arm %d %d times", v, k, a, times[a], b, meets[a][b])
					}
				}
			}
		}
	}
	if IncompleteBlocks(3, 3) != nil || IncompleteBlocks(7, 2) != nil {
		t.Error("a plan is made where there is none")
	}
}
