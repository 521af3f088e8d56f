package logbook

import "time"

// Oil is what the oil did when something went into it.
type Oil struct {
	DropC   float64 `json:"drop_c"`  // as it went in
	LowC    float64 `json:"low_c"`   // the lowest it fell to
	UnderS  float64 `json:"under_s"` // under its set point, until it was back or the trace ends
	Back    bool    `json:"back"`
	Set     float64 `json:"set_c"`
	Watched bool    `json:"watched"` // the trace reaches over it
}

const (
	// oilWatched is how long after the drop the oil is followed, and oilBack how near to its set
	// point it is back (ours).
	oilWatched = 20 * time.Minute
	oilBack    = 2.8 // C
)

// OilOf reads what the oil did from its trace, at a drop at a moment.
func OilOf(trace []Point, drop time.Time, setC float64) Oil {
	o := Oil{Set: setC}
	for i, p := range trace {
		switch {
		case !p.At.After(drop):
			o.DropC, o.LowC, o.Watched = p.C, p.C, true
			continue
		case p.At.Sub(drop) > oilWatched || o.Back:
			return o
		}
		o.LowC = min(o.LowC, p.C)
		if p.C >= setC-oilBack {
			o.Back = o.UnderS > 0
			continue
		}
		from := drop
		if i > 0 && trace[i-1].At.After(drop) {
			from = trace[i-1].At
		}
		o.UnderS += p.At.Sub(from).Seconds()
	}
	return o
}
