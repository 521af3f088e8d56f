package archive

import "strings"

// titles say what a row of a table is. A test names those that are missing.
var titles = map[string]string{
	"accepted_findings":  "A finding of Match that was accepted, with why",
	"alarm_states":       "What an alarm of a cook goes by",
	"alarms":             "An alarm of a cook",
	"allotments":         "A draw of cuts into arms, with its seed",
	"arms":               "An arm of a trial",
	"ballots":            "A taster's ballot of a flight",
	"barn":               "The barn",
	"barn_lines":         "The barn's own food-safety lines",
	"calibrations":       "A calibration of a holder by a pan of water",
	"catalogue_factors":  "A factor that can vary",
	"catalogue_levels":   "A level of a factor",
	"changes":            "What was changed in place: before and after",
	"contrasts":          "What a settled trial showed of two levels in a cook",
	"cook_holder_runs":   "Which holder runs a cook uses",
	"cook_pit_runs":      "Which pit runs a cook uses",
	"cooks":              "A cook: one outing of a trial",
	"cut_families":       "A team's own kind of cut",
	"cut_guesses":        "What the forecast has learnt of a cut",
	"cuts":               "A cut, or a part of one",
	"devices":            "A device, or the source of log files",
	"dimensions":         "A measure of a raw cut",
	"entry_links":        "A link by which somebody sets a password",
	"events":             "An event of the log",
	"flights":            "Samples served together",
	"gate_reasons":       "An override of the food-safety gate: the pitmaster's reason for a cut",
	"guest_doors":        "A code by which guests seat themselves",
	"guests":             "A guest who is known again",
	"holder_runs":        "A holder in use, from and to",
	"holders":            "A holder",
	"imports":            "A log file that was taken in",
	"ingredients":        "An ingredient of the pantry",
	"leftovers":          "What was left of fuel, wood and water",
	"looks":              "A look at the codes before the end",
	"measures":           "A measure of the team's own",
	"noted_changes":      "A change under fire or after the reveal, with its reason",
	"outcomes":           "An outcome that decides, with the difference that matters",
	"outlines":           "The plan of a trial",
	"outlooks":           "A forecast of a cut's finish",
	"pending_changes":    "A change that waits for a second signature",
	"passkeys":           "A key of a device that lets somebody in",
	"people":             "A person of the crew",
	"photos":             "A photo of a cook",
	"pit_runs":           "A pit in use, from and to",
	"pits":               "A pit",
	"placements":         "Where a cut lay: pit run or holder run, position, from and to",
	"postponed":          "A task that was put off",
	"practice_truths":    "What was true of a rehearsal's simulated cuts",
	"prep_marks":         "A dose that was given",
	"probe_assignments":  "What a probe measured, from and to",
	"probes":             "A probe: device and channel",
	"process_cooks":      "A cook by a card, as it is checked",
	"process_signatures": "A signature under a card",
	"process_versions":   "A version of a card",
	"processes":          "A process card",
	"products":           "A product, and what it cooks like",
	"readings":           "A temperature reading; its probe, with probe_assignments, says where it was read",
	"recipes":            "A recipe of the pantry",
	"refused_readings":   "A reading of a device that was refused",
	"script_tokens":      "A token that lets a script in",
	"sizes":              "How large the database was",
	"log_sources":        "How a source of log files writes, and what its columns measured last",
	"samples":            "A coded sample of a flight",
	"scale_readings":     "A reading of a scale",
	"scores":             "A score of a sample",
	"servings":           "A sample on a ballot",
	"sessions":           "Who is signed in",
	"spreads":            "What a trial adds to the house's own spread",
	"struck":             "A sample that was struck after serving",
	"taster_phones":      "The phone that a taster's page is bound to",
	"tasters":            "A taster of a trial",
	"trial_effects":      "What a settled trial showed of two levels",
	"trial_factors":      "A factor of a trial",
	"trials":             "A trial",
	"verdict_versions":   "A later reading of a trial",
	"verdicts":           "What a trial came to when its codes opened",
	"voided_readings":    "A reading of a log that was taken back",
	"weigh_outs":         "A weighing after the cook, by share",
	"weighings":          "A weighing of a cut at a stage",
}

// told says the unit and the meaning of fields whose names do not.
var told = map[string][2]string{
	"readings.c":                   {"degrees Celsius", "the temperature"},
	"readings.value":               {"", "as it was read, on its scale"},
	"readings.scale":               {"", "F or C"},
	"readings.sequence":            {"", "the device's own count; empty for what came from a file"},
	"readings.import_id":           {"", "the file it came from; empty for what a device sent"},
	"scale_readings.value":         {"", "as it was read, in its unit"},
	"imports.sha256":               {"", "of the file that was taken in"},
	"events.press":                 {"", "one press of a pad writes an entry for each cut of it"},
	"events.detail":                {"", "what the act says besides, by its kind; a hand reading has read (as typed), c (degrees Celsius) and place"},
	"cooks.clock_rate":             {"", "1 is the true time"},
	"gate_reasons.reason":          {"", "why the pitmaster let the cut pass"},
	"outcomes.smallest_difference": {"of the outcome", "the smallest difference that matters"},
	"outcomes.exact":               {"", "judged by the exact test"},
	"allotments.arms":              {"", "the arm of each cut, by their ids"},
	"scores.value":                 {"", "on the attribute's scale"},
	"cuts.arm_id":                  {"", "empty until it is drawn"},
	"placements.position":          {"", "on the grate"},
	"probe_assignments.point":      {"", "on a pit"},
	"probe_assignments.place":      {"", "on the piece"},
	"samples.code":                 {"", "the three digits that tasters see"},
}

// endings say what fields of such names are.
var endings = []struct{ ending, says string }{
	{"_typed", "as it was typed"}, {"typed", "as it was typed"}, {"voided_at", "it does not count since; empty: it counts"}, {"void_reason",
		"why it does not count"},
	{"supersedes", "the row that it corrects"}, {"recorded_at", "when it was written down"}, {"recorded_by", "who wrote it down"}, {"resolution_kg",
		"the step of the scale"},
}

func descriptionOf(table, name string) string {
	if t, ok := told[table+"."+name]; ok {
		return t[1]
	}
	for _, e := range endings {
		if strings.HasSuffix(name, e.ending) {
			return e.says
		}
	}
	return ""
}
