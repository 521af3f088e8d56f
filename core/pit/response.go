package pit

import (
	"fmt"
	"math"
	"strings"

	"whitebarn/core/words"
)

// Response is what an addition did in the middle of the grate.
type Response struct {
	Addition
	Warming bool     `json:"still_warming"` // it is not read
	BeforeC *float64 `json:"before_c"`
	RiseC   *float64 `json:"rise_c"`
	PeakMin *float64 `json:"to_peak_min"`
	HeldMin *float64 `json:"held_min"`     // until back where it was; nil: not before the next or the end
	AtLeast *float64 `json:"at_least_min"` // it held, where it was not seen to come back
	Words   string   `json:"words"`
}

// Said says what it did, in a few words.
func (r Response) Said() string {
	what := r.What
	switch name := strings.TrimSuffix(r.With, "s"); {
	case name != "" && r.Pieces > 1:
		what = words.Plural(r.Pieces, name)
	case name != "":
		what = "one " + name
	case r.Pieces > 1:
		what = fmt.Sprintf("%d of %s", r.Pieces, r.What)
	}
	switch {
	case r.Warming:
		return "still warming: not read"
	case r.HeldMin != nil:
		return fmt.Sprintf("%s held it %.0f min", what, *r.HeldMin)
	case r.AtLeast != nil:
		return fmt.Sprintf("%s held it %.0f min or more", what, *r.AtLeast)
	}
	return what + ": not read"
}

// responses reads what each addition did. The peak is looked for until the next one; it is
// back in the first minute after the peak at which it is at or under where it was.
func (b Burn) responses(s series, warm, to int) []Response {
	out := []Response{}
	for i, a := range b.Additions {
		r := Response{Addition: a}
		at, end := minute(a.S), to
		for j, other := range b.Additions {
			if m := minute(other.S); j != i && m > at && m < end {
				end = m
			}
		}
		before := s.at(at)
		switch {
		case warm < 0 || at < warm:
			r.Warming = true
		case !math.IsNaN(before) && end > at:
			r.read(s, before, at, end)
		}
		r.Words = r.Said()
		out = append(out, r)
	}
	return out
}

func (r *Response) read(s series, before float64, at, end int) {
	peak := s.highest(at, end)
	r.BeforeC = &before
	r.RiseC, r.PeakMin = ptr(s.c[peak]-before), ptr(float64(peak-at))
	for m := peak + 1; m <= end; m++ {
		if s.at(m) <= before {
			r.HeldMin = ptr(float64(m - at))
			return
		}
	}
	r.AtLeast = ptr(float64(end - at))
}

// reach is how many minutes ahead the median sees, rounded up: what was before a lid is read
// where it cannot see it.
const reach = 3

// Recovery is how long a pit took after its lid was shut.
type Recovery struct {
	Opening
	FellC   *float64 `json:"fell_c"`
	BackMin *float64 `json:"back_min"` // within 5 F of where it was (ours); nil: not before the next or the end
}

func (b Burn) recoveries(s series, to int) []Recovery {
	out := []Recovery{}
	for i, o := range b.Openings {
		r := Recovery{Opening: o}
		open, shut, end := int(o.S/stepS), minute(o.ShutS), to
		if i+1 < len(b.Openings) {
			end = min(end, int(b.Openings[i+1].S/stepS))
		}
		before := s.at(open - reach)
		if low := s.lowest(open, end); low >= 0 && !math.IsNaN(before) {
			r.FellC = ptr(before - s.c[low])
			if m := s.reaches(before-AlikeC, max(low, shut)); m >= 0 && m <= end {
				r.BackMin = ptr(float64(m - shut))
			}
		}
		out = append(out, r)
	}
	return out
}
