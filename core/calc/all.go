package calc

import (
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

// All lists every calculation, by name.
var All = []Calculation{
	define("design.confounding", "What moves together in a table of arms", "Least squares rank; Fox and Monette, 1992 (inflation); Cramér, 1946", design.ConfoundingOf),
	beyond(define("design.factorial", "Two-level designs and their aliases", "Box, Hunter and Hunter, 2005, Statistics for Experimenters, chapter 6", design.FactorialOf),
		"more than 7 factors", func(in design.FactorialInput) bool { return in.K > 7 }),
	define("design.match", "Best allotment and closest sets", "Standardised mean difference; all allotments looked at", design.Match),
	define("design.positions", "Arms over positions and cooks", "Latin squares: Fisher, 1935", design.PositionsOf),
	define("humidity.altitude", "Pressure and boiling point by height", humidity.Source, humidity.AltitudeOf),
	define("humidity.boiling", "Boiling point by the barometer", humidity.Source, humidity.BoilingOf),
	define("humidity.saturation", "Pressure of saturated vapour", humidity.Source, humidity.SaturationOf),
	define("humidity.wet_bulb", "Humidity from a wet bulb", humidity.Source, humidity.BulbsOf),
	define("logbook.slope", "How fast readings rise", logbook.SlopeSource, logbook.SlopeOf),
	define("panel.agreement", "How tasters go with each other", panel.AgreementSource, panel.AgreementOf),
	define("panel.check_codes", "Check blind sample codes", "Sensory practice: three random digits that carry no hint", panel.CheckCodes),
	define("panel.check_orders", "Check serving orders", "Williams, E. J., 1949: position and carry-over balance", panel.CheckOrders),
	define("panel.count_codes", "Count usable sample codes", "Sensory practice: three random digits that carry no hint", panel.CountCodes),
	define("panel.forced_choice", "Told apart or guessed", panel.ForcedSource, panel.ForcedOf),
	define("panel.forced_choice_power", "How many answers tell samples apart", panel.ForcedSource, panel.ForcedPowerOf),
	define("panel.least_correct", "How many must be right", panel.ForcedSource, panel.LeastOf),
	define("panel.penalty", "What it costs not to be just right", panel.PenaltySource, panel.PenaltyOf),
	define("panel.position", "Does the place on the plate tell", panel.PositionSource, panel.PositionEffect),
	define("panel.preference", "Votes for one of two", panel.ForcedSource, panel.PreferenceOf),
	define("panel.probability_correct", "How often samples so far apart are told", panel.ForcedSource, panel.CorrectOf),
	define("panel.ranking", "Ranks and what separates them", panel.RankingSource, panel.RankingOf),
	define("panel.reliability", "How much of the scores is of the samples", panel.AgreementSource, panel.ReliabilityOf),
	define("panel.repeatability", "The same sample twice", panel.AgreementSource, panel.RepeatabilityOf),
	beyond(define("panel.williams", "Balanced serving orders", "Williams, E. J., 1949, Australian Journal of Scientific Research A 2", panel.WilliamsProperties),
		"more than 20 numbers of samples", func(in panel.WilliamsInput) bool { return len(in.K) > 20 }),
	define("pit.compare", "Two set-ups of a pit side by side", pit.Source+"; Welch, 1947 (intervals)", pit.CompareOf),
	define("pit.dry_burn", "What a pit does without meat", pit.Source, pit.Tell),
	define("pit.equilibrium", "Where a pit or a pan comes to rest", pit.EquilibriumSource, pit.EquilibriumOf),
	define("pit.holder", "Where a holder comes to rest, by a pan of water", pit.HolderSource, pit.PanOf),
	long("plan.start", "When a cut must go on", "This barn's cook model, drawn anew for what is not known (see thermal.simulate)", plan.StartOf),
	define("prep.brine", "Equilibrium brine and dry salt", "Conservation of salt", prep.BrineOf),
	define("prep.cost", "Cost of a cook per edible weight and portion", "Sum of what was used", prep.CostOf),
	define("prep.cover", "Rub and binder by area", "Area of the cook model's shape; usual coats are ours", prep.CoverOf),
	define("prep.dry_brine", "Dry brine by scale and spoon", "Usual bulk densities of salt; spoons vary", prep.DryBrineOf),
	define("prep.injection", "Pick-up and salt of an injection", "Conservation of salt; JCGM 100:2008, 4.3.7 (scale resolution)", prep.InjectionOf),
	define("prep.injection_grid", "Needle sites and volume of an injection", "Square grid of equal sites", prep.GridOf),
	define("prep.lead", "How long before the fire to begin", prep.LeadSource, prep.LeadOf),
	define("prep.portions", "How much to buy for so many eaters", "Normal sum of pieces that differ, and of what is not known of the yield", prep.PortionsOf),
	define("prep.scale_recipe", "A recipe brought to a weight", "Proportion; cost, salt and allergens added up", prep.ScaleOf),
	define("prep.shopping", "What to buy", "Needs by name, less what there is, up to whole packs", prep.ShoppingOf),
	define("prep.total_salt", "All salt of a cut", "Sum; usual 0.8 to 2.5 % of the meat", prep.TotalSaltOf),
	define("safety.gate", "A piece before the table", gate.Source, gate.OfNumbers),
	define("safety.lethality", "Time and temperature together", safety.LethalitySource, safety.LethalityOf),
	define("safety.minimum", "Minimum internal temperature", safety.Source, safety.MinimumOf),
	define("thermal.simulate", "One cut through its cook", "Patankar, 1980 (finite volumes); van der Sman, 2007 (water held); Choi and Okos, 1986 (heat); Lewis relation; crust and rates fitted", thermal.SimulationOf),
	define("units.to_grams", "Pounds and ounces to grams", "International avoirdupois pound, 1959", units.ToGrams),
	define("units.to_pounds_ounces", "Grams to pounds and ounces", "International avoirdupois pound, 1959", units.PoundsOuncesOf),
	define("verdict.anytime", "A contrast that is looked at more than once", verdict.AnytimeSource, verdict.Anytime),
	define("verdict.blocks", "Arms compared within blocks", "Fisher, 1935; Friedman, 1937; least squares for what is missing", verdict.BlocksOf),
	define("verdict.dose", "A numeric factor: its trend and the least dose as good as any", verdict.DoseSource, verdict.DoseOf),
	define("verdict.mixed", "Ballots by a mixed model", verdict.MixedSource, verdict.MixedOf),
	define("verdict.paired", "Compare two arms over pairs", "Student, 1908; Schuirmann, 1987 (two one-sided tests); Fisher, 1935 (sign flips); Wilcoxon, 1945", verdict.Paired),
	define("verdict.pooled", "One contrast over several trials", verdict.PooledSource, verdict.Pooled),
	define("verdict.share_best", "How sure the best arm is", verdict.ShareSource, verdict.ShareBest),
	define("verdict.utilities", "Arms weighed by several outcomes", verdict.UtilitySource, verdict.Utilities),
	define("verdict.words", "Say a verdict in words", "This barn's rules: Holm, 1979, and two one-sided tests, 1987", verdict.WordsOf),
	define("yield.combined", "Yield of several parts", "Propagation of scale resolution, JCGM 100:2008, 4.3.7", yield.Combined),
	define("yield.steps", "Yield step by step", "Ratio of weights", yield.Steps),
}
