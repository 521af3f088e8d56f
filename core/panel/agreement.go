package panel

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
	"whitebarn/core/verdict"
)

// AgreementSource is where the measures of a panel are from.
const AgreementSource = "Spearman, 1904; Kendall, 1945 (tau-b); Bland and Altman, 1996 (repeatability); Shrout and Fleiss, 1979 (reliability)"

// AgreementInput are the scores that each taster gave the samples; null was not scored.
type AgreementInput struct {
	Scores [][]*float64 `json:"scores_by_taster"`
}

// AgreementOutput is how each taster goes with the others.
type AgreementOutput struct {
	Tasters []TasterAgreement `json:"tasters"`
}

// TasterAgreement is one of them. Nil is not defined: scores that are all one tell no order.
type TasterAgreement struct {
	Taster   string     `json:"taster"`
	N        int        `json:"n"`
	Spearman *float64   `json:"spearman"` // with the mean of the others
	Kendall  *float64   `json:"kendall_tau_b"`
	Mean     *float64   `json:"mean"`
	SD       *float64   `json:"sd"`
	Z        []*float64 `json:"z_scores"`
	ZMean    *float64   `json:"z_of_mean_among_tasters"`
	ZSD      *float64   `json:"z_of_sd_among_tasters"`
}

// AgreementOf reads it.
func AgreementOf(in AgreementInput) (out AgreementOutput, err error) {
	samples, err := checkTable("scores_by_taster", in.Scores, 2, 2)
	if err != nil {
		return out, err
	}
	var means, sds []float64
	for t, row := range in.Scores {
		a := TasterAgreement{Taster: fmt.Sprintf("T%d", t+1), Z: make([]*float64, samples)}
		var own, mine, others []float64
		for s, v := range row {
			if v == nil {
				continue
			}
			own = append(own, *v)
			if m, ok := meanOfOthers(in.Scores, t, s); ok {
				mine, others = append(mine, *v), append(others, m)
			}
		}
		a.N = len(own)
		a.Spearman, a.Kendall = spearman(mine, others), kendall(mine, others)
		if len(own) > 0 {
			m := stat.Mean(own, nil)
			a.Mean = &m
			means = append(means, m)
		}
		if len(own) > 1 {
			sd := stat.StdDev(own, nil)
			a.SD = &sd
			sds = append(sds, sd)
		}
		for s, v := range row {
			if v != nil && a.SD != nil {
				a.Z[s] = over(*v-*a.Mean, *a.SD)
			}
		}
		out.Tasters = append(out.Tasters, a)
	}
	for i := range out.Tasters {
		a := &out.Tasters[i]
		a.ZMean, a.ZSD = among(a.Mean, means), among(a.SD, sds)
	}
	return out, nil
}

// twoSided95 is what a standard normal number lies within 19 times in 20.
var twoSided95 = distuv.UnitNormal.Quantile(0.975)

// mostCells bounds a table of scores.
const mostCells = 5000

// checkTable refuses a table that has too few or uneven rows; it tells how many columns there are.
func checkTable(field string, table [][]*float64, rows, columns int) (int, error) {
	if len(table) < rows || len(table[0]) < columns || len(table)*len(table[0]) > mostCells {
		return 0, fault.New(field, fmt.Sprintf("%d rows", len(table)), fmt.Sprintf("give %d rows of %d or more, %d scores at most", rows, columns, mostCells))
	}
	for i, row := range table {
		at := fmt.Sprintf("%s[%d]", field, i)
		if len(row) != len(table[0]) {
			return 0, fault.New(at, fmt.Sprintf("%d scores beside %d", len(row), len(table[0])), "give each row as many, null where one is missing")
		}
		for _, v := range row {
			if v != nil && (math.IsNaN(*v) || math.Abs(*v) > 1e6) {
				return 0, fault.New(at, fmt.Sprintf("%g is no score", *v), "give the number on the ballot")
			}
		}
	}
	return len(table[0]), nil
}

// meanOfOthers is what the others gave a sample, to ten decimals, so that ties stay ties.
func meanOfOthers(scores [][]*float64, but, sample int) (float64, bool) {
	sum, n := 0.0, 0.0
	for t, row := range scores {
		if t != but && row[sample] != nil {
			sum, n = sum+*row[sample], n+1
		}
	}
	return math.Round(sum/n*1e10) / 1e10, n > 0
}

// over is a quotient; nil where there is nothing to divide by.
func over(v, by float64) *float64 {
	if by <= 1e-12 {
		return nil
	}
	q := v / by
	return &q
}

// among places a value among all of its kind.
func among(v *float64, all []float64) *float64 {
	if v == nil || len(all) < 2 {
		return nil
	}
	return over(*v-stat.Mean(all, nil), stat.StdDev(all, nil))
}

// spearman is the correlation of midranks; nil where either side is all one.
func spearman(x, y []float64) *float64 {
	if len(x) < 2 {
		return nil
	}
	rx, ry := verdict.Midranks(x), verdict.Midranks(y)
	if stat.Variance(rx, nil) == 0 || stat.Variance(ry, nil) == 0 {
		return nil
	}
	r := stat.Correlation(rx, ry, nil)
	return &r
}

