package server

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	coregate "whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// did is what was done to all cuts of a day, so many minutes before now.
type did struct {
	act   logbook.Act
	ago   float64
	read  string // of a probe
	place string // empty is the coldest that was found
}

// logDay logs it of all cuts.
func (h hand) logDay(v trials.TrialView, day []did) trials.TrialView {
	h.t.Helper()
	var ids []int64
	for _, c := range v.Cuts {
		ids = append(ids, c.ID)
	}
	for _, d := range day {
		var detail logbook.Detail
		if d.act == logbook.Probe {
			detail = logbook.Detail{Read: d.read, Place: cmp.Or(d.place, coregate.ColdestFound)}
		}
		v = h.log(v, d.act, d.ago, detail, ids...)
	}
	return v
}

// TestDaysAreJudgedAsTheyWereLogged logs whole days as a person does, and asks the gate.
func TestDaysAreJudgedAsTheyWereLogged(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	read := func(ago float64, f string) did { return did{logbook.Probe, ago, f, ""} }
	at := func(act logbook.Act, ago float64) did { return did{act: act, ago: ago} }
	add := func(day []did, more ...did) []did { return slices.Concat(day, more) }
	const h = 60
	supper := []did{at(logbook.On, 36*h), read(36*h, "38 F"), read(33*h, "135 F"), read(28*h, "175 F"), at(logbook.Pull, 28*h), read(27*h, "160 F")}
	tonight := func(more ...did) []did {
		return add([]did{at(logbook.On, 200), read(200, "38 F"), read(60, "135 F")}, more...)
	}
	chilled := add(supper, read(26*h, "130 F"), at(logbook.Chill, 26*h), read(25.2*h, "69 F"), read(22*h, "39 F"))
	for _, c := range []struct {
		name    string
		species safety.Species
		did     []did
		stops   string
		over    bool
	}{
		{"entered the next day, and carved", safety.Poultry, add(supper, at(logbook.Carve, 26.9*h)), "", true},
		{"entered the next day, and nobody said when it was carved", safety.Poultry, supper, "eaten", true},
		{"chilled, and reheated for today's table", safety.Poultry, add(chilled, at(logbook.Reheat, 90), read(20, "167 F")), "", false},
		{"chilled, and nobody said when it came out", safety.Poultry, add(chilled, read(20, "167 F")), "after,reheat", false},
		{"chilled, and still in the fridge", safety.Poultry, chilled, "eaten", true},
		{"hot at the knife tonight", safety.Poultry, tonight(read(12, "167 F"), at(logbook.Pull, 10)), "", false},
		{"157 F at the coldest four minutes after 166 F, on the fire", safety.Poultry, tonight(read(16, "166 F"), read(12, "157 F"),
			at(logbook.Pull, 10)), "suspended", false},
		{"205 F, fourteen hours of nothing, and 150 F", safety.Poultry, []did{at(logbook.On, 22*h), read(22*h, "38 F"), read(18.5*h, "132 F"),
			read(15*h, "205 F"),
			at(logbook.Pull, 15*h), read(30, "150 F")}, "unknown", false},
		{"the same of whole lamb, which a reason opens", safety.RedMeat, []did{at(logbook.On, 22*h), read(22*h, "38 F"), read(18.5*h, "132 F"),
			read(15*h, "205 F"),
			at(logbook.Pull, 15*h), read(30, "150 F")}, "unknown", false},
		{"an hour on the board between two hot readings", safety.Poultry, []did{at(logbook.On, 5*h), read(5*h, "38 F"), read(3*h, "120 F"),
			read(80, "195 F"), at(logbook.Pull, 75), read(5, "150 F")}, "", false},
		{"slices that lay cold for four hours", safety.Poultry, add(supper[:5], at(logbook.Carve, 27.9*h), did{logbook.Probe, 27.8 * h, "100 F", "slices"},
			did{logbook.Probe, 23 * h, "90 F", "slices"}, did{logbook.Probe, 20, "150 F", ""}), "after", false},
		{"the thigh was read first as it rested", safety.Poultry, tonight(read(12, "167 F"), at(logbook.Pull, 10), did{logbook.Probe, 7,
			"164 F", "thigh"}), "", false},
		{"the thigh was read at 140 F as it rested", safety.Poultry, tonight(read(12, "167 F"), at(logbook.Pull, 10), did{logbook.Probe, 7,
			"140 F", "thigh"}), "below", false},
	} {
		ask := lambAsk()
		ask.Species = c.species
		v := odalys.trialOf(ask, 1)
		odalys.logDay(v, c.did)
		got := odalys.gateOf(v.ID).Cuts[0]
		var stops []string
		for _, s := range got.Stops {
			stops = append(stops, s.Key)
		}
		if strings.Join(stops, ",") != c.stops || got.Over != c.over {
			t.Errorf("%s: stopped by %v, over %v; want [%s], %v\n%+v", c.name, stops, got.Over, c.stops, c.over, got)
		}
	}
}

