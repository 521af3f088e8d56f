package prep

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/stat/distuv"

	"whitebarn/core/fault"
)

// PortionsInput is a table to be fed from pieces of which part is edible.
type PortionsInput struct {
	Eaters   int     `json:"eaters"`
	PortionG float64 `json:"portion_g"`
	Yield    float64 `json:"edible_yield"`    // edible of bought, expected
	YieldSD  float64 `json:"edible_yield_sd"` // between pieces
	YieldU   float64 `json:"edible_yield_u"`  // how well the expected one is known, one standard deviation
	PieceG   float64 `json:"piece_g"`         // bought weight of one
	PieceSD  float64 `json:"piece_sd_g"`      // between pieces
	Chance   float64 `json:"chance_of_being_enough"`
}

// PortionsOutput is how much to buy.
type PortionsOutput struct {
	NeedG      float64 `json:"need_edible_g"`
	Pieces     int     `json:"pieces"`
	BuyG       float64 `json:"buy_g"`
	ExpectG    float64 `json:"expected_edible_g"`
	LowG       float64 `json:"edible_low_g"` // nine times in ten it is more
	HighG      float64 `json:"edible_high_g"`
	Enough     float64 `json:"chance_enough"`
	OneLess    float64 `json:"chance_with_one_piece_less"`
	BareNumber float64 `json:"pieces_without_spread"` // what plain division says
}

// PortionsOf finds the least number of pieces that is enough with the chance
// wanted. Edible weight of n pieces is normal: its mean n m y, its variance n
// ((m s_y)^2 + (y s_m)^2 + (s_m s_y)^2) for pieces that differ by themselves,
// and (n m u)^2 for what is not known of the yield, which no number of pieces
// averages out.
func PortionsOf(in PortionsInput) (PortionsOutput, error) {
	var wrong fault.List
	if in.Eaters < 1 || in.Eaters > 10000 {
		wrong.Add("eaters", fmt.Sprintf("%d eaters", in.Eaters), "give 1 to 10000")
	}
	positive(&wrong, "portion_g", in.PortionG)
	positive(&wrong, "piece_g", in.PieceG)
	if !(in.Yield >= 0.05 && in.Yield <= 1) {
		wrong.Add("edible_yield", fmt.Sprintf("%g is no edible share", in.Yield), "give 0.05 to 1, such as 0.45 for 45 %")
	}
	share(&wrong, "edible_yield_sd", in.YieldSD, 0.3)
	share(&wrong, "edible_yield_u", in.YieldU, 0.3)
	if !(in.PieceSD >= 0 && in.PieceSD <= in.PieceG/2) {
		wrong.Add("piece_sd_g", fmt.Sprintf("%g g is no spread of such pieces", in.PieceSD), "give 0 to half a piece")
	}
	if !(in.Chance >= 0.5 && in.Chance <= 0.999) {
		wrong.Add("chance_of_being_enough", fmt.Sprintf("%g is no chance to buy for", in.Chance), "give 0.5 to 0.999")
	}
	if err := wrong.Err(); err != nil {
		return PortionsOutput{}, err
	}
	out := PortionsOutput{NeedG: float64(in.Eaters) * in.PortionG}
	each := math.Hypot(math.Hypot(in.PieceG*in.YieldSD, in.Yield*in.PieceSD), in.PieceSD*in.YieldSD)
	edible := func(n float64) distuv.Normal {
		return distuv.Normal{Mu: n * in.PieceG * in.Yield, Sigma: math.Hypot(math.Sqrt(n)*each, n*in.PieceG*in.YieldU)}
	}
	enough := func(n int) float64 {
		d := edible(float64(n))
		switch {
		case n == 0:
			return 0
		case d.Sigma == 0 && d.Mu >= out.NeedG:
			return 1
		case d.Sigma == 0:
			return 0
		}
		return 1 - d.CDF(out.NeedG)
	}
	out.BareNumber = out.NeedG / (in.PieceG * in.Yield)
	const most = 100000
	n := max(1, int(out.BareNumber))
	for ; enough(n) < in.Chance; n++ {
		if n >= most {
			return PortionsOutput{}, fault.New("edible_yield_u", "the yield is known too badly for any number of pieces to be enough that surely", "ask for a smaller chance, or weigh a cook first")
		}
	}
	for n > 1 && enough(n-1) >= in.Chance {
		n--
	}
	d := edible(float64(n))
	out.Pieces, out.BuyG, out.ExpectG = n, float64(n)*in.PieceG, d.Mu
	out.LowG, out.HighG = d.Mu, d.Mu
	if d.Sigma > 0 {
		out.LowG, out.HighG = max(0, d.Quantile(0.1)), d.Quantile(0.9)
	}
	out.Enough, out.OneLess = enough(n), enough(n-1)
	return out, nil
}
