package forecast

import (
	"fmt"
	"math"
)

// Change is what lies between two forecasts of one cut.
type Change struct {
	Was, Is float64  // s, the middle of the finish then and now, from the same moment
	Ago     float64  // s between them
	Acts    []string // done to the cut since, of those that matter: "wrap", "unwrap", "spritz"
	Lids    int      // times its pit was open since
	PitOver *float64 // C, of the pit's mean over its set point since; nil is not known
}

const (
	changed  = 15 * 60.0 // s; less is no change
	offSet   = 4.0       // C that a pit is off its set point
	manyLids = 3
)

// Why says why a forecast is another than it was, in one sentence; empty when it
// is not. The likeliest cause that works in the direction of the change is named,
// else what the probe did.
func (c Change) Why() string {
	by := c.Is - c.Was
	if math.Abs(by) < changed {
		return ""
	}
	late := by > 0
	did := map[string]bool{}
	for _, a := range c.Acts {
		did[a] = true
	}
	why := map[bool]string{true: "the core climbs slower than was expected", false: "the core climbs faster than was expected"}[late]
	switch {
	case !late && did["wrap"]:
		why = "it was wrapped"
	case late && did["unwrap"]:
		why = "it was unwrapped"
	case c.PitOver != nil && math.Abs(*c.PitOver) > offSet && (*c.PitOver < 0) == late:
		why = fmt.Sprintf("the pit ran {dC:%.1f} %s its set point", math.Abs(*c.PitOver), map[bool]string{true: "under", false: "over"}[late])
	case late && c.Lids >= manyLids:
		why = fmt.Sprintf("the lid was open %d times", c.Lids)
	case late && did["spritz"]:
		why = "it was spritzed"
	}
	return fmt.Sprintf("%s %s than %s ago: %s.", length(math.Abs(by)), map[bool]string{true: "later", false: "earlier"}[late], length(c.Ago), why)
}

// length of time to five minutes: "35 min", "1 h 10".
func length(s float64) string {
	m := int(math.Round(s/300)) * 5
	if m < 60 {
		return fmt.Sprintf("%d min", m)
	}
	return fmt.Sprintf("%d h %02d", m/60, m%60)
}
