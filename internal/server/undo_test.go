package server

import (
	"fmt"
	"strings"
	"testing"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/barn/undo"
	"whitebarn/internal/store"
)

// later lets a void or an end be eleven minutes old.
func (b *testBarn) later(sql string) {
	b.t.Helper()
	if _, err := b.store.Pool().Exec(b.t.Context(), sql); err != nil {
		b.t.Fatal(err)
	}
}

func TestVoidsAreUndoneForTenMinutes(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	other := odalys.trialOf(lambAsk(), 1)
	was := v.Cuts[3]
	path := fmt.Sprintf("/api/trials/%d/unvoid", v.ID)
	cut := undo.VoidInput{Subject: barn.Cut, ID: was.ID}
	odalys.refused("POST", path, cut, 409, "not taken back within the last ten minutes")
	odalys.must("POST", fmt.Sprintf("/api/cuts/%d/void", was.ID), barn.Why{Why: "fell on the ground"}, 200, nil)
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/unvoid", other.ID), cut, 404, "")
	odalys.must("POST", path, cut, 200, nil)
	if now := odalys.again(v).Cuts; len(now) != 4 || now[3].Placement == nil || *now[3].ArmID != *was.ArmID {
		t.Errorf("undone, the cuts are %+v, want 2R back in its arm and its pit", now)
	}

	odalys.must("POST", fmt.Sprintf("/api/cuts/%d/void", was.ID), barn.Why{Why: "fell on the ground"}, 200, nil)
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/cuts", v.ID), match.CutInput{Name: was.Name}, 201, nil)
	odalys.refused("POST", path, cut, 409, "Another stands in its place")
	b.later("update cuts set voided_at = now() - interval '11 minutes' where voided_at is not null")
	odalys.refused("POST", path, cut, 409, "ten minutes")
	odalys.refused("POST", path, undo.VoidInput{Subject: "trial", ID: v.ID}, 422, "not undone")

	v = odalys.log(v, logbook.On, 60, logbook.Detail{}, v.Cuts[0].ID)
	press := v.Events[0].Press
	tove, _ := b.join(odalys, "Tove", store.Crew)
	tove.must("POST", "/api/presses/"+press+"/void", barn.Why{Why: "pressed in error"}, 200, nil)
	tove.must("POST", path, undo.VoidInput{Subject: barn.Press, Press: press}, 200, nil)
	if now := odalys.again(v).Events; len(now) != 1 || now[0].ID != v.Events[0].ID {
		t.Errorf("undone, the log is %+v", now)
	}
	weighing := v.Cuts[0].Weighings[0]
	odalys.must("POST", fmt.Sprintf("/api/weighings/%d/void", weighing.ID), barn.Why{Why: "misread"}, 200, nil)
	odalys.must("POST", path, undo.VoidInput{Subject: barn.Weighing, ID: weighing.ID}, 200, nil)
	if now := odalys.again(v).Cuts[0].Weighings; len(now) != 1 || now[0].ID != weighing.ID {
		t.Errorf("undone, the weighings are %+v", now)
	}
	// Under the fire a cut is put back by the pitmaster alone, as it is taken out.
	odalys.must("POST", fmt.Sprintf("/api/cuts/%d/void", v.Cuts[1].ID), barn.Why{Why: "it smelled"}, 200, nil)
	tove.refused("POST", path, undo.VoidInput{Subject: barn.Cut, ID: v.Cuts[1].ID}, 409, "Only the pitmaster")
}

// TestATrialThatWasOnlyWeighedIsEnded and not read by opening codes that there are not.
func TestATrialThatWasOnlyWeighedIsEnded(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/trials/%d/", v.ID)
	odalys.refused("POST", path+"reveal", table.RevealInput{Reason: "weighed only"}, 409, "Nothing has been tasted")
	odalys.refused("POST", path+"end", barn.Why{}, 422, "why")
	odalys.refused("POST", path+"end/undo", nil, 409, "not ended within")
	odalys.must("POST", path+"end", barn.Why{Why: "weighed only"}, 200, &v)
	if v.EndedBy != "Odalys" || v.RevealReason != "weighed only" {
		t.Errorf("ended by %q for %q, want Odalys for weighed only", v.EndedBy, v.RevealReason)
	}
	odalys.must("GET", path+"settle", nil, 200, nil)
	odalys.refused("POST", path+"cuts", match.CutInput{Name: "9L"}, 409, "codes are open")
	odalys.must("POST", path+"end/undo", nil, 200, &v)
	odalys.refused("GET", path+"settle", nil, 409, "still closed")
	odalys.must("POST", path+"cuts", match.CutInput{Name: "9L"}, 201, nil)
	var lines []trials.TrialLine
	odalys.must("GET", "/api/trials", nil, 200, &lines)
	if len(lines) != 1 || lines[0].Settled != nil {
		t.Errorf("the list still shows a verdict: %+v", lines)
	}
	odalys.must("POST", path+"end", barn.Why{Why: "weighed only"}, 200, nil)
	b.later("update trials set revealed_at = revealed_at - interval '11 minutes'")
	odalys.refused("POST", path+"end/undo", nil, 409, "stays ended")
}

// TestAPressAnswersWhatItMade and no more, in few queries.
func TestAPressAnswersWhatItMade(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 4)
	at := odalys.clock("2026-09-19T12:00:00Z")
	_, text := odalys.send("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), "application/json", strings.NewReader(fmt.Sprintf(
		`{"act":"on","at":%q,"note":"","cut_ids":[%d,%d],"pit_run_ids":[],"press":"0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a1b13"}`,
		at.Format("2006-01-02T15:04:05Z07:00"), v.Cuts[0].ID, v.Cuts[1].ID)))
	if len(text) > 2000 || !strings.Contains(string(text), `"gone":[]`) || strings.Count(string(text), `"act":"on"`) != 2 {
		t.Errorf("a press of two cuts answers %d bytes: %s", len(text), text)
	}
}
