package server

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	coregate "whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
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
		{"157 F at the coldest four minutes after 166 F, on the fire", safety.Poultry, tonight(read(16, "166 F"), read(12, "157 F"), at(logbook.Pull, 10)), "suspended", false},
		{"205 F, fourteen hours of nothing, and 150 F", safety.Poultry, []did{at(logbook.On, 22*h), read(22*h, "38 F"), read(18.5*h, "132 F"), read(15*h, "205 F"),
			at(logbook.Pull, 15*h), read(30, "150 F")}, "unknown", false},
		{"the same of whole lamb, which a reason opens", safety.RedMeat, []did{at(logbook.On, 22*h), read(22*h, "38 F"), read(18.5*h, "132 F"), read(15*h, "205 F"),
			at(logbook.Pull, 15*h), read(30, "150 F")}, "unknown", false},
		{"an hour on the board between two hot readings", safety.Poultry, []did{at(logbook.On, 5*h), read(5*h, "38 F"), read(3*h, "120 F"), read(80, "195 F"), at(logbook.Pull, 75), read(5, "150 F")}, "", false},
		{"slices that lay cold for four hours", safety.Poultry, add(supper[:5], at(logbook.Carve, 27.9*h), did{logbook.Probe, 27.8 * h, "100 F", "slices"},
			did{logbook.Probe, 23 * h, "90 F", "slices"}, did{logbook.Probe, 20, "150 F", ""}), "after", false},
		{"the thigh was read first as it rested", safety.Poultry, tonight(read(12, "167 F"), at(logbook.Pull, 10), did{logbook.Probe, 7, "164 F", "thigh"}), "", false},
		{"the thigh was read at 140 F as it rested", safety.Poultry, tonight(read(12, "167 F"), at(logbook.Pull, 10), did{logbook.Probe, 7, "140 F", "thigh"}), "below", false},
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
	odalys, _, v, f := tableOf(t, 1, did{logbook.On, 36 * 60, "", ""}, did{logbook.Probe, 36 * 60, "38 F", ""}, did{logbook.Probe, 32 * 60, "135 F", ""}, did{logbook.Probe, 28 * 60, "203 F", ""}, did{logbook.Pull, 28 * 60, "", ""})
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
