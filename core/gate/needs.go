package gate

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/safety"
)

// Asked is why a reading will be needed.
type Asked string

// The reasons, in the order of a cook.
const (
	AtStart   Asked = "start"
	OnTheWay  Asked = "come-up"
	AfterTear Asked = "tear"
	OfStuck   Asked = "stuck"
	InPlaces  Asked = "places"
)

// Values lists them.
func (Asked) Values() []string {
	return []string{string(AtStart), string(OnTheWay), string(AfterTear), string(OfStuck), string(InPlaces)}
}

// Need is a reading that the gate will need of a piece on the fire, from when on, and why.
type Need struct {
	Asked Asked
	At    time.Time
	Where string // empty: where it is coldest
	Why   string // temperatures stand as {C:62.8}
}

// Times at which readings are asked for.
const (
	comeUpAsked = 4 * time.Hour   // after it went on
	tearAsked   = 2 * time.Minute // after the tear
	tearStale   = time.Hour       // after it nobody asks about it any more
)

// Needs are the readings that the gate will need of a piece that is on the fire and has nobody read them
// yet. What a probe shows by itself is not asked for.
func Needs(in Input) (out []Need) {
	if in.On.IsZero() || !in.Pull.IsZero() {
		return nil
	}
	if in.Lines == (safety.Lines{}) {
		in.Lines = safety.Usual
	}
	in.Places = in.placed()
	r := Of(in)
	m := r.Minimum
	followed := slices.ContainsFunc(in.Places, func(p course.Place) bool {
		n := len(p.Trace)
		return n > 0 && in.Now.Sub(p.Trace[n-1].At) <= gap
	})
	if !followed && len(r.Places) == 0 && len(in.beforeOn(in.Left)) == 0 {
		out = append(out, Need{Asked: AtStart, At: in.On, Why: "read cold, its way up counts from now, and not from the fridge"})
	}
	if !followed && !r.ComeUp.Done {
		out = append(out, Need{Asked: OnTheWay, At: in.On.Add(comeUpAsked),
			Why: fmt.Sprintf("{C:%.4f} within six hours is to be shown", safety.ComeUpToC)})
	}
	for _, p := range in.Places {
		if at, torn := in.tornAt(p); torn && in.Now.Sub(at) <= tearStale && !slices.ContainsFunc(p.Hand,
			func(h course.Hand) bool { return h.At.After(at) }) {
			out = append(out, Need{Asked: AfterTear, At: at.Add(tearAsked), Where: p.Name,
				Why: "its probe jumped: by hand it is known whether it lies in the meat"})
		}
	}
	for _, p := range r.Places {
		if p.stuck && !p.Passed {
			out = append(out, Need{Asked: OfStuck, At: in.Now, Where: p.Place,
				Why: "its probe has not moved from the first: by hand it is known whether it is stuck"})
		}
	}
	nearly := slices.ContainsFunc(r.Places, func(p Shown) bool { return p.Passed || p.C >= m.C-tenC })
	if nearly {
		for _, where := range in.missing(r.Places) {
			out = append(out, Need{Asked: InPlaces, At: in.Now, Where: where, Why: "before it is pulled it is read there too"})
		}
	}
	return out
}

// missing are the places that are still to be read of a piece; one of no name is another.
func (in Input) missing(read []Shown) []string {
	has := func(name string) bool {
		return slices.ContainsFunc(read, func(s Shown) bool { return strings.EqualFold(s.Place, name) })
	}
	switch {
	case in.WholeBird:
		return slices.DeleteFunc([]string{Breast, Thigh}, has)
	case in.Kg > heavyKg && len(read) < 2 && !has(ColdestFound):
		return []string{ColdestFound}
	}
	return nil
}

// tornAt is when the trace of a place was torn last: it jumped, or what follows does not count.
func (in Input) tornAt(p course.Place) (at time.Time, torn bool) {
	trace := within(p.Trace, in.On, in.knife())
	fastest := in.Bound.step()
	for i := 1; i < len(trace); i++ {
		if trace[i].C > in.BoilsC+overBoilC || !near(trace[i-1], trace[i], fastest) {
			at, torn = trace[i].At, true
		}
	}
	return at, torn && !in.Taken(at.Add(-gap), at)
}
