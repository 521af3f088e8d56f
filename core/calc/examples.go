package calc

import (
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"whitebarn/core/design"
	"whitebarn/core/gate"
	"whitebarn/core/humidity"
	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/pit"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/units"
	"whitebarn/core/verdict"
	"whitebarn/core/yield"
)

func ptr[T any](v T) *T { return &v }

// every10 are readings every ten minutes.
func every10(c ...float64) (out []pit.Elapsed) {
	for i, v := range c {
		out = append(out, pit.Elapsed{S: 600 * float64(i), C: v})
	}
	return out
}

// setUp is a set-up burned once, read in the middle of the grate and at its far end.
func setUp(tag string, c ...float64) pit.SetUp {
	far := make([]float64, len(c))
	for i, v := range c {
		far[i] = 0.96 * v
	}
	return pit.SetUp{Tag: tag, Burns: []pit.Burn{{SetC: 121, Additions: []pit.Addition{}, Openings: []pit.Opening{}, Traces: []pit.Trace{
		{Point: "middle", Place: pit.Grate, Middle: true, Readings: every10(c...)},
		{Point: "far end", Place: pit.Grate, Readings: every10(far...)},
	}}}}
}

// ballotRows are three tasters on a square of three arms.
func ballotRows() (out [][]json.RawMessage) {
	for _, row := range []string{`"A" "T1" 1 7`, `"B" "T1" 2 6`, `"C" "T1" 3 4`, `"B" "T2" 1 8`, `"C" "T2" 2 5`, `"A" "T2" 3 5`, `"C" "T3" 1 6`,
		`"A" "T3" 2 6`, `"B" "T3" 3 6`, `"C" "T4" 1 5`, `"B" "T4" 2 7`, `"A" "T4" 3 4`} {
		var cells []json.RawMessage
		for _, cell := range strings.Fields(row) {
			cells = append(cells, json.RawMessage(cell))
		}
		out = append(out, cells)
	}
	return out
}

// tasted are three tasters on the two halves of three lambs.
func tasted() (out [][]json.RawMessage) {
	for cut, scores := range [][]int{{6, 7, 5, 7, 6, 6}, {5, 7, 6, 6, 5, 7}, {7, 8, 5, 7, 7, 7}} {
		for i, score := range scores {
			arm, taster := []string{"BARE", "PAPER"}[i%2], fmt.Sprintf("T%d", i/2+1)
			out = append(out, []json.RawMessage{json.RawMessage(strconv.Quote(arm)), json.RawMessage(strconv.Quote(taster)),
				json.RawMessage(fmt.Sprintf("%q", fmt.Sprintf("lamb %d", cut+1))), json.RawMessage(strconv.Itoa(score))})
		}
	}
	return out
}

// seasoning is a made-up rub.
var seasoning = []prep.Line{
	{Name: "black pepper", G: 113, PriceCents: 980, PackG: 227, Density: 0.47, Allergens: []string{}},
	{Name: "sweet paprika", G: 85, PriceCents: 760, PackG: 227, Density: 0.46, Allergens: []string{}},
	{Name: "fine salt", G: 60, PriceCents: 190, PackG: 907, Density: 1.217, Salt: 1, Allergens: []string{}},
	{Name: "mustard powder", G: 28, PriceCents: 540, PackG: 113, Density: 0.45, Allergens: []string{"mustard"}},
}

