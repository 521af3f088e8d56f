package verdict

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// ballots are scores of so many tasters on both arms of so many cuts; value gives each.
func ballots(tasters, cuts int, value func(taster, cut, arm int) float64) MixedInput {
	in := MixedInput{Arms: []string{"BARE", "PAPER"}, Columns: []string{"arm", "taster", "cut", "score"}}
	quote := func(v any) json.RawMessage {
		b, err := json.Marshal(v)
		if err != nil {
			panic(err)
		}
		return b
	}
	for t := range tasters {
		for c := range cuts {
			for a, arm := range in.Arms {
				in.Rows = append(in.Rows, []json.RawMessage{quote(arm), quote(fmt.Sprint("t", t)), quote(fmt.Sprint("c", c)), quote(value(t, c, a))})
			}
		}
	}
	return in
}

// drawn are scores with an effect of the arm, tasters and cuts that vary, and scatter.
func drawnBallots(seed uint64, tasters, cuts int, effect float64) MixedInput {
	r := rand.New(rand.NewPCG(seed, 3))
	offset := func(n int, sd float64) []float64 {
		out := make([]float64, n)
		for i := range out {
			out[i] = sd * r.NormFloat64()
		}
		return out
	}
	byTaster, byCut := offset(tasters, 0.8), offset(cuts, 0.6)
	return ballots(tasters, cuts, func(t, c, a int) float64 {
		return 6 + byTaster[t] + byCut[c] + effect*float64(a) + 0.7*r.NormFloat64()
	})
}

// TestABalancedMixedModelIsItsAnova: with every taster on every cut in both arms, restricted
// likelihood has the variances of the mean squares, and the arm its difference of means.
func TestABalancedMixedModelIsItsAnova(t *testing.T) {
	const tasters, cuts = 5, 6
	in := drawnBallots(11, tasters, cuts, 0.9)
	m, err := MixedOf(in)
	if err != nil {
		t.Fatal(err)
	}
	rows, err := in.read()
	if err != nil {
		t.Fatal(err)
	}
	sums, all := map[string]float64{}, 0.0
	n := float64(len(rows))
	for _, r := range rows {
		for _, key := range []string{"t" + r.taster, "c" + r.cut, fmt.Sprint("a", r.arm)} {
			sums[key] += r.score
		}
		all += r.score
	}
	squares := func(prefix string, size float64) (out float64) {
		for key, v := range sums {
			if strings.HasPrefix(key, prefix) {
				out += size * (v/size - all/n) * (v/size - all/n)
			}
		}
		return out
	}
	total := 0.0
	for _, r := range rows {
		total += (r.score - all/n) * (r.score - all/n)
	}
	ssTaster, ssCut, ssArm := squares("tt", 2*cuts), squares("cc", 2*tasters), squares("a", n/2)
	residual := (total - ssTaster - ssCut - ssArm) / (n - 1 - (tasters - 1) - (cuts - 1) - 1)
	for name, want := range map[string]float64{"residual": residual, "taster": (ssTaster/(tasters-1) - residual) / (2 * cuts),
		"cut": (ssCut/(cuts-1) - residual) / (2 * tasters)} {
		if got := m.Basic.Variance[name]; math.Abs(got-want) > 1e-5*want {
			t.Errorf("the variance of the %s is %v, want %v", name, got, want)
		}
	}
	e := m.Basic.Fixed[1]
	if want := (sums["a1"] - sums["a0"]) / (n / 2); math.Abs(e.Estimate-want) > 1e-9 {
		t.Errorf("the arm does %v, want the difference of means, %v", e.Estimate, want)
	}
	if want := math.Sqrt(4 * residual / n); math.Abs(e.SE-want) > 1e-6 || e.DF == nil || math.Abs(*e.DF-(n-1-(tasters-1)-(cuts-1)-1)) > 0.01 {
		t.Errorf("its error is %v with %v degrees, want %v with those of the residual", e.SE, e.DF, want)
	}
}

