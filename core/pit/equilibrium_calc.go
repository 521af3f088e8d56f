package pit

import "math"

// EquilibriumInput are readings of something that warms or cools towards a rest.
type EquilibriumInput struct {
	Hours []float64 `json:"t_hours"`
	Y     []float64 `json:"y"`
	Fixed bool      `json:"y0_fixed_at_first_reading"`
}

// EquilibriumOutput is where it comes to rest. Nothing but N is told where the fit does not
// converge; a time constant known to a quarter only makes all of it worthless.
type EquilibriumOutput struct {
	Converged bool     `json:"converged"`
	N         int      `json:"n"`
	E         *float64 `json:"e"`
	ESE       *float64 `json:"e_se"`
	Tau       *float64 `json:"tau"`
	TauSE     *float64 `json:"tau_se"`
	Y0        *float64 `json:"y0"`
	Y0SE      *float64 `json:"y0_se"`
	SD        *float64 `json:"residual_sd"`
	SS        *float64 `json:"ss_resid"`
	DF        *int     `json:"df"`
	Relative  *float64 `json:"tau_relative_se"`
	Lag1      *float64 `json:"residual_lag1"`
}

// EquilibriumOf fits the approach to a rest.
func EquilibriumOf(in EquilibriumInput) (EquilibriumOutput, error) {
	f, err := FitEquilibrium(in.Hours, in.Y, in.Fixed)
	if err != nil || !f.Converged {
		return EquilibriumOutput{N: len(in.Y)}, err
	}
	known := func(v float64) *float64 {
		if math.IsNaN(v) {
			return nil
		}
		return &v
	}
	return EquilibriumOutput{Converged: true, N: f.N, E: &f.E, ESE: &f.ESE, Tau: &f.Tau, TauSE: &f.TauSE, Y0: &f.Y0, Y0SE: known(f.Y0SE),
		SD: &f.SD, SS: &f.SS, DF: &f.DF, Relative: known(f.TauSE / f.Tau), Lag1: &f.Lag1}, nil
}