// TestAServingOfAnotherDayIsAskedForItsTime serves what was eaten yesterday, typed today.
func TestAServingOfAnotherDayIsAskedForItsTime(t *testing.T) {
	t.Parallel()
	odalys, _, v, f := tableOf(t, 1, did{logbook.On, 36 * 60, "", ""}, did{logbook.Probe, 36 * 60, "38 F", ""}, did{logbook.Probe, 32 * 60,
		"135 F", ""}, did{logbook.Probe, 28 * 60, "203 F", ""}, did{logbook.Pull, 28 * 60, "", ""})
	flights := fmt.Sprintf("/api/trials/%d/flights", v.ID)
	odalys.refused("POST", flights, f, 422, "nobody said when this was eaten")
	when := func(ago time.Duration) table.FlightInput {
		at, g := time.Now().Add(-ago), f
		g.ServedAt = &at
		return g
	}
	odalys.refused("POST", flights, when(-time.Hour), 422, "still to come")
	odalys.refused("POST", flights, when(29*time.Hour), 422, "was pulled")
	odalys.refused("POST", flights, when(20*time.Hour), 422, "Nothing was read of it")
	odalys.must("POST", flights, when(27*time.Hour), 201, &v)
	g := odalys.gateOf(v.ID)
	if c := g.Cuts[0]; !c.Open || c.After.UnreadS > 3700 || len(g.Struck) > 0 {
		t.Errorf("served an hour after the pull, yesterday, it is %+v, struck %v", c, g.Struck)
	}
}

// TestEveryDoorWaitsForTheSecondHand: four hours under 140 F are on record, by a probe and by an import. What would
// take them away, or make less of them, waits whatever way it comes.
func TestEveryDoorWaitsForTheSecondHand(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, _ := b.join(odalys, "Tove", store.Crew)
	ask := lambAsk()
	ask.Species = safety.Poultry
	const h = 60
	cooked := []did{{logbook.On, 10 * h, "", ""}, {logbook.Probe, 10 * h, "38 F", ""}, {logbook.Probe, 7 * h, "135 F", ""}, {logbook.Probe,
		361, "180 F", ""},
		{logbook.Pull, 6 * h, "", ""}}
	ago := func(min float64) time.Time { return time.Now().Add(-time.Duration(min * float64(time.Minute))) }
	stands := func(v trials.TrialView, why string, asked int) {
		t.Helper()
		g := odalys.gateOf(v.ID)
		if len(g.Pending) != asked || !slices.ContainsFunc(g.Cuts[0].Stops, func(s coregate.Stop) bool { return s.Opens == coregate.ByVoiding }) {
			t.Errorf("%s: %d changes wait, want %d; stopped by %+v", why, len(g.Pending), asked, g.Cuts[0].Stops)
		}
	}
	sign := func(v trials.TrialView) {
		t.Helper()
		g := odalys.gateOf(v.ID)
		odalys.refused("POST", fmt.Sprintf("/api/pending-changes/%d/sign", g.Pending[0].ID), gate.SignInput{Yes: true}, 409, "yourself")
		tove.must("POST", fmt.Sprintf("/api/pending-changes/%d/sign", g.Pending[0].ID), gate.SignInput{Yes: true}, 200, nil)
		if g = odalys.gateOf(v.ID); len(g.Pending) != 0 || slices.ContainsFunc(g.Cuts[0].Stops,
			func(s coregate.Stop) bool { return s.Opens == coregate.ByVoiding }) {
			t.Errorf("signed by two it is stopped by %+v", g.Cuts[0].Stops)
		}
	}
	var cold strings.Builder
	cold.WriteString("Time,slices (F)\n")
	var live strings.Builder
	for i := range 150 {
		at := ago(5*h - 2*float64(i)).UTC()
		fmt.Fprintf(&cold, "%s,100.0\n", at.Format(time.RFC3339))
		fmt.Fprintf(&live, "%d,slices,%s,100,F\n", i+1, at.Format(time.RFC3339))
	}

	logged := odalys.logDay(odalys.trialOf(ask, 1), cooked)
	cook := fmt.Sprintf("/api/cooks/%d", logged.Cooks[0].ID)
	if status, p := odalys.upload(cook+"/logs", []byte(cold.String()), fire.LogOptions{Outside: "keep",
		Targets: map[string]store.Target{"slices (F)": {CutID: &logged.Cuts[0].ID}}},
		nil); status >= 300 {
		t.Fatalf("the log is answered %d %+v", status, p)
	}
	stands(logged, "the log is in", 0)
	odalys.must("POST", fmt.Sprintf("/api/imports/%d/void", odalys.again(logged).Imports[0].ID), barn.Why{Why: "of another cook"}, 200, nil)
	stands(logged, "the log is taken back", 1)
	sign(logged)

	probed := odalys.logDay(odalys.trialOf(ask, 1), cooked)
	d := b.device(odalys, "gateway", nil)
	d.post("text/csv", live.String())
	var probes []store.ProbeNow
	cook = fmt.Sprintf("/api/cooks/%d", probed.Cooks[0].ID)
	odalys.must("GET", cook+"/probes", nil, 200, &probes)
	i := slices.IndexFunc(probes, func(p store.ProbeNow) bool { return p.Channel == "slices" })
	from := ago(5*h + 1)
	path := fmt.Sprintf("%s/probes/%d", cook, probes[i].ID)
	odalys.must("PUT", path, fire.ProbeInput{CutID: &probed.Cuts[0].ID, Place: "slices", From: &from}, 200, nil)
	stands(probed, "the probe was in the slices", 0)
	odalys.must("PUT", path, fire.ProbeInput{PitRunID: &probed.Cooks[0].Runs[0].ID, From: &from}, 200, nil)
	stands(probed, "the probe is said to have been in the pit", 1)
	sign(probed)

	typed := odalys.logDay(odalys.trialOf(ask, 1), append(cooked, did{logbook.Probe, 5, "90 F", ""}))
	stands(typed, "read cold at the end", 0)
	odalys.logDay(typed, []did{{logbook.Probe, 3 * h, "150 F", ""}})
	stands(typed, "a warm reading is entered before it", 1)
	sign(typed)

	timed := odalys.logDay(odalys.trialOf(ask, 1), append(cooked, did{logbook.Probe, 5, "90 F", ""}))
	late := timed.Events[slices.IndexFunc(timed.Events, func(e store.Event) bool { return e.Detail.Read == "180 F" })]
	odalys.must("PUT", "/api/presses/"+late.Press, fire.CorrectionInput{At: ago(2 * h), Detail: late.Detail, Press: uuid.NewString()}, 200, nil)
	stands(timed, "its last hot reading is said to be of later", 1)
	odalys.logDay(timed, []did{{logbook.Carve, 3, "", ""}})
	stands(timed, "carving it, which was asked for, waits for nobody", 1)
}

