package store

import "strings"

// Scope is what of a record is written.
type Scope struct {
	Trial   int64 // one trial with what it refers to; 0 is the whole barn
	Secrets bool  // what lets people and devices in too: for a backup alone
}

// secrets stand in an export as what lets nobody in, in SQL. Unique ones stay so.
var secrets = map[string]map[string]string{
	"barn":          {"secret": `'\x'::bytea`},
	"people":        {"password_hash": "''"},
	"devices":       {"token_hash": "null"},
	"guests":        {"key_hash": "decode(md5('guest ' || id), 'hex')"},
	"taster_phones": {"key_hash": "decode(md5('phone ' || id), 'hex')", "agent": "''", "address": "''"},
	"script_tokens": {"token_hash": "decode(md5('token ' || id), 'hex')"},
	"entry_links":   {"token_hash": "decode(md5('link ' || id), 'hex')"},
	"passkeys":      {"credential_id": "decode(md5('passkey ' || id), 'hex')", "credential": "'{}'::jsonb"},
	"guest_doors":   {"code": "'closed ' || id"},
}

// belongs says which rows of each table belong to the trial $1, or are referred to by what
// does. Tables that are not here belong to the barn alone.
var belongs = map[string]string{"trials": "id = $1"}

func init() {
	for _, table := range strings.Fields(`arms outcomes trial_factors cuts cooks allotments accepted_findings tasters flights looks noted_changes
		verdicts verdict_versions spreads contrasts trial_effects pending_changes outlines practice_truths`) {
		belongs[table] = "trial_id = $1"
	}
	for _, table := range strings.Fields("weighings weigh_outs dimensions measures prep_marks gate_reasons cut_guesses outlooks placements") {
		belongs[table] = of("cut_id", "cuts")
	}
	for _, table := range strings.Fields("cook_pit_runs cook_holder_runs imports probe_assignments alarms alarm_states photos postponed") {
		belongs[table] = of("cook_id", "cooks")
	}
	run := func(kind string) string {
		return "id in (select " + kind + "_id from cook_" + kind + "s where " + belongs["cook_"+kind+"s"] + ")"
	}
	belongs["pit_runs"], belongs["holder_runs"] = run("pit_run"), run("holder_run")
	belongs["leftovers"] = of("pit_run_id", "pit_runs")
	belongs["events"] = strings.Join([]string{of("cut_id", "cuts"), of("pit_run_id", "pit_runs"), of("holder_run_id", "holder_runs"),
		of("cook_id", "cooks")}, " or ")
	belongs["samples"], belongs["ballots"] = of("flight_id", "flights"), of("flight_id", "flights")
	belongs["struck"] = of("sample_id", "samples")
	belongs["servings"], belongs["scores"] = of("ballot_id", "ballots"), of("ballot_id", "ballots")
	belongs["voided_readings"] = of("import_id", "imports")
	belongs["readings"] = `exists (select from probe_assignments a where a.probe_id = readings.probe_id and a.cook_id in (select id from cooks where trial_id = $1)
		and readings.at >= a.from_at and (a.to_at is null or readings.at <= a.to_at)) or ` + of("import_id", "imports")

	// What the barn has and the trial goes by.
	belongs["barn"] = "true" // its zone, elevation and lines
	belongs["barn_lines"] = "true"
	belongs["people"] = "true" // whose hands the record names
	belongs["catalogue_factors"] = "id in (select catalogue_id from trial_factors where trial_id = $1)"
	belongs["catalogue_levels"] = "id in (select unnest(level_ids) from arms where trial_id = $1)"
	belongs["products"] = "id = (select product_id from trials where id = $1)"
	belongs["pits"] = "id in (select pit_id from pit_runs where " + belongs["pit_runs"] + ")"
	belongs["holders"] = "id in (select holder_id from holder_runs where " + belongs["holder_runs"] + ")"
	belongs["probes"] = "id in (select probe_id from probe_assignments where " + belongs["probe_assignments"] + ") or id in (select probe_id " +
		"from voided_readings where " + belongs["voided_readings"] + ")"
	belongs["calibrations"] = of("holder_id", "holders")
	belongs["probes"] += " or id in (select probe_id from calibrations where " + belongs["calibrations"] + ")"
	belongs["devices"] = "id in (select device_id from probes where " + belongs["probes"] + ") or id in (select device_id from " +
		"imports where " + belongs["imports"] + ")"
	belongs["guests"] = "id in (select guest_id from tasters where trial_id = $1)"
}

// of names the rows that hang on others of the trial.
func of(column, table string) string {
	return column + " in (select id from " + table + " where " + belongs[table] + ")"
}

// Holds says whether a table has any part in it.
func (s Scope) Holds(table string) bool {
	if s.Trial != 0 {
		return belongs[table] != ""
	}
	return s.Secrets || table != "sessions"
}
