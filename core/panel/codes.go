// Package panel runs a blind tasting: sample codes, serving orders, and what
// the ballots say of the cuts.
package panel

import (
	"fmt"
	"math/rand/v2"
	"strconv"

	"whitebarn/core/fault"
)

// The range of sample codes.
const (
	leastCode = 100
	mostCode  = 999
)

// CodesInput is codes of one flight, and codes used before in the trial.
type CodesInput struct {
	Codes []string `json:"codes"`
	Avoid []string `json:"avoid"`
}

// CodeCheck is what each rule says of one code.
type CodeCheck struct {
	Code         string `json:"code"`
	ThreeDigits  bool   `json:"three_digits_100_to_999"`
	AllSameDigit bool   `json:"all_same_digit"`
	StraightRun  bool   `json:"straight_run"`
	Duplicate    bool   `json:"duplicate"`
	OnAvoidList  bool   `json:"on_avoid_list"`
	Acceptable   bool   `json:"acceptable"`
}

// CodesResult is the check of every code, in order.
type CodesResult struct {
	Codes         []CodeCheck `json:"codes"`
	AllAcceptable bool        `json:"all_acceptable"`
}

// CheckCodes applies the rules of blind codes: 100 to 999, not one digit
// thrice, no straight run up or down, none twice, none used before.
func CheckCodes(in CodesInput) (CodesResult, error) {
	count, avoid := map[string]int{}, map[string]bool{}
	for _, c := range in.Codes {
		count[c]++
	}
	for _, c := range in.Avoid {
		avoid[c] = true
	}
	out := CodesResult{Codes: []CodeCheck{}, AllAcceptable: true}
	for _, c := range in.Codes {
		k := checkDigits(c)
		k.Duplicate, k.OnAvoidList = count[c] > 1, avoid[c]
		k.Acceptable = k.ThreeDigits && !k.AllSameDigit && !k.StraightRun && !k.Duplicate && !k.OnAvoidList
		out.AllAcceptable = out.AllAcceptable && k.Acceptable
		out.Codes = append(out.Codes, k)
	}
	return out, nil
}

func checkDigits(code string) CodeCheck {
	k := CodeCheck{Code: code}
	n, err := strconv.Atoi(code)
	k.ThreeDigits = err == nil && len(code) == 3 && n >= leastCode && n <= mostCode
	if !k.ThreeDigits {
		return k
	}
	a, b, c := int(code[0]), int(code[1]), int(code[2])
	k.AllSameDigit = a == b && b == c
	k.StraightRun = b-a == c-b && (b-a == 1 || b-a == -1)
	return k
}

// CodeRange is a range of codes, both ends included.
type CodeRange struct {
	From int `json:"codes_from"`
	To   int `json:"codes_to"`
}

// CodeCount is how many codes of a range the rules leave.
type CodeCount struct {
	All          int `json:"all"`
	AllSameDigit int `json:"all_same_digit"`
	StraightRuns int `json:"straight_runs"`
	Acceptable   int `json:"acceptable"`
}

// CountCodes counts the codes of a range by rule.
func CountCodes(in CodeRange) (CodeCount, error) {
	if in.From < leastCode || in.To > mostCode || in.To < in.From {
		return CodeCount{}, fault.New("codes_from", fmt.Sprintf("%d to %d is not a range of three-digit codes", in.From, in.To), "stay within 100 to 999")
	}
	var out CodeCount
	for n := in.From; n <= in.To; n++ {
		k := checkDigits(strconv.Itoa(n))
		out.All++
		switch {
		case k.AllSameDigit:
			out.AllSameDigit++
		case k.StraightRun:
			out.StraightRuns++
		default:
			out.Acceptable++
		}
	}
	return out, nil
}

// DrawCodes draws n codes at random that keep the rules and avoid those used
// before. It fails when the trial has used up its codes.
func DrawCodes(r *rand.Rand, n int, used []string) ([]string, error) {
	avoid := map[string]bool{}
	for _, c := range used {
		avoid[c] = true
	}
	var free []string
	for c := leastCode; c <= mostCode; c++ {
		code := strconv.Itoa(c)
		if k := checkDigits(code); !k.AllSameDigit && !k.StraightRun && !avoid[code] {
			free = append(free, code)
		}
	}
	if n > len(free) {
		return nil, fault.New("codes", fmt.Sprintf("%d codes wanted and %d left in this trial", n, len(free)), "serve fewer samples, or follow on with a new trial")
	}
	r.Shuffle(len(free), func(i, j int) { free[i], free[j] = free[j], free[i] })
	return free[:n], nil
}
