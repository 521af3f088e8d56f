package pit

import (
	"fmt"
	"math"
	"time"
)

// Known is what a saved calibration of a holder told.
type Known struct {
	DialC, SettlesC float64
	HalfC           float64 // SettlesC is known to, 9 times in 10
	RippleC         float64 // peak to peak
	Passes          bool
	Saved           time.Time
	Months          int // it stands for
}

// Expires is when it no longer stands.
func (k Known) Expires() time.Time { return k.Saved.AddDate(0, k.Months, 0) }

// Standing says on what a hold can rely.
type Standing string

// The standings.
const (
	NoneStands Standing = "none"    // nobody read the holder, or too long ago
	OtherDial  Standing = "other"   // read at another dial: what one on the dial does is a guess
	Stands     Standing = "stands"  // read where it is to hold
	BelowFloor Standing = "too low" // whatever else: its low swing is under the floor
)

// Values lists the standings.
func (Standing) Values() []string {
	return []string{string(NoneStands), string(OtherDial), string(Stands), string(BelowFloor)}
}

// Reliance is what a hold at a temperature relies on.
type Reliance struct {
	Standing Standing `json:"standing"`
	On       int      `json:"on"`      // place in what is known; -1 is none
	LowC     *float64 `json:"low_c"`   // its low swing there
	WorstC   *float64 `json:"worst_c"` // and less what is not known
	Words    string   `json:"words"`
}

// RelyOn finds the calibration that a hold at setC relies on at a moment: the latest that
// was saved by then and has not ended. What is read at another dial is taken to come to
// rest where the dial is set for, which is a guess until it is read there.
func RelyOn(known []Known, setC, floorC float64, at time.Time) Reliance {
	out := Reliance{Standing: NoneStands, On: -1, Words: "Never calibrated: what it holds is not known."}
	for i, k := range known {
		if k.Saved.After(at) || out.On >= 0 && !k.Saved.After(known[out.On].Saved) {
			continue
		}
		out.On = i
	}
	if out.On < 0 {
		return out
	}
	k := known[out.On]
	if !k.Expires().After(at) {
		out.On = -1
		out.Words = fmt.Sprintf("Its calibration ended on {day:%s}.", k.Expires().UTC().Format(time.RFC3339))
		return out
	}
	rests := setC
	if out.Standing = OtherDial; math.Abs(k.SettlesC-setC) <= PassC {
		out.Standing, rests = Stands, k.SettlesC
	}
	low := rests - k.RippleC/2
	out.LowC, out.WorstC = &low, ptr(low-k.HalfC)
	saved := k.Saved.UTC().Format(time.RFC3339)
	switch {
	case low < floorC:
		out.Standing = BelowFloor
		out.Words = fmt.Sprintf("By its calibration of {day:%s} its low swing is {C:%.1f}, under {C:%.1f}.", saved, low, floorC)
	case out.Standing == OtherDial:
		out.Words = fmt.Sprintf("Calibrated on {day:%s} at another dial: it rests on one on the dial counting as one.", saved)
	default:
		out.Words = fmt.Sprintf("Calibrated on {day:%s}, to {day:%s}.", saved, k.Expires().UTC().Format(time.RFC3339))
	}
	return out
}