// kendall is tau-b, which takes ties off both sides.
func kendall(x, y []float64) *float64 {
	var together, untiedX, untiedY float64
	for i := range x {
		for j := range i {
			a, b := sign(x[i]-x[j]), sign(y[i]-y[j])
			together += a * b
			untiedX, untiedY = untiedX+a*a, untiedY+b*b
		}
	}
	if untiedX == 0 || untiedY == 0 {
		return nil
	}
	tau := together / math.Sqrt(untiedX*untiedY)
	return &tau
}

func sign(v float64) float64 {
	switch {
	case v > 0:
		return 1
	case v < 0:
		return -1
	}
	return 0
}

// RepeatInput are hidden duplicates: the two scores that each taster gave a sample served twice.
type RepeatInput struct {
	Pairs [][][2]*float64 `json:"duplicate_pairs_by_taster"`
}

// Repeat is how far two scores of the same sample lie apart. Nil without a whole pair.
type Repeat struct {
	Taster string   `json:"taster,omitempty"`
	Pairs  int      `json:"n_pairs"`
	SD     *float64 `json:"repeatability_sd"`
	Limit  *float64 `json:"repeatability_limit95,omitempty"` // of the panel: two scores of one sample lie within it
}

// RepeatOutput has it of each taster and of the panel.
type RepeatOutput struct {
	Tasters []Repeat `json:"tasters"`
	Panel   Repeat   `json:"panel"`
}

// RepeatabilityOf reads it; a pair with a score missing is left out.
func RepeatabilityOf(in RepeatInput) (out RepeatOutput, err error) {
	if len(in.Pairs) == 0 || len(in.Pairs) > mostTasters {
		return out, fault.New("duplicate_pairs_by_taster", fmt.Sprintf("%d tasters", len(in.Pairs)), fmt.Sprintf("give 1 to %d", mostTasters))
	}
	of := func(squares float64, n int) *float64 {
		if n == 0 {
			return nil
		}
		sd := math.Sqrt(squares / (2 * float64(n)))
		return &sd
	}
	all := 0.0
	for t, pairs := range in.Pairs {
		squares, n := 0.0, 0
		for _, p := range pairs {
			if p[0] != nil && p[1] != nil {
				squares, n = squares+(*p[0]-*p[1])*(*p[0]-*p[1]), n+1
			}
		}
		out.Tasters = append(out.Tasters, Repeat{Taster: fmt.Sprintf("T%d", t+1), Pairs: n, SD: of(squares, n)})
		all += squares
		out.Panel.Pairs += n
	}
	if out.Panel.SD = of(all, out.Panel.Pairs); out.Panel.SD != nil {
		limit := twoSided95 * math.Sqrt2 * *out.Panel.SD
		out.Panel.Limit = &limit
	}
	return out, nil
}

// ReliabilityInput are complete scores, a row a sample, a column a taster.
type ReliabilityInput struct {
	Scores [][]*float64 `json:"scores_by_sample"`
}

// ReliabilityOutput is how much of what scores differ in is of the samples. Values are as they
// come, over 1 or under 0 where tasters agree less than by chance; nil is not defined.
type ReliabilityOutput struct {
	One      *float64 `json:"icc_2_1"` // of one taster
	Mean     *float64 `json:"icc_2_k"` // of the mean of these
	Fixed    *float64 `json:"icc_3_1"` // of one, leniency taken off
	Cronbach *float64 `json:"cronbach_alpha"`
	F        *float64 `json:"f_samples"`
	P        *float64 `json:"p_samples"`
}

// ReliabilityOf reads it off the two-way analysis of variance.
func ReliabilityOf(in ReliabilityInput) (out ReliabilityOutput, err error) {
	tasters, err := checkTable("scores_by_sample", in.Scores, 2, 2)
	if err != nil {
		return out, err
	}
	n, k := float64(len(in.Scores)), float64(tasters)
	grand := 0.0
	rows, columns := make([]float64, len(in.Scores)), make([]float64, tasters)
	for i, row := range in.Scores {
		for j, v := range row {
			if v == nil {
				return out, fault.New(fmt.Sprintf("scores_by_sample[%d]", i), "a score is missing", "leave out who did not score every sample")
			}
			rows[i], columns[j], grand = rows[i]+*v/k, columns[j]+*v/n, grand+*v/(n*k)
		}
	}
	var samples, leniency, rest float64
	for i, row := range in.Scores {
		samples += k * (rows[i] - grand) * (rows[i] - grand)
		for j, v := range row {
			e := *v - rows[i] - columns[j] + grand
			rest += e * e
		}
	}
	for _, c := range columns {
		leniency += n * (c - grand) * (c - grand)
	}
	samples, leniency, rest = samples/(n-1), leniency/(k-1), rest/((n-1)*(k-1))
	ratio := func(a, b float64) *float64 {
		if math.Abs(b) <= 1e-12 {
			return nil
		}
		v := a / b
		return &v
	}
	out.One = ratio(samples-rest, samples+(k-1)*rest+k*(leniency-rest)/n)
	out.Mean = ratio(samples-rest, samples+(leniency-rest)/n)
	out.Fixed = ratio(samples-rest, samples+(k-1)*rest)
	out.Cronbach = ratio(samples-rest, samples)
	if rest > 1e-12 {
		f := samples / rest
		p := distuv.F{D1: n - 1, D2: (n - 1) * (k - 1)}.Survival(f)
		out.F, out.P = &f, &p
	}
	return out, nil
}
