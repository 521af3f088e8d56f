package verdict

import "math"

// Component is a part of a squared error with its degrees of freedom; one that is taken off
// again has a negative value.
type Component struct{ Value, DF float64 }

// Widen adds what parts say, if they add anything, to the squared error of a comparison. Its
// degrees of freedom become those of Satterthwaite (1946). An exact p and its intervals stay
// where they are the wider.
func (c *Comparison) Widen(parts ...Component) {
	sum, spread := 0.0, 0.0
	for _, p := range parts {
		sum += p.Value
		spread += p.Value * p.Value / p.DF
	}
	if !(sum > 0) || c.P == nil { // without a spread of its own there is nothing to widen
		return
	}
	own := c.SE * c.SE
	if c.DF > 0 {
		spread += own * own / float64(c.DF)
	}
	total := own + sum
	df := math.Max(1, total*total/spread)
	was := *c
	c.SE, c.DF = math.Sqrt(total), int(df)
	c.P = ptr(2 * tTail(math.Abs(c.Estimate)/c.SE, df))
	c.at = func(level float64) *Interval { return tInterval(c.Estimate, math.Sqrt(total), df, level) }
	if was.Exact {
		c.P = ptr(math.Max(*c.P, *was.P))
		t := c.at
		c.at = func(level float64) *Interval { return wider(t(level), was.interval(level)) }
	}
	c.CI90, c.CI80 = c.at(0.90), c.at(0.80)
}

func wider(a, b *Interval) *Interval {
	if b == nil {
		return nil
	}
	return &Interval{math.Min(a[0], b[0]), math.Max(a[1], b[1])}
}
