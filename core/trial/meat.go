package trial

import (
	"fmt"
	"slices"

	"whitebarn/core/safety"
)

// Meat is what the ask says is cooked, as far as safety is concerned.
func (a Ask) Meat() safety.Meat { return safety.Meat{Species: a.Species, Handling: a.Handling} }

// meat refuses kinds that there are not; what is not said yet is the gate's to ask.
func (c *checker) meat(a Ask) {
	if !slices.Contains(a.Species.Values(), string(a.Species)) {
		c.Add("species", fmt.Sprintf("%q is not a kind of meat", a.Species), "use red meat, poultry or fish")
	}
	if !slices.Contains(a.Handling.Values(), string(a.Handling)) {
		c.Add("handling", fmt.Sprintf("%q is not a handling", a.Handling), "use intact, pierced, minced or stuffed")
	}
	if a.WholeBird && a.Species != "" && a.Species != safety.Poultry {
		c.Add("whole_bird", fmt.Sprintf("a whole bird is said to be %s", a.Species), "say poultry, or that it is no whole bird")
	}
}

// Does is what an arm does to the meat by its levels, as far as safety is concerned;
// empty is nothing.
func (a Ask) Does(arm Arm) (h safety.Handling) {
	if !a.Said(arm, Injection).Nothing() || !a.Said(arm, Tenderising).Nothing() {
		h = safety.Pierced
	}
	switch a.Said(arm, Shape).Key {
	case Rolled:
		h = h.Stricter(safety.Pierced)
	case Minced:
		h = h.Stricter(safety.Minced)
	}
	return h
}

// Otherwise lists the words of what is cooked that ask for a stricter kind of meat than
// it is said to be.
func (a Ask) Otherwise() []safety.Hint {
	said := a.Product + " " + a.Cut
	for f, factor := range a.Factors {
		for _, arm := range a.Arms {
			if factor.Role == Shape && f < len(arm.Levels) && arm.Levels[f].Key == "" && a.Handling.Stricter(a.Does(arm)) == a.Handling {
				said += " " + arm.Levels[f].Value
			}
		}
	}
	for _, h := range a.Held {
		if h.Role == Shape && h.Key == "" {
			said += " " + h.Value
		}
	}
	out := a.Meat().Otherwise(said)
	seen := map[string]bool{}
	return slices.DeleteFunc(out, func(h safety.Hint) bool {
		twice := seen[h.Word]
		seen[h.Word] = true
		return twice
	})
}

// LooserThan says whether an ask, kept in place of another, would ask less of the meat.
func (a Ask) LooserThan(was Ask) bool {
	return a.Meat().LooserThan(was.Meat()) || was.WholeBird && !a.WholeBird
}

// DoesLess says in which arm, by its tag, an ask does less to the meat than another did;
// empty is none. An arm that is gone takes its cuts out of the trial's arms.
func (a Ask) DoesLess(was Ask) string {
	for _, arm := range a.Arms {
		i := slices.IndexFunc(was.Arms, func(w Arm) bool { return w.ID == arm.ID && w.ID != 0 })
		if i >= 0 && a.Does(arm).Stricter(was.Does(was.Arms[i])) != a.Does(arm) {
			return arm.Tag
		}
	}
	return ""
}