// TestFireAsksForWhatTheGateWillNeed: nobody has a probe, so that the start and the way up are asked for.
func TestFireAsksForWhatTheGateWillNeed(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cook := fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID)
	odalys.must("PUT", cook+"/meal", plan.MealInput{ServeAt: time.Now().Add(10 * time.Hour)}, 200, nil)
	asked := func() (out []string) {
		var due plan.DueView
		odalys.must("GET", cook+"/due", nil, 200, &due)
		for _, d := range due.Due {
			if strings.HasPrefix(d.Key, "read ") {
				out = append(out, d.Key)
			}
		}
		return out
	}
	if got := asked(); len(got) != 0 {
		t.Errorf("before the fire %v is asked for", got)
	}
	var ids []int64
	for _, c := range v.Cuts {
		ids = append(ids, c.ID)
	}
	odalys.log(v, logbook.On, 10, logbook.Detail{}, ids...)
	if got := asked(); !slices.Equal(got, []string{"read start BARE", "read start PAPER", "read come-up BARE", "read come-up PAPER"}) &&
		!slices.Equal(got, []string{"read start PAPER", "read start BARE", "read come-up PAPER", "read come-up BARE"}) {
		t.Errorf("with nothing read %v is asked for", got)
	}
	odalys.log(v, logbook.Probe, 9, logbook.Detail{Read: "38 F", Place: coregate.ColdestFound}, ids...)
	if got := asked(); len(got) != 2 || !strings.HasPrefix(got[0], "read come-up ") {
		t.Errorf("read cold, %v is asked for", got)
	}
	v = odalys.log(v, logbook.Probe, 1, logbook.Detail{Read: "140 F", Place: coregate.ColdestFound}, ids...)
	last := v.Events[len(v.Events)-1]
	if got := asked(); len(got) != 2 || last.Detail.Doubt == nil || !last.Detail.Doubt.High {
		t.Errorf("at 140 F eight minutes after 38 F, which is in doubt as %+v, %v is asked for", last.Detail.Doubt, got)
	}
	// Who sets its note right answers nothing; who says that it is so does.
	to := fire.CorrectionInput{At: last.At, Detail: last.Detail, Note: "at the bone"}
	correct := func(press string) store.Event {
		var said fire.Logged
		to.Press = uuid.NewString()
		odalys.must("PUT", "/api/presses/"+press, to, 200, &said)
		return said.Events[0]
	}
	is := correct(last.Press)
	if is.Detail.Doubt == nil {
		t.Error("with another note it is in doubt no more")
	}
	to.Sure = true
	is = correct(is.Press)
	if got := asked(); len(got) != 0 || is.Detail.Doubt != nil {
		t.Errorf("said to be so, over 130 F, %v is asked for (%+v)", got, is.Detail.Doubt)
	}
	to.Sure, to.Note = false, "at the bone, twice"
	if is = correct(is.Press); is.Detail.Doubt != nil {
		t.Error("what was answered is asked again with a note")
	}
}
