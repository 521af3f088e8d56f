package pit

import (
	"fmt"
	"slices"
	"time"
)

// InUse is what a pit does as it is used, read from the burns of that set-up.
type InUse struct {
	TrialID   int64     `json:"trial_id"`
	ArmID     int64     `json:"arm_id"`
	Tag       string    `json:"tag"`
	Name      string    `json:"name"` // what the set-up is
	Burns     int       `json:"burns"`
	Last      time.Time `json:"last"` // of them
	LeadMin   *float64  `json:"lead_min"`
	RefuelMin *float64  `json:"refuel_min"`
	FuelKgH   *float64  `json:"fuel_kg_per_h"`
	WaterKgH  *float64  `json:"water_kg_per_h"`
	SpreadC   *float64  `json:"spread_c"`
	MiddleC   *float64  `json:"middle_off_set_c"` // where the pit's own probe usually lies
	Places    []Spot    `json:"places"`
}

// Used is what the burns of a set-up say of the pit on whose grate they burned.
func Used(j Judged, columns, rows int) InUse {
	u := InUse{Tag: j.Tag, Burns: len(j.Told), LeadMin: Lead(j.Told), RefuelMin: Refuel(j.Told), Places: MapOf(j.Told, columns, rows)}
	for _, m := range []struct {
		to  **float64
		get func(Told) *float64
	}{{&u.FuelKgH, func(t Told) *float64 { return t.FuelKgH }}, {&u.WaterKgH, func(t Told) *float64 { return t.WaterKgH }},
		{&u.SpreadC, func(t Told) *float64 { return t.SpreadC }}, {&u.MiddleC, ofMiddle(func(r Ran) *float64 { return r.OffC })}} {
		if v, ok := mean(j.Told, m.get); ok {
			*m.to = &v
		}
	}
	return u
}

// At is how far from set a place of the grate ran; nil where nothing tells.
func (u *InUse) At(position string) *float64 {
	if u == nil {
		return nil
	}
	if i := slices.IndexFunc(u.Places, func(s Spot) bool { return s.Name == position }); i >= 0 {
		return u.Places[i].OffC
	}
	return nil
}

// Over is how far over the middle of the grate a place ran; 0 where nothing tells.
func (u *InUse) Over(position string) float64 {
	off := u.At(position)
	if off == nil || u.MiddleC == nil {
		return 0
	}
	return *off - *u.MiddleC
}

// Alike are the places within 5 F of set, in the order of the grate.
func (u *InUse) Alike() (out []string) {
	if u == nil {
		return nil
	}
	for _, s := range u.Places {
		if s.Near {
			out = append(out, s.Name)
		}
	}
	return out
}

// Words say by what it is known.
func (u InUse) Words() string {
	n := "one burn"
	if u.Burns > 1 {
		n = fmt.Sprintf("%d burns", u.Burns)
	}
	return fmt.Sprintf("by %s as %s, the last on {day:%s}", n, u.Tag, u.Last.UTC().Format(time.RFC3339))
}
