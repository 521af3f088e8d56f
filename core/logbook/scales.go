package logbook

import (
	"fmt"
	"regexp"
	"sort"
	"time"

	"whitebarn/core/units"
)

var (
	saysF = regexp.MustCompile(`(?i)°\s*F|º\s*F|\bdeg\s*F|fahrenheit|[\[(_ ]F[\])]?$|[\[(]F[\])]`)
	saysC = regexp.MustCompile(`(?i)°\s*C|º\s*C|\bdeg\s*C|celsius|[\[(_ ]C[\])]?$|[\[(]C[\])]`)
)

// scales decides each column's scale: as chosen, by its cells, by its name, by
// the lines above the header, and last by the values.
func (r *reader) scales() {
	var undecided []int
	aboveF, aboveC := saysF.MatchString(r.preamble), saysC.MatchString(r.preamble)
	for j := range r.log.Columns {
		c := &r.log.Columns[j]
		f, n := r.cellScale[j]["F"], r.cellScale[j]["C"]
		switch {
		case r.opts.Scale != "":
			c.Scale, c.ScaleFrom = r.opts.Scale, "chosen"
		case f > n:
			c.Scale, c.ScaleFrom = units.Fahrenheit, "cells"
		case n > f:
			c.Scale, c.ScaleFrom = units.Celsius, "cells"
		case saysF.MatchString(c.Name):
			c.Scale, c.ScaleFrom = units.Fahrenheit, "header"
		case saysC.MatchString(c.Name):
			c.Scale, c.ScaleFrom = units.Celsius, "header"
		case aboveF && !aboveC:
			c.Scale, c.ScaleFrom = units.Fahrenheit, "header"
		case aboveC && !aboveF:
			c.Scale, c.ScaleFrom = units.Celsius, "header"
		default:
			undecided = append(undecided, j)
		}
	}
	if len(undecided) == 0 {
		return
	}
	// The hottest column is a pit: over 175 is 347 F in Celsius, hotter than smoke.
	hottest := 0.0
	for _, j := range undecided {
		v := make([]float64, len(r.log.Columns[j].Readings))
		for i, x := range r.log.Columns[j].Readings {
			v[i] = x.Value
		}
		sort.Float64s(v)
		hottest = max(hottest, v[len(v)*9/10])
	}
	guess := units.Celsius
	if hottest > 175 {
		guess = units.Fahrenheit
	}
	for _, j := range undecided {
		r.log.Columns[j].Scale, r.log.Columns[j].ScaleFrom = guess, "values"
	}
	r.log.Questions = append(r.log.Questions, AskScale)
}

// settle converts to Celsius, drops impossible values with a report, sorts by
// time and drops repeats.
func (r *reader) settle() {
	var lines map[time.Time]line // made only where something is told of one
	lineAt := func(t time.Time) line {
		if lines == nil {
			lines = make(map[time.Time]line, len(r.at))
			for i, at := range r.at {
				lines[at] = r.rows[i]
			}
		}
		return lines[t]
	}
	repeated := map[time.Time]bool{}
	for j := range r.log.Columns {
		c := &r.log.Columns[j]
		kept := c.Readings[:0]
		for _, x := range c.Readings {
			x.C = c.Scale.ToC(x.Value)
			if x.C < units.LeastC || x.C > units.MostC {
				r.trouble(lineAt(x.At), fmt.Sprintf("%s: %g %s cannot be read in a barn", c.Name, x.Value, c.Scale))
				continue
			}
			kept = append(kept, x)
		}
		sort.SliceStable(kept, func(a, b int) bool { return kept[a].At.Before(kept[b].At) })
		c.Readings = kept[:0]
		for i, x := range kept {
			if i > 0 && x.At.Equal(kept[i-1].At) {
				if x.Value != kept[i-1].Value {
					r.trouble(lineAt(x.At), fmt.Sprintf("%s: %g and %g at one time; the first is kept", c.Name, kept[i-1].Value, x.Value))
					kept[i] = kept[i-1]
				}
				repeated[x.At] = true
				continue
			}
			c.Readings = append(c.Readings, x)
		}
	}
	r.log.Repeated = len(repeated)
}
