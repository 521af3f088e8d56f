package trial

import "time"

// Clock is the clock of a cook: real cooks run from the true time at rate 1;
// rehearsals and back-filled days have an origin and a rate of their own.
type Clock struct {
	Origin time.Time // cook time at Start
	Start  time.Time // true time
	Rate   float64
}

// RealClock shows the true time.
func RealClock(start time.Time) Clock { return Clock{Origin: start, Start: start, Rate: 1} }

// Now is the cook's time at a true time.
func (c Clock) Now(real time.Time) time.Time {
	return c.Origin.Add(time.Duration(float64(real.Sub(c.Start)) * c.Rate))
}

// Night is from the one hour to the other, local time.
const (
	NightFrom = 23
	NightTo   = 6
)

// AtNight says whether a local time is at night.
func AtNight(t time.Time) bool { return t.Hour() >= NightFrom || t.Hour() < NightTo }