// examples are inputs a page starts from: the harvest supper for sixty.
var examples = map[string]any{
	"design.confounding": design.ArmTable{Factors: []string{"wrap", "pit temperature"}, Arms: [][]string{{"paper", "250"}, {"none", "250"}, {"paper", "275"}, {"none", "275"}}},
	"design.factorial":   design.FactorialInput{K: 4, Generators: []string{"D=ABC"}},
	"design.match": design.MatchInput{Pieces: []design.MatchPiece{
		{ID: "1L", Animal: "1", WeightG: ptr(2710.0)}, {ID: "1R", Animal: "1", WeightG: ptr(2655.0)}, {ID: "2L", Animal: "2", WeightG: ptr(2820.0)},
		{ID: "2R", Animal: "2", WeightG: ptr(2790.0)}, {ID: "3L", Animal: "3", WeightG: ptr(2580.0)}, {ID: "3R", Animal: "3", WeightG: ptr(2610.0)},
	}, ArmSizes: []int{3, 3}, SplitAnimals: true, SetSize: 2},
	"design.positions": design.PositionsInput{Arms: [][]string{{"PAPER", "PAN", "BARE"}, {"PAN", "BARE", "PAPER"},
		{"BARE", "PAPER", "PAN"}}},
	"humidity.altitude":   humidity.AltitudeInput{M: []float64{0, 320, 1000}},
	"humidity.boiling":    humidity.BoilingInput{HPa: []float64{1013.25, 975}},
	"humidity.saturation": humidity.SaturationInput{C: []float64{60, 71, 100, 121}},
	"humidity.wet_bulb":   humidity.BulbsInput{DryC: 121, WetC: 66, PressureHPa: 975},
	"logbook.slope": logbook.SlopeInput{T: []float64{0, 0.25, 0.5, 0.75, 1, 1.25, 1.5},
		Y:      []*float64{ptr(60.1), ptr(62.4), ptr(64.0), nil, ptr(66.9), ptr(67.8), ptr(68.3)},
		Window: []float64{0, 1.5}},
	"panel.check_codes":  panel.CodesInput{Codes: []string{"417", "862", "305", "123"}, Avoid: []string{"305"}},
	"panel.check_orders": panel.OrdersInput{Samples: 3, Orders: [][]int{{1, 2, 3}, {2, 3, 1}, {3, 1, 2}, {3, 2, 1}, {1, 3, 2}, {2, 1, 3}}},
	"panel.count_codes":  panel.CodeRange{From: 100, To: 999},
	"panel.agreement": panel.AgreementInput{Scores: [][]*float64{{ptr(6.0), ptr(7.0), ptr(5.0), ptr(8.0)}, {ptr(5.0), ptr(7.0), ptr(6.0), ptr(7.0)},
		{ptr(8.0), nil, ptr(6.0), ptr(9.0)}}},
	"panel.forced_choice":       panel.ForcedInput{Method: panel.Triangle, Correct: 7, N: 12},
	"panel.forced_choice_power": panel.ForcedPowerInput{Method: panel.Triangle, N: 12, D: 2, Alpha: 0.05, Power: 0.8},
	"panel.least_correct":       panel.LeastInput{Method: panel.Triangle, Alpha: 0.05, N: []int{3, 6, 9, 12}},
	"panel.penalty": panel.PenaltyInput{Ballots: []panel.JAR{{JAR: ptr(3.0), Liking: ptr(8.0)}, {JAR: ptr(3.0), Liking: ptr(7.0)}, {JAR: ptr(2.0), Liking: ptr(6.0)},
		{JAR: ptr(2.0), Liking: ptr(5.0)}, {JAR: ptr(3.0), Liking: ptr(8.0)}, {JAR: ptr(4.0), Liking: ptr(7.0)}}},
	"panel.position":            panel.PositionInput{Columns: []string{"arm", "taster", "position", "score"}, Rows: ballotRows()},
	"panel.preference":          panel.PreferenceInput{Method: "paired_preference", A: 9, B: 3, None: 1},
	"panel.probability_correct": panel.ApartInput{Method: panel.Triangle, D: []float64{0.5, 1, 2}},
	"panel.ranking":             panel.RankingInput{Method: "ranking", Ranks: [][]float64{{1, 2, 3}, {2, 1, 3}, {1, 2.5, 2.5}, {1, 2, 3}}},
	"panel.reliability": panel.ReliabilityInput{Scores: [][]*float64{{ptr(7.0), ptr(5.0), ptr(6.0)}, {ptr(5.0), ptr(3.0), ptr(5.0)}, {ptr(8.0), ptr(6.0), ptr(6.0)},
		{ptr(4.0), ptr(3.0), ptr(5.0)}}},
	"panel.repeatability": panel.RepeatInput{Pairs: [][][2]*float64{{{ptr(6.0), ptr(7.0)}, {ptr(5.0), ptr(5.0)}}, {{ptr(4.0), ptr(6.0)}}}},
	"panel.williams":      panel.WilliamsInput{K: []int{4}},
	"pit.compare":         pit.CompareInput{A: setUp("TROUGH", 8, 55, 92, 114, 121, 126, 124, 121), B: setUp("DRY", 8, 74, 119, 128, 141, 133, 124, 119)},
	"pit.dry_burn": pit.Burn{SetC: 121, FuelKg: 3.2, Traces: []pit.Trace{
		{Point: "fire end", Place: pit.Grate, Readings: every10(8, 62, 101, 121, 124, 131, 125, 119)},
		{Point: "middle", Place: pit.Grate, Middle: true, Readings: every10(8, 58, 96, 118, 121, 128, 122, 116)},
		{Point: "dial", Place: pit.Dial, Readings: every10(8, 64, 106, 127, 130, 138, 131, 124)},
	}, Additions: []pit.Addition{{S: 2400, What: "wood", Pieces: 1}}, Openings: []pit.Opening{}},
	"pit.holder": pit.PanInput{DialC: 71, TargetC: 65.6, FloorC: 60, Hours: []float64{0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4, 4.5, 5},
		C: []float64{15.6, 29.6, 40.1, 47.8, 53.6, 57.9, 61.0, 63.4, 65.1, 66.4, 67.4}, Before: []pit.Setting{}},
	"pit.equilibrium": pit.EquilibriumInput{Hours: []float64{0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75, 2},
		Y: []float64{62, 63.4, 64.5, 65.4, 66.1, 66.7, 67.2, 67.5, 67.8}},
	"plan.start": plan.StartInput{Family: "lambshoulder", WeightKg: 2.7, ThicknessCM: ptr(11.4), Smoker: "offset", PitC: 121, Wrap: "paper", WrapAtC: 74, PullC: 95,
		RestMin: 90, LeastHoldH: 0.5, PlanHoldH: 2, SliceMin: 15, Chance: 0.9},
	"prep.brine":          prep.BrineInput{MeatG: 2500, WaterG: 3000, Target: 0.012, PickUp: 0.1},
	"prep.cost":           prep.CostInput{MeatCents: 4150, Used: seasoning, EdibleG: 1230, PortionG: 150},
	"prep.cover":          prep.CoverInput{MeatG: 2700, ThicknessCM: 11.4, Shape: 1, RubGM2: prep.UsualRubGM2, BinderGM2: prep.UsualBinderGM2, RubSalt: 0.2},
	"prep.dry_brine":      prep.DryBrineInput{MeatG: 2270, Share: 0.01, Salt: prep.FlakySalt},
	"prep.injection":      prep.InjectionInput{BeforeG: 2700, AfterG: 2965, DrainedG: ptr(2890.0), Strength: 0.05, ResolutionG: 5},
	"prep.injection_grid": prep.GridInput{MeatG: 2700, PickUp: 0.1, Density: 1.03, LengthCM: 28, WidthCM: 17, SpacingC: 3},
	"prep.lead":           prep.LeadInput{MeatG: 2700, ThicknessCM: 11.4},
	"prep.portions":       prep.PortionsInput{Eaters: 60, PortionG: 150, Yield: 0.44, YieldSD: 0.025, YieldU: 0.01, PieceG: 2900, PieceSD: 130, Chance: 0.95},
	"prep.scale_recipe":   prep.ScaleInput{Lines: seasoning, WantedG: 500},
	"prep.shopping":       prep.ShoppingInput{Needs: seasoning, Have: map[string]float64{"fine salt": 400, "black pepper": 20}},
	"prep.total_salt":     prep.TotalSaltInput{MeatG: 2270, BrineG: 0, InjectG: 9, RubG: 80, RubShare: 0.2},
	"safety.gate": gate.Numbers{Species: safety.Poultry, Handling: safety.Intact, OutMin: 20, PullMin: ptr(80.0), PlateMin: 100,
		Places: []gate.PlaceNumbers{{Place: "breast", Probe: []gate.Reading{{Min: 0, C: 5}, {Min: 30, C: 40}, {Min: 60, C: 64}, {Min: 64, C: 66},
			{Min: 68, C: 66.5}, {Min: 72, C: 66.5}, {Min: 76, C: 66}, {Min: 80, C: 66}}, Hand: []gate.Reading{{Min: 79, C: 66}}}}},
	"safety.lethality": safety.LethalityInput{Species: safety.RedMeat, Trace: []safety.Sample{{Seconds: 0, C: 52}, {Seconds: 300, C: 56},
		{Seconds: 600, C: 59}, {Seconds: 900, C: 62}, {Seconds: 1200, C: 64}}},
	"safety.minimum": safety.Meat{Species: safety.RedMeat, Handling: safety.Intact},
	"thermal.simulate": thermal.SimulationInput{
		Cut:     thermal.CutNumbers(shoulder()),
		Surface: thermal.SurfaceNumbers(thermal.UsualCrust),
		Phases:  []thermal.PhaseNumbers{{Name: "smoke", Air: ptr(121.0), HeatTransfer: 8.5, Emissivity: 0.9, DewPoint: ptr(38.0), End: thermal.ByCore, Value: 95, Longest: 86400}},
	},
	"units.to_grams":         units.GramsInput{Lb: 6, Oz: 3.5},
	"units.to_pounds_ounces": units.PoundsOuncesInput{Grams: 2820},
	"verdict.anytime": verdict.AnytimeInput{PlannedUnits: 8, Looks: []verdict.Look{{Estimate: 0.43, SE: 0.32, DF: 3, Units: 4},
		{Estimate: 0.61, SE: 0.2, DF: 7, Units: 8}}},
	"verdict.blocks": verdict.BlocksInput{Arms: []string{"ALDER", "APRICOT", "HORN"}, Blocks: []string{"day 1", "day 2", "day 3", "day 4"},
		Scores: [][]*float64{{ptr(6.2), ptr(5.8), ptr(6.9)}, {ptr(5.5), ptr(5.9), ptr(6.4)}, {ptr(6.8), ptr(5.7), ptr(7.1)}, {ptr(6.6), nil, ptr(7.4)}}},
	"verdict.paired": verdict.PairedInput{Pairs: []verdict.Pair{
		{Block: "lamb 1", A: ptr(7.1), B: ptr(6.2)}, {Block: "lamb 2", A: ptr(6.8), B: ptr(6.5)}, {Block: "lamb 3", A: ptr(7.4), B: ptr(6.4)}, {Block: "lamb 4", A: ptr(6.9), B: ptr(6.6)},
		{Block: "lamb 5", A: ptr(7.0), B: ptr(6.1)}, {Block: "lamb 6", A: ptr(7.2), B: ptr(6.9)},
	}, EquivalenceBound: ptr(0.5)},
	"verdict.dose": verdict.DoseInput{Doses: []float64{4, 9, 14, 4, 9, 14, 4, 9, 14}, Blocks: []string{"lamb 1", "lamb 1", "lamb 1", "lamb 2", "lamb 2", "lamb 2",
		"lamb 3", "lamb 3", "lamb 3"}, Values: []float64{6.8, 7.1, 6.6, 6.5, 6.6, 6.2, 7.2, 7.3, 6.9}, SmallestDifference: 0.5},
	"verdict.mixed":      verdict.MixedInput{Arms: []string{"BARE", "PAPER"}, Columns: []string{"arm", "taster", "cut", "score"}, Rows: tasted()},
	"verdict.pooled":     verdict.PooledInput{Estimates: []float64{1.1, 0.9, 0.4}, SEs: []float64{0.28, 0.22, 0.18}},
	"verdict.share_best": verdict.ShareInput{Arms: []string{"PAPER", "BARE"}, Scores: [][]float64{{7.1, 6.2}, {6.8, 6.9}, {7.4, 6.4}, {6.9, 6.6}}},
	"verdict.utilities": verdict.UtilitiesInput{Arms: []string{"PAPER", "PAN", "BARE"},
		Criteria: []verdict.Criterion{{Name: "overall liking", Weight: 6, Zero: 4, One: 8},
			{Name: "edible yield", Weight: 8, Zero: 35, One: 60}, {Name: "hands-on time", Weight: 7, Zero: 180, One: 20}},
		Values: [][]float64{{7.1, 47.1, 71}, {6.5, 48, 76}, {6.4, 44.2, 62}}},
	"verdict.words":  verdict.WordsInput{Pairs: []verdict.Comparison{{Estimate: 0.62, SE: 0.14, DF: 5}}, SmallestDifference: 0.5},
	"yield.combined": yield.CombinedInput{Parts: []yield.Part{{RawG: ptr(1420.0), CookedG: ptr(880.0)}, {RawG: ptr(1310.0), CookedG: ptr(802.0)}}, ScaleResolutionG: 5},
	"yield.steps":    yield.StepsInput{WeightsG: []float64{2890, 2700, 1705, 1640, 1260}},
}

func shoulder() thermal.Cut {
	f, err := thermal.FamilyOf("lambshoulder")
	if err != nil {
		panic(err) // one of the model's own
	}
	return f.Cut(2.7, 0.114, 4)
}
