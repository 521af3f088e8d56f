package calc

// formulas are what a calculation does, line by line: names in braces are
// fields of its input or output. Those that are more than a formula say in
// words what is done.
var formulas = map[string][]string{
	"design.confounding": {"A factor whose column follows from others cannot be told apart from them: rank of the coded columns against their number.", "{model_columns} columns, rank {model_rank}, {df_left} left for error"},
	"design.factorial":   {"Every effect is a product of factor columns; effects with equal columns are aliases.", "2^({k} - generators) = {n_runs} runs"},
	"design.match":       {"Every allotment is looked at: the largest standardised mean difference between arms is made as small as it can be.", "{allocation.allocations_tried} allotments, smallest largest difference {allocation.min_max_smd}"},
	"design.positions":   {"A Latin square has every arm once in every position and once in every cook."},
	"panel.check_codes":  {"A code has three digits from 100 to 999, not all alike, no straight run, and comes once."},
	"panel.check_orders": {"Every sample comes as often in every position, and as often right after every other."},
	"panel.count_codes":  {"{acceptable} = {all} - {all_same_digit} - {straight_runs}"},
	"panel.williams":     {"An even number of samples needs one square, an odd one two: then each follows each equally often."},
	"plan.start": {
		"The cook model cooks the cut 200 times with what is not known of it drawn anew.",
		"{latest_start_before_table_h} = slicing + least hold + rest + what {wanted_chance} of the cooks take at most",
		"{advised_start_before_table_h} = slicing + planned hold + rest + {cook_middle_h}, or the latest start if that is earlier",
	},
	"prep.brine": {
		"{salt_g_of_meat_plus_water} = {target_salt_fraction} x ({meat_g} + {water_g})",
		"{brine_strength_by_water} = {salt_g_of_meat_plus_water} / {water_g}",
		"{brine_strength_by_weight} = {salt_g_of_meat_plus_water} / ({water_g} + {salt_g_of_meat_plus_water})",
		"{dry_salt_g_of_meat} = {target_salt_fraction} x {meat_g}",
		"{injection_brine_fraction_for_target_of_green} = {target_salt_fraction} / {injection_pickup}",
		"{nitrite_ppm_of_meat} = {cure_g} x {cure_nitrite_fraction} / {meat_g} x 1000000",
	},
	"prep.cost": {
		"{total_cents} = {meat_cents} + each pack's price x grams / grams of the pack",
		"{cents_per_edible_kg} = {total_cents} / {edible_g} x 1000",
		"{portions} = {edible_g} / {portion_g}",
		"{cents_per_portion} = {total_cents} / {portions}",
	},
	"prep.cover": {
		"{area_cm2} = {meat_g} / 1.05 x ({shape} + 1) / ({thickness_cm} / 2)",
		"{rub_g} = {rub_g_per_m2} x {area_cm2} / 10000",
		"{binder_g} = {binder_g_per_m2} x {area_cm2} / 10000",
		"{salt_g} = {rub_g} x {rub_salt_fraction}",
	},
	"prep.dry_brine": {
		"{salt_g} = {meat_g} x {salt_fraction}",
		"{teaspoons} = {salt_g} / what a level teaspoon of this salt holds (6, 4.8 or 2.8 g)",
		"{tablespoons} = {teaspoons} / 3",
	},
	"prep.injection": {
		"{pickup} = ({after_g} - {before_g}) / {before_g}",
		"{salt_in_meat_after_injection} = ({after_g} - {before_g}) x {brine_salt_fraction_by_weight} / {after_g}",
		"{retained} = ({drained_g} - {before_g}) / {before_g}",
		"{u_pickup} = {scale_resolution_g} / root 12 / {before_g} x root(1 + ({after_g} / {before_g})^2)",
	},
	"prep.injection_grid": {
		"{brine_g} = {meat_g} x {pickup}",
		"{brine_ml} = {brine_g} / {brine_g_per_ml}",
		"{sites_along} = {length_cm} / {spacing_cm}, {sites_across} = {width_cm} / {spacing_cm}, to whole sites",
		"{ml_per_site} = {brine_ml} / ({sites_along} x {sites_across})",
	},
	"prep.lead": {
		"{thaw_in_the_fridge_h} = {meat_g} / 2268 x 24",
		"{brine_h} = 2 x ({thickness_cm} / 2.54)^2",
		"{dry_brine_h} = 1.5 x ({thickness_cm} / 2.54)^2",
	},
	"humidity.altitude":   {"pressure = 101325 x (1 - 2.25577e-5 x height)^5.25588; water boils where saturated vapour has that pressure"},
	"humidity.boiling":    {"water boils where saturated vapour has the pressure of the air"},
	"humidity.saturation": {"ln p = -5800.2206 / T + 1.3914993 - 0.048640239 T + 4.1764768e-5 T^2 - 1.4452093e-8 T^3 + 6.5459673 ln T, T in kelvin"},
	"humidity.wet_bulb": {
		"Ws = 0.621945 x p(wet) / (air - p(wet))",
		"W = ((2501 - 2.326 wet) Ws - 1.006 (dry - wet)) / (2501 + 1.86 dry - 4.186 wet)",
		"vapour = air x W / (0.621945 + W); humidity = vapour / p(dry)",
		"In a pit the wet bulb reads high: still air, and walls that radiate.",
	},
	"logbook.slope": {"{slope} by least squares over {n} readings", "{theil_sen_slope} is the median of the slopes of every two"},
	"pit.compare": {
		"Both are read over the time that all their burns share, each as pit.dry_burn reads it.",
		"difference = mean of a - mean of b; its interval by Welch's t where both were burned twice",
	},
	"pit.dry_burn": {
		"Readings by the minute, the median of five; from when the last place is warm to the first end of a trace.",
		"{plan_lead_min} = {warm_up_min} + 10, up to the next 5",
		"held: from the addition to the first minute after the peak at or under where it was",
	},
	"pit.holder": {
		"y = E + (y0 - E) exp(-t / tau) + ripple; E 9 times in 10",
		"{next_dial_c} = {dial_c} + ({target_c} - E) / {gain}",
		"passes: E within 3 F of {target_c}, and E less half the ripple at or over {floor_c}",
	},
	"pit.equilibrium": {"y = {e} + ({y0} - {e}) exp(-t / {tau})", "by least squares over {n} readings, {df} degrees of freedom"},
	"prep.portions": {
		"{need_edible_g} = {eaters} x {portion_g}",
		"{pieces_without_spread} = {need_edible_g} / ({piece_g} x {edible_yield})",
		"{expected_edible_g} = {pieces} x {piece_g} x {edible_yield}, normal, spread by pieces and by what is not known of the yield",
		"{pieces} is the least number that is enough in {chance_of_being_enough} of the suppers: {chance_enough}, one less {chance_with_one_piece_less}",
	},
	"prep.scale_recipe": {"{factor} = {wanted_g} / the sum of the recipe", "{salt_fraction} = {salt_g} / {wanted_g}"},
	"prep.shopping":     {"missing = need - what there is; packs = missing / a pack, rounded up", "{cost_cents} together"},
	"prep.total_salt": {
		"{salt_g} = {salt_from_brine_g} + {salt_from_injection_g} + {rub_g} x {rub_salt_fraction}",
		"{salt_fraction} = {salt_g} / {meat_g}",
	},
	"safety.gate":            {"Every place by itself: at once, or share of lethality 1; come-up, time out and time after cooking against their limits."},
	"safety.lethality":       {"{share} = sum of (r2 - r1) dt / ln(r2 / r1), r = 1 / the table's time at the median of three readings, at most 1"},
	"safety.minimum":         {"Looked up by kind of meat and how it was handled."},
	"thermal.simulate":       {"Heat and water of the cut are worked out cell by cell, step by step, until each phase ends.", "{steps} steps, energy kept to {energy_residual}, mass to {mass_residual}"},
	"units.to_grams":         {"{grams} = ({lb} x 16 + {oz}) x 28.349523125"},
	"units.to_pounds_ounces": {"{decimal_lb} = {grams} / 453.59237"},
	"verdict.anytime": {
		"g = {planned_units} / 6.6, k = g / (units + g)",
		"e = root k x ((1 + t^2 / df) / (1 + k t^2 / df))^((df + 1) / 2), t = estimate / se",
		"p = 1 / the largest e so far, at most 1",
	},
	"verdict.blocks": {"score = arm + block, by least squares over what is there; Holm over all pairs of arms."},
	"verdict.paired": {
		"{se_diff} = {sd_diff} / root {n_used}",
		"{t} = {mean_diff} / {se_diff}, {df} degrees of freedom",
	},
	"verdict.words": {"Clear winner: p after Holm at most 0.05 and at least the difference that matters. Same: the 90 % interval lies inside it. Leaning: the 80 % interval leaves out 0. Else: cannot tell."},
	"yield.combined": {
		"{combined_yield} = all cooked / all raw",
		"{u_weight_g} = {scale_resolution_g} / root 12",
	},
	"yield.steps": {"{overall} = last weight / first weight"},
}
