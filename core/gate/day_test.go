package gate

import (
	"math"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// leg is a straight part of a trace: to a temperature in F at a minute.
type leg struct{ min, f float64 }

// trace reads a probe every so many minutes along straight legs.
func trace(every float64, legs ...leg) (out []logbook.Point) {
	for i := 1; i < len(legs); i++ {
		a, b := legs[i-1], legs[i]
		for m := a.min; m < b.min || i == len(legs)-1 && m <= b.min; m += every {
			out = append(out, point(m, a.f+(b.f-a.f)*(m-a.min)/(b.min-a.min)))
		}
	}
	return out
}

func point(min, f float64) logbook.Point { return logbook.Point{At: minute(min), C: units.FToC(f)} }

// hand are readings by hand: minute, F, minute, F.
func hand(v ...float64) (out []course.Hand) {
	for i := 0; i < len(v); i += 2 {
		out = append(out, course.Hand{At: minute(v[i]), C: units.FToC(v[i+1]), By: "Ife"})
	}
	return out
}

func probe(place string, t []logbook.Point) course.Place {
	return course.Place{Name: place, Probe: "probe " + place, Trace: t}
}

func byHand(v ...float64) []course.Place { return []course.Place{{Hand: hand(v...)}} }

// day is a piece that went on at minute 0, confirmed and pulled, with a change.
func day(m safety.Meat, pull, plate float64, places []course.Place, change func(*Input)) Input {
	in := Input{Meat: m, Lines: safety.Usual, Confirmed: true, Now: minute(plate), BoilsC: thermal.BoilingPoint(thermal.PressureAt(0)),
		Course: course.Course{Left: minute(0), On: minute(0), Pull: minute(pull), Served: []time.Time{minute(plate)}, Places: places}}
	if change != nil {
		change(&in)
	}
	return in
}

// boxed is a holder that measured itself while the piece lay in it.
func boxed(air []logbook.Point) []course.Stay {
	return []course.Stay{{From: air[0].At, Holder: true, Powered: true, Air: air}}
}

func with(list []logbook.Point, more ...logbook.Point) []logbook.Point { return merged(list, more) }

func without(list []logbook.Point, from, to float64) (out []logbook.Point) {
	for _, p := range list {
		if p.At.Before(minute(from)) || p.At.After(minute(to)) {
			out = append(out, p)
		}
	}
	return out
}

var (
	lamb    = safety.Meat{Species: safety.RedMeat, Handling: safety.Intact}
	pierced = safety.Meat{Species: safety.RedMeat, Handling: safety.Pierced}
	minced  = safety.Meat{Species: safety.RedMeat, Handling: safety.Minced}
	chicken = safety.Meat{Species: safety.Poultry, Handling: safety.Intact}
	stuffed = safety.Meat{Species: safety.RedMeat, Handling: safety.Stuffed}
	fish    = safety.Meat{Species: safety.Fish, Handling: safety.Intact}
)

func minutes(t *time.Time) float64 {
	if t == nil {
		return math.NaN()
	}
	return t.Sub(start).Minutes()
}
