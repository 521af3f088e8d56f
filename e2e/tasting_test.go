package e2e

import (
	"math"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/internal/store"
)

// roastTable is the chuck-eye trial cooked and read, so that its two cuts may be served; one
// is of each arm.
func roastTable(t *testing.T, s *store.Store) []store.Cut {
	t.Helper()
	cuts := roast(t, s)
	for _, c := range cuts {
		read(t, s, c, "165 F")
	}
	return cuts
}

// seatGuests seats guests at the roast's table.
func seatGuests(t *testing.T, s *store.Store, names ...string) []store.Taster {
	t.Helper()
	for _, name := range names {
		if _, err := s.AddTaster(t.Context(), 1, store.NewTaster{TrialID: 1, Name: name}); err != nil {
			t.Fatal(err)
		}
	}
	all, err := s.Tasters(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// phoneOf opens a taster's page on a phone of theirs.
func phoneOf(t *testing.T, u user, site, name string) user {
	t.Helper()
	href := u.attribute(u.find("[data-testid='link-"+name+"']"), "href")
	p := open(t, site, href[len(site):], 390, 844)
	p.click("[data-testid=begin]")
	return p
}

// score gives the sample at hand the same on every rule, and seals it.
func (u user) score(n int) (code string) {
	u.t.Helper()
	code = u.find("[data-testid=code]").MustText()
	for _, rule := range u.MustElements("[role=slider]") {
		rule.MustFocus()
		rule.MustType([]input.Key{input.Digit1, input.Digit2, input.Digit3, input.Digit4, input.Digit5, input.Digit6, input.Digit7, input.Digit8, input.Digit9}[n-1])
	}
	u.click("[data-testid=seal]")
	u.click("[data-testid=seal-sure]")
	return code
}

// roastFlight is the flight of the roasts, and which cut each of its codes is.
func roastFlight(t *testing.T, s *store.Store) (id int64, key map[string]string) {
	t.Helper()
	flights, err := s.Flights(t.Context(), 1)
	if err != nil || len(flights) != 1 {
		t.Fatalf("the roasts are in the flights %+v (%v), want one", flights, err)
	}
	id = flights[0].ID
	lines, err := s.Key(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]string{}
	for _, l := range lines {
		out[l.Code] = l.Cut
	}
	return id, out
}

// sealAll seals what is open of a taster's plate by the record, as their phone would.
func sealAll(t *testing.T, s *store.Store, taster int64, of func(code string) int) {
	t.Helper()
	sealScores(t, s, taster, func(code string) map[string]int {
		n := of(code)
		return map[string]int{"overall": n, "smoke": n}
	})
}

// sealScores seals a whole plate without its phone.
func sealScores(t *testing.T, s *store.Store, taster int64, of func(code string) map[string]int) {
	t.Helper()
	plates, err := s.Plates(t.Context(), taster)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range plates {
		for _, v := range p.Servings {
			if err := s.Seal(t.Context(), p.BallotID, v.SampleID, store.Sealed{Scores: of(v.Code)}); err != nil && err != store.ErrStruck {
				t.Fatal(err)
			}
		}
	}
}

// TestEightTastersTasteAFlight serves two roasts at two places, one of them twice and hidden:
// five samples. One taster leaves, one loses the network and one code is struck; the
// results are those worked out by hand.
func TestEightTastersTasteAFlight(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	cuts := roastTable(t, s)
	names := []string{"Ana", "Bo", "Cai", "Dag", "Eir", "Finn", "Gus", "Hal"}
	tasters := seatGuests(t, s, names...)
	u.visit(site, "/trials/1/table", "[data-testid=table-lead]", "8 seated, nothing is served")
	u.click("[data-testid=prepare-flight]")
	u.see("[data-testid=tells]", "8 tasters tell these pieces apart")
	u.choose("[data-testid=carver]", "Tove")
	u.fill("#another", "point")
	u.click("[data-testid=add-place]")
	u.find("#place-0")
	u.click("summary")
	u.fill("[data-testid=water-s] input", "0")
	u.MustEval(`() => document.activeElement.blur()`)
	u.click("#duplicate")
	u.click("[data-testid=serve]")
	u.see("[data-testid=flight]", "Scores, 5 samples, carved by Tove")

	_, key := roastFlight(t, s)
	value := func(taster int, code string) int { // A is three points over B, tasters a point apart
		n := 4 + taster%2
		if key[code] == cuts[0].Name {
			n += 3
		}
		return n
	}
	ana := phoneOf(t, u, site, "Ana")
	for range 5 {
		code := ana.find("[data-testid=code]").MustText()
		ana.score(value(0, code))
	}
	ana.see("[data-testid=thanks]", "All sealed")
	// Bo loses the network after the second, and goes on; it is handed in when it is back.
	bo := phoneOf(t, u, site, "Bo")
	bo.Expect("failed")
	bo.Expect("net::ERR")
	for i := range 5 {
		if i == 2 {
			u.see("[data-testid=row-Bo]", "2 of 5") // the barn has them
			bo.offline(true)
		}
		code := bo.find("[data-testid=code]").MustText()
		bo.score(value(1, code))
	}
	bo.see("[data-testid=thanks]", "All sealed")
	bo.see("[data-testid=seals-wait]", "3 sealed and kept on this phone")
	bo.offline(false)
	bo.gone("[data-testid=seals-wait]")
	// Cai has to go home after one.
	cai := phoneOf(t, u, site, "Cai")
	first := cai.find("[data-testid=code]").MustText()
	cai.score(value(2, first))
	u.see("[data-testid=row-Cai]", "1 of 5")
	u.click("[data-testid=leaves-Cai]")
	u.fill("[data-testid=leaving-why]", "had to go home")
	u.click("[data-testid=leave-sure]")
	u.see("[data-testid=row-Cai]", "locked")
	cai.see("[data-testid=thanks]", "All sealed")
	// A code is struck: on every phone and on the table at once.
	plates, err := s.Plates(t.Context(), tasters[3].ID)
	if err != nil {
		t.Fatal(err)
	}
	dag := phoneOf(t, u, site, "Dag")
	if _, err := s.Strike(t.Context(), cuts[1].ID, "it was dropped in the ashes"); err != nil {
		t.Fatal(err)
	}
	if err := s.NotifyChange(t.Context(), 1, "gate", "table"); err != nil {
		t.Fatal(err)
	}
	dag.see("[data-testid=do-not-eat]", "Do not eat")
	ana.see("[data-testid=do-not-eat]", "Do not eat")
	struck := 0
	for _, v := range plates[0].Servings {
		if key[v.Code] == cuts[1].Name {
			struck++
			dag.see("[data-testid=do-not-eat]", v.Code)
			u.see("[data-testid=row-Dag] s", v.Code)
		}
	}
	for i := range tasters[3:] {
		sealAll(t, s, tasters[3+i].ID, func(code string) int { return value(3+i, code) })
	}
	if err := s.NotifyChange(t.Context(), 1, "table"); err != nil {
		t.Fatal(err)
	}
	u.see("[data-testid=table-lead]", "All 8 ballots are locked")
	u.click("[data-testid=reveal]")
	u.click("[data-testid=reveal-sure]")
	u.at("settle")
	u.visit(site, "/trials/1/table", "[data-testid=panel-results]", "What the panel said")
	// Ana and Bo tasted both arms whole; of the others only the first roast counts.
	u.see("[data-testid=heard-overall] [data-mean=ALDER]", "7.5")
	u.see("[data-testid=heard-overall] [data-mean=HORN]", "4.5")
	u.see("[data-testid=repeats]", "repeats within 0.0")
	scores, err := s.Scores(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	heard := panel.Hear(scores[1][trial.Overall], []string{"ALDER", "HORN"})
	if len(heard.Tasters) != 8 || heard.Whole < 2 || heard.Whole > 3 || math.Abs(*heard.Means[0]-*heard.Means[1]) < 2.9 {
		t.Errorf("the panel is heard as %d tasters, %d whole, means %v; want 8, Ana, Bo and perhaps Cai, 3 apart", len(heard.Tasters), heard.Whole, heard.Means)
	}
	// What they scored is theirs once the host shares it.
	ana.see("[data-testid=thanks]", "Tasting is over")
	u.click("#share")
	ana.see("[data-testid=was]", "ALDER")
	ana.whole()
}

// offline takes a page's network away, or gives it back.
func (u user) offline(off bool) {
	u.t.Helper()
	down := 1e6
	if off {
		down = 0
	}
	err := proto.NetworkEmulateNetworkConditions{Offline: off, DownloadThroughput: down, UploadThroughput: down}.Call(u.Page.Page)
	if err != nil {
		u.fail("the network cannot be set: %v", err)
	}
}

// TestALoneTasterShufflesCups tastes four of each blind, alone, and turns the cups over after.
func TestALoneTasterShufflesCups(t *testing.T) {
	t.Parallel()
	u, site, s := demoBarn(t, "odalys", 1280, 800)
	cuts := roastTable(t, s)
	u.visit(site, "/trials/1/table", "[data-testid=table-lead]", "Nobody sits yet")
	u.enter("[data-testid=taster-name]", "Odalys") // of the crew, by name
	u.see("[data-testid=seat-Odalys]", "of the crew")
	u.click("[data-testid=prepare-flight]")
	u.choose("[data-testid=carver]", "nobody: I am alone and shuffle closed cups")
	u.see("[data-testid=tells]", "One taster alone, 4 of each")
	u.see("[data-testid=lone]", "take 8 cups")
	u.click("summary")
	u.fill("[data-testid=water-s] input", "0")
	u.MustEval(`() => document.activeElement.blur()`)
	u.click("[data-testid=serve]")
	u.see("[data-testid=flight]", "shuffled cups")
	phone := phoneOf(t, u, site, "Odalys")
	codes := make([]string, 8)
	for i := range codes {
		codes[i] = phone.score(map[bool]int{true: 7, false: 4}[i%2 == 0])
	}
	phone.see("[data-testid=thanks]", "All sealed")
	u.see("[data-testid=turn-cups]", "Turn each cup over")
	for i, code := range codes { // it was every other one
		u.choose("[data-testid=under-"+code+"]", cuts[i%2].Name)
	}
	u.click("[data-testid=turned]")
	u.gone("[data-testid=turn-cups]")
	u.click("[data-testid=reveal]")
	u.click("[data-testid=reveal-sure]")
	u.at("settle")
	u.see("[data-testid=headline]", "to this taster")
	u.see("[data-testid=limit]", "1 taster alone")
}

// read logs a temperature in a cut, lately.
func read(t *testing.T, s *store.Store, c store.Cut, typed string) {
	t.Helper()
	f, err := units.ParseTemperature(typed)
	if err != nil {
		t.Fatal(err)
	}
	e := store.Event{Act: logbook.Probe, At: time.Now().Add(-15 * time.Minute), CutID: &c.ID, Press: uuid.NewString(),
		Detail: logbook.Detail{Read: typed, C: &f.C, Place: "coldest found"}}
	if err := s.Log(t.Context(), 1, []store.Event{e}); err != nil {
		t.Fatal(err)
	}
}
