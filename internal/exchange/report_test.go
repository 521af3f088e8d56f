package exchange

import (
	"bytes"
	"encoding/json"
	"html"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
)

// told is the report of a trial with one outcome of the team's own, by a name that means ill.
func told(name string) Report {
	mean := func(v float64) *float64 { return &v }
	paper := 0
	side := settle.Side{Word: verdict.Clear, Winner: &paper, Estimate: mean(1.4), CI90: &verdict.Interval{0.8, 2}}
	bar := 0.6
	return Report{Barn: "Hill", Zone: "America/New_York", At: time.Date(2026, 11, 28, 1, 0, 0, 0, time.UTC), TrialID: 3,
		ReadAt: time.Date(2026, 11, 27, 1, 0, 0, 0, time.UTC),
		Ask: trial.Ask{Question: name, Product: "lamb shoulder", Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
			Arms: []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}}},
		Result: settle.Result{Rules: 4, Headline: "Clear winner", Limits: []settle.Limit{{Text: "Rest: PAPER {C:62.8} longer"}}, Rows: []settle.Row{{
			Outcome: trial.OutcomeDefault{Key: "own 1", Name: name, Unit: "1 to 9", Better: trial.Up, Kind: trial.FromPanel}, SmallestDifference: 0.5, Bar: &bar,
			Means: []*float64{mean(7.3), mean(5.9)}, Pairs: []settle.Pair{{A: 0, B: 1, Pieces: &side, Cooks: side,
				Next: settle.Side{Word: verdict.CannotTell, Why: "one cook"}}}}}},
		Standings: []settle.Standing{{Context: "home table", Answer: "PAPER, in these two cooks.", Because: "Better than BARE on taste."}},
		Cooks: []ReportedCook{{ServedAt: time.Date(2026, 9, 20, 22, 0, 0, 0, time.UTC), Pits: []string{"Brick Pit"}, Cuts: 16,
			Photos: []ReportedPhoto{{Cut: "1L", Note: name, Media: "image/png", Bytes: []byte("picture")}}}}}
}

func written(t *testing.T, r Report) string {
	t.Helper()
	fonts := FontsOf(fstest.MapFS{"assets/zilla-slab-latin-700-normal-abc.woff2": {Data: []byte("face")}})
	var b bytes.Buffer
	if err := WriteReport(&b, r, fonts); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// TestAReportCarriesAllItNeeds: words, numbers, the day in the barn's zone, faces and pictures,
// and nothing from elsewhere.
func TestAReportCarriesAllItNeeds(t *testing.T) {
	page := html.UnescapeString(written(t, told("Taste of smoke")))
	for _, want := range []string{"PAPER, in these two cooks.", "Better than BARE on taste.",
		"clear winner: PAPER, +1.40 (0.80 to 2.00)", "Taste of smoke", "27 Nov 2026", "145 F",
		"data:font/woff2;base64,ZmFjZQ==", "data:image/png;base64,cGljdHVyZQ=="} {
		if !strings.Contains(page, want) {
			t.Errorf("the page lacks %q", want)
		}
	}
	for _, not := range []string{"<script", "<link", "http://", "https://", "{C:"} {
		if strings.Contains(page, not) {
			t.Errorf("the page holds %q", not)
		}
	}
	if n := strings.Count(page, `role="img"`); n != 1 {
		t.Errorf("one outcome has %d pictures", n)
	}
}

// TestAReportTakesNoCode from what people typed.
func TestAReportTakesNoCode(t *testing.T) {
	page := strings.ToLower(written(t, told(`"><img src=x onerror=alert(1)><script>alert(1)</script>`)))
	for _, not := range []string{"<script>", "<img src=x"} {
		if strings.Contains(page, not) {
			t.Errorf("the page holds %q as it was typed", not)
		}
	}
}

// TestTheSameAsJSON reads back as it was written.
func TestTheSameAsJSON(t *testing.T) {
	r := told("Taste")
	text, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	var back Report
	if err := json.Unmarshal(text, &back); err != nil || back.Result.Rows[0].Pairs[0].Cooks.CI90[1] != 2 || back.Standings[0].Answer != r.Standings[0].Answer {
		t.Errorf("it reads back as %+v (%v)", back.Result, err)
	}
}

func TestAmountsInSentencesAreSaid(t *testing.T) {
	for text, want := range map[string]string{"at {C:62.8} or more": "at 145 F (63 C) or more", "{dC:5} apart": "9.0 F apart", "{kg:2.722}": "6 lb 0 oz (2.72 kg)",
		"{m:0.0254} thick": "1.0 in thick", "on {day:2026-09-20}": "on 2026-09-20", "plain {C}": "plain {C}"} {
		if got := Said(text); got != want {
			t.Errorf("%q is said as %q, want %q", text, got, want)
		}
	}
}
