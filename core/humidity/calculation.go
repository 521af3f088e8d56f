package humidity

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
)

// BulbsInput is a dry and a wet bulb read side by side.
type BulbsInput struct {
	DryC        float64 `json:"dry_bulb_c"`
	WetC        float64 `json:"wet_bulb_c"`
	PressureHPa float64 `json:"pressure_hpa"`
}

// BulbsOutput is how wet the air is. Valid is false where no air can read so; what cannot be
// told is missing.
type BulbsOutput struct {
	Valid   bool     `json:"valid"`
	Why     string   `json:"reason"` // it is not valid
	Balance Balance  `json:"energy_balance"`
	Highest *float64 `json:"max_possible_rh_percent"`
	Half    *float64 `json:"rh_change_for_wet_bulb_plus_half_degree"`
}

// Balance is what the energy balance of the wet bulb tells.
type Balance struct {
	VapourPa *float64 `json:"vapor_pressure_pa"`
	RH       *float64 `json:"rh_percent"`
	DewPoint *float64 `json:"dew_point_c"`
	Ratio    *float64 `json:"humidity_ratio"`
	Volume   *float64 `json:"moisture_volume_percent"`
}

// BulbsOf tells the humidity from both bulbs.
func BulbsOf(in BulbsInput) (BulbsOutput, error) {
	var out BulbsOutput
	pa := in.PressureHPa * 100
	a, err := OfBulbs(in.DryC, in.WetC, pa)
	if err != nil {
		if !(in.DryC >= coldest && in.DryC <= hottest && pa >= leastPa && pa <= mostPa) {
			return out, err
		}
		out.Why = err.Error()
		out.Highest = known(100 * HighestRH(in.DryC, pa))
		return out, nil
	}
	return BulbsOutput{Valid: true, Highest: known(100 * a.HighestRH), Half: known(100 * a.HalfDegreeRH), Balance: Balance{
		VapourPa: known(a.VapourPa), RH: known(100 * a.RH), DewPoint: known(a.DewPointC), Ratio: known(a.Ratio),
		Volume: known(100 * a.VolumeOfAll),
	}}, nil
}

// known is v, or nothing where it is not a number.
func known(v float64) *float64 {
	if math.IsNaN(v) {
		return nil
	}
	return &v
}

// SaturationInput are temperatures.
type SaturationInput struct {
	C []float64 `json:"t_c"`
}

// SaturationOutput are the pressures of saturated vapour at them.
type SaturationOutput struct {
	Pa []float64 `json:"hyland_wexler_pa"`
}

// SaturationOf is a table of saturation pressures.
func SaturationOf(in SaturationInput) (out SaturationOutput, err error) {
	for i, t := range in.C {
		if !(t >= coldest && t <= hottest) {
			return out, fault.New(fmt.Sprintf("t_c[%d]", i), fmt.Sprintf("%g C is out of the formula's range", t), "give 0 to 200 C")
		}
		out.Pa = append(out.Pa, Saturation(t))
	}
	return out, nil
}

// AltitudeInput are heights over the sea.
type AltitudeInput struct {
	M []float64 `json:"altitude_m"`
}

// AltitudeOutput is the usual pressure there, and at what water boils.
type AltitudeOutput struct {
	Pa []float64 `json:"pressure_pa"`
	C  []float64 `json:"boiling_c"`
	F  []float64 `json:"boiling_f"`
}

// AltitudeOf is a table of pressures and boiling points.
func AltitudeOf(in AltitudeInput) (out AltitudeOutput, err error) {
	for i, m := range in.M {
		if !(m >= -430 && m <= 6000) {
			return out, fault.New(fmt.Sprintf("altitude_m[%d]", i), fmt.Sprintf("%g m is no height of a barn", m), "give -430 to 6000")
		}
		pa := thermal.PressureAt(m)
		out.Pa, out.C, out.F = append(out.Pa, pa), append(out.C, Boiling(pa)), append(out.F, units.CToF(Boiling(pa)))
	}
	return out, nil
}

// BoilingInput are pressures as a barometer at the barn reads them, not brought to sea level.
type BoilingInput struct {
	HPa []float64 `json:"pressure_hpa"`
}

// BoilingOutput is at what water boils under them.
type BoilingOutput struct {
	C []float64 `json:"boiling_c"`
}

// BoilingOf is a table of boiling points.
func BoilingOf(in BoilingInput) (out BoilingOutput, err error) {
	for i, p := range in.HPa {
		if !(p*100 >= leastPa && p*100 <= mostPa) {
			return out, fault.New(fmt.Sprintf("pressure_hpa[%d]", i), fmt.Sprintf("%g hPa is no pressure of the air", p), "give 300 to 1200 hPa")
		}
		out.C = append(out.C, Boiling(p*100))
	}
	return out, nil
}
