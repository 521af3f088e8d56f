package gate

import (
	"fmt"
	"time"

	"whitebarn/core/course"
	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
)

// Source names the guidance the gate judges by.
const Source = safety.Source + " " + safety.ComeUpSource + " " + safety.AfterSource

// Numbers are a day of one piece written out. Times are minutes since it went on.
type Numbers struct {
	Species      safety.Species  `json:"species"`
	Handling     safety.Handling `json:"handling"`
	WholeBird    bool            `json:"whole_bird,omitempty"`
	MassKg       float64         `json:"mass_kg,omitempty"`
	ElevationM   float64         `json:"elevation_m,omitempty"`
	HalfCm       float64         `json:"half_cm,omitempty"` // half its thickness; with it a rise is bound, and a rest
	Shape        float64         `json:"shape,omitempty"`   // 0 slab, 1 long cylinder, 2 sphere
	SetC         float64         `json:"set_C,omitempty"`   // of the pit
	OutMin       float64         `json:"out_min,omitempty"` // of the fridge, before it went on
	AirC         *float64        `json:"air_C,omitempty"`
	NeverOn      bool            `json:"never_on,omitempty"`
	PullMin      *float64        `json:"pull_min"`
	KnifeMin     *float64        `json:"knife_min"`
	PlateMin     float64         `json:"plate_min"`
	Places       []PlaceNumbers  `json:"places"`
	Holder       []Reading       `json:"holder,omitempty"`
	Reason       string          `json:"reason,omitempty"`
	SoldToPublic bool            `json:"sold_to_public,omitempty"`
	SaleVariance string          `json:"sale_variance,omitempty"`
	NotConfirmed bool            `json:"not_confirmed,omitempty"`
	Product      string          `json:"product,omitempty"` // asked about where it says otherwise
}

// PlaceNumbers is what was read at one place of it.
type PlaceNumbers struct {
	Place string    `json:"place"`
	Probe []Reading `json:"probe"`
	Hand  []Reading `json:"hand"`
}

// Reading is a temperature at a minute.
type Reading struct {
	Min float64 `json:"t_min"`
	C   float64 `json:"c"`
}

// usualHeat is what a pit gives where nothing is said of it, W/(m2 K).
const usualHeat = 25.0

// start is the moment that minutes count from: any will do.
var start = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

func minute(m float64) time.Time { return start.Add(time.Duration(m * float64(time.Minute))) }

// OfNumbers judges a day that is written out in numbers.
func OfNumbers(n Numbers) (Ruling, error) {
	in, err := n.input()
	if err != nil {
		return Ruling{}, err
	}
	return Of(in), nil
}

func (n Numbers) input() (in Input, err error) {
	if n.Reason != "" {
		if err := safety.CheckReason(n.Reason); err != nil {
			return in, fault.In("reason", err)
		}
	}
	if !(n.ElevationM >= -430 && n.ElevationM <= 6000) {
		return in, fault.New("elevation_m", fmt.Sprintf("%v m is no height of a barn", n.ElevationM), "give -430 to 6000")
	}
	in = Input{Meat: safety.Meat{Species: n.Species, Handling: n.Handling}, Lines: safety.Usual, Confirmed: !n.NotConfirmed, WholeBird: n.WholeBird, Kg: n.MassKg,
		Course: course.Course{Left: minute(-n.OutMin), Out: time.Duration(n.OutMin * float64(time.Minute)), AirC: n.AirC, On: minute(0),
			Served: []time.Time{minute(n.PlateMin)}},
		Now: minute(n.PlateMin), BoilsC: thermal.BoilingPoint(thermal.PressureAt(n.ElevationM)), Reason: n.Reason}
	if n.HalfCm != 0 {
		if !(n.HalfCm > 0 && n.HalfCm <= 30) {
			return in, fault.New("half_cm", fmt.Sprintf("%v cm is no half of a piece", n.HalfCm), "give up to 30")
		}
		if !(n.Shape >= 0 && n.Shape <= 2) {
			return in, fault.New("shape", fmt.Sprintf("%v is no shape", n.Shape), "give 0 for a slab, 1 for a cylinder, 2 for a sphere, or between")
		}
		in.Bound = BoundOf(n.HalfCm/100, n.Shape, n.SetC, usualHeat, false)
	}
	in.Lines.Sold, in.Lines.Variance = n.SoldToPublic, n.SaleVariance
	if n.Product != "" {
		in.Asked = in.Meat.Otherwise(n.Product)
	}
	if n.NeverOn {
		in.On = time.Time{}
	}
	if n.PullMin != nil {
		in.Pull = minute(*n.PullMin)
	}
	if n.SetC != 0 {
		in.Stays = append(in.Stays, course.Stay{From: in.On, To: in.Pull, Sets: []logbook.Point{{At: in.On, C: n.SetC}}})
	}
	if n.KnifeMin != nil {
		in.Knife = minute(*n.KnifeMin)
	}
	for i, p := range n.Places {
		place := course.Place{Name: p.Place}
		if len(p.Probe) > 0 {
			place.Probe = "the probe"
		}
		if place.Trace, err = points(fmt.Sprintf("places[%d].probe", i), p.Probe); err != nil {
			return in, err
		}
		hand, err := points(fmt.Sprintf("places[%d].hand", i), p.Hand)
		if err != nil {
			return in, err
		}
		for _, h := range hand {
			place.Hand = append(place.Hand, course.Hand{At: h.At, C: h.C})
		}
		in.Places = append(in.Places, place)
	}
	holder, err := points("holder", n.Holder)
	if len(holder) > 0 {
		in.Stays = append(in.Stays, course.Stay{From: holder[0].At, Holder: true, Powered: true, Air: holder})
	}
	return in, err
}

func points(field string, in []Reading) ([]logbook.Point, error) {
	var out []logbook.Point
	for i, r := range in {
		if i > 0 && !(r.Min >= in[i-1].Min) {
			return nil, fault.New(fmt.Sprintf("%s[%d]", field, i), "it is earlier than the reading before", "put the readings in order of time")
		}
		out = append(out, logbook.Point{At: minute(r.Min), C: r.C})
	}
	return out, nil
}