// TestAMixedModelKeepsToItsScale: another zero moves the mean alone, another unit scales all.
func TestAMixedModelKeepsToItsScale(t *testing.T) {
	in := drawnBallots(12, 4, 5, 0.5)
	rows, err := in.read()
	if err != nil {
		t.Fatal(err)
	}
	was := mixed(in.Arms, rows)
	for i := range rows {
		rows[i].score = 3*rows[i].score - 7
	}
	is := mixed(in.Arms, rows)
	if a, b := was.Basic.Fixed[1], is.Basic.Fixed[1]; math.Abs(b.Estimate-3*a.Estimate) > 1e-6 || math.Abs(b.SE-3*a.SE) > 1e-5 || math.Abs(b.T-a.T) > 1e-5 {
		t.Errorf("three times the scale makes %+v of %+v", b, a)
	}
	for name, v := range was.Basic.Variance {
		if got := is.Basic.Variance[name]; math.Abs(got-9*v) > 1e-4*(1+9*v) {
			t.Errorf("the variance of the %s goes from %v to %v", name, v, got)
		}
	}
}

// TestAComponentAtZeroIsSaid and left out of the reduced fit.
func TestAComponentAtZeroIsSaid(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 3))
	// Cuts that lie evenly: each taster's rise on one is the fall on another.
	m, err := MixedOf(ballots(4, 4, func(taster, cut, arm int) float64 {
		return 5 + float64(taster) + 0.5*float64((taster+cut+arm)%2) + 1e-3*r.NormFloat64()
	}))
	if err != nil {
		t.Fatal(err)
	}
	if !m.Basic.Singular || m.Basic.Variance["cut"] > 1e-6 || m.Reduced == nil {
		t.Fatalf("cuts that are alike are fitted as %+v", m.Basic)
	}
	for _, kept := range m.Reduced.Kept {
		if kept == "cut" {
			t.Error("the reduced fit keeps the cut")
		}
	}
}

func TestAMixedModelRefusesWhatItCannotFit(t *testing.T) {
	good := drawnBallots(14, 3, 3, 0)
	for name, c := range map[string]struct {
		change func(*MixedInput)
		field  string
	}{
		"one arm":                   {func(in *MixedInput) { in.Arms = in.Arms[:1] }, "arms"},
		"an arm that nobody has":    {func(in *MixedInput) { in.Arms = []string{"BARE", "FOIL"} }, "rows"},
		"no column of tasters":      {func(in *MixedInput) { in.Columns[1] = "who" }, "columns"},
		"a row too short":           {func(in *MixedInput) { in.Rows[2] = in.Rows[2][:3] }, "rows[2]"},
		"a score in words":          {func(in *MixedInput) { in.Rows[0][3] = json.RawMessage(`"fine"`) }, "rows[0]"},
		"one ballot of an arm":      {func(in *MixedInput) { in.Rows = in.Rows[:3] }, "rows"},
		"more than can be fitted":   {func(in *MixedInput) { *in = drawnBallots(15, 30, 10, 0) }, "rows"},
		"a number past every scale": {func(in *MixedInput) { in.Rows[4][3] = json.RawMessage("1e300") }, "rows[4]"},
	} {
		in := MixedInput{Arms: append([]string{}, good.Arms...), Columns: append([]string{}, good.Columns...)}
		for _, row := range good.Rows {
			in.Rows = append(in.Rows, append([]json.RawMessage{}, row...))
		}
		c.change(&in)
		if _, err := MixedOf(in); err == nil || !strings.HasPrefix(err.Error(), c.field) {
			t.Errorf("%s: %v, want a refusal of %s", name, err, c.field)
		}
	}
	empty := drawnBallots(14, 3, 3, 0)
	empty.Rows[0][3] = json.RawMessage("null")
	if m, err := MixedOf(empty); err != nil || m.Ballots != len(empty.Rows)-1 {
		t.Errorf("a sample that was left out counts: %d ballots (%v)", m.Ballots, err)
	}
}
