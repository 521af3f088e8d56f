package panel

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// PenaltySource is where the penalty of not being just right is from.
const PenaltySource = "Just-about-right scales: Rothman and Parker, ASTM MNL63, 2009; Student, 1908; Welch, 1947"

// JAR is one ballot: just about right, 1 (much too little) over 3 to 5 (much too much), and
// how much it was liked.
type JAR struct {
	JAR    *float64 `json:"jar"`
	Liking *float64 `json:"liking"`
}

// PenaltyInput are ballots on one attribute of one sample.
type PenaltyInput struct {
	Ballots []JAR `json:"ballots"`
}

// JARGroup is one side of the scale. Nil is not defined.
type JARGroup struct {
	N     int      `json:"n"`
	Share float64  `json:"share"`
	Mean  *float64 `json:"mean_liking"`
}

// Penalty is what it costs not to be just right on that side.
type Penalty struct {
	JARGroup
	Drop     *float64 `json:"mean_drop"`     // in liking, from those to whom it was just right
	Weighted *float64 `json:"weighted_drop"` // by the share
	Pooled   *float64 `json:"p_pooled_t"`
	Welch    *float64 `json:"p_welch"`
	Flagged  bool     `json:"flagged"` // a fifth or more say so, and it costs a point or more
}

// PenaltyOutput is what the ballots tell.
type PenaltyOutput struct {
	N       int      `json:"n"`
	Dropped int      `json:"n_dropped"` // a value was missing
	Counts  [5]int   `json:"counts"`
	Mean    *float64 `json:"mean_liking"`
	Right   JARGroup `json:"just_right"`
	Little  Penalty  `json:"too_little"`
	Much    Penalty  `json:"too_much"`
	Not     Penalty  `json:"not_just_right"`
	Net     float64  `json:"net_direction"` // share of too much less that of too little
}

// What flags a penalty.
const (
	flagShare = 0.2
	flagDrop  = 1.0
)

// PenaltyOf reads them.
func PenaltyOf(in PenaltyInput) (out PenaltyOutput, err error) {
	if len(in.Ballots) > mostCells {
		return out, fault.New("ballots", fmt.Sprintf("%d ballots", len(in.Ballots)), fmt.Sprintf("give %d at most", mostCells))
	}
	var all, right, little, much []float64
	for i, b := range in.Ballots {
		if b.JAR == nil || b.Liking == nil {
			out.Dropped++
			continue
		}
		j := int(*b.JAR)
		if float64(j) != *b.JAR || j < 1 || j > 5 {
			return out, fault.New(fmt.Sprintf("ballots[%d].jar", i), fmt.Sprintf("%g is not on the scale", *b.JAR), "give 1 to 5; 3 is just right")
		}
		if !(*b.Liking >= 1 && *b.Liking <= 9) {
			return out, fault.New(fmt.Sprintf("ballots[%d].liking", i), fmt.Sprintf("%g is not on the scale", *b.Liking), "give 1 to 9")
		}
		out.Counts[j-1]++
		all = append(all, *b.Liking)
		switch {
		case j == 3:
			right = append(right, *b.Liking)
		case j < 3:
			little = append(little, *b.Liking)
		default:
			much = append(much, *b.Liking)
		}
	}
	n := len(all)
	out.N, out.Mean = n, meanOf(all)
	group := func(of []float64) JARGroup {
		return JARGroup{len(of), float64(len(of)) / math.Max(1, float64(n)), meanOf(of)}
	}
	side := func(of []float64) Penalty {
		p := Penalty{JARGroup: group(of)}
		if p.Mean == nil || len(right) == 0 {
			return p
		}
		drop := stat.Mean(right, nil) - *p.Mean
		weighted := p.Share * drop
		p.Drop, p.Weighted = &drop, &weighted
		p.Pooled, p.Welch = twoSamples(right, of)
		p.Flagged = p.Share >= flagShare-1e-9 && drop >= flagDrop-1e-9
		return p
	}
	out.Right, out.Little, out.Much = group(right), side(little), side(much)
	out.Not = side(append(append([]float64{}, little...), much...))
	out.Net = out.Much.Share - out.Little.Share
	return out, nil
}

func meanOf(v []float64) *float64 {
	if len(v) == 0 {
		return nil
	}
	m := stat.Mean(v, nil)
	return &m
}

// twoSamples are the two-sided p of Student's t with one spread and of Welch's with two; nil
// where a side has fewer than two or nothing differs.
func twoSamples(x, y []float64) (pooled, welch *float64) {
	if len(x) < 2 || len(y) < 2 {
		return nil, nil
	}
	n, m := float64(len(x)), float64(len(y))
	vx, vy := stat.Variance(x, nil), stat.Variance(y, nil)
	if vx+vy <= 1e-12 {
		return nil, nil
	}
	apart := math.Abs(stat.Mean(x, nil) - stat.Mean(y, nil))
	two := func(se, df float64) *float64 {
		p := 2 * distuv.StudentsT{Mu: 0, Sigma: 1, Nu: df}.Survival(apart/se)
		return &p
	}
	one := ((n-1)*vx + (m-1)*vy) / (n + m - 2)
	a, b := vx/n, vy/m
	return two(math.Sqrt(one*(1/n+1/m)), n+m-2), two(math.Sqrt(a+b), (a+b)*(a+b)/(a*a/(n-1)+b*b/(m-1)))
}
