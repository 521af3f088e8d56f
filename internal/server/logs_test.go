package server

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// barnLog is a wide log of the pit and both cuts, a line each ten seconds.
func barnLog(lines int) []byte {
	var b bytes.Buffer
	b.WriteString("Time,Brick Pit (F),1L (F),1R (F)\n")
	at := time.Date(2026, 9, 19, 8, 0, 0, 0, time.UTC)
	for i := range lines {
		fmt.Fprintf(&b, "%s,%d,%.1f,%.1f\n", at.Add(time.Duration(i)*10*time.Second).Format("2006-01-02 15:04:05"), 245+i%11, 40+float64(i)/40, 41+float64(i)/41)
	}
	return b.Bytes()
}

func (h hand) targets(v trials.TrialView) map[string]store.Target {
	return map[string]store.Target{
		"Brick Pit (F)": {PitRunID: &v.Cooks[0].Runs[0].ID}, "1L (F)": {CutID: &v.Cuts[0].ID}, "1R (F)": {CutID: &v.Cuts[1].ID},
	}
}

func TestImportTwiceAddsNothing(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	data := barnLog(600)
	var p fire.LogPreview
	if status, problem := odalys.upload(logs+"/preview", data, fire.LogOptions{}, &p); status != 200 {
		t.Fatalf("the preview answered %d %+v", status, problem)
	}
	if p.Readings != 1800 || p.Known != 0 || p.Delimiter != "comma" || p.Zone != "America/New_York" || p.Logger != "barn logger" || len(p.Questions) != 0 {
		t.Errorf("the preview says %+v", p)
	}
	if got := p.Columns[1].Target; got.CutID == nil || *got.CutID != v.Cuts[0].ID || p.Columns[0].Target.PitRunID == nil {
		t.Errorf("columns are guessed as %+v", p.Columns)
	}
	if want := time.Date(2026, 9, 19, 12, 0, 0, 0, time.UTC); !p.From.Equal(want) {
		t.Errorf("08:00 in the barn is %v, want %v", p.From, want)
	}
	o := fire.LogOptions{Targets: odalys.targets(v)}
	var first, second, longer fire.LogImported
	odalys.upload(logs, data, o, &first)
	odalys.upload(logs, data, o, &second)
	odalys.upload(logs, barnLog(700), o, &longer)
	if first.Added != 1800 || second.Added != 0 || second.AlreadyThere != 1800 || longer.Added != 300 {
		t.Errorf("three imports added %d, %d and %d", first.Added, second.Added, longer.Added)
	}
	odalys.upload(logs+"/preview", data, fire.LogOptions{}, &p)
	if p.Known != 1800 {
		t.Errorf("a later preview knows %d of the readings, want 1800", p.Known)
	}
}

func TestALogCanBeTakenBack(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cook := fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID)
	points := func() (out []int) {
		var tr fire.Traces
		odalys.must("GET", cook+"/traces?columns=4000", nil, 200, &tr)
		for _, x := range tr.Traces {
			out = append(out, len(x.Points))
		}
		return out
	}
	set := func(want int) {
		t.Helper()
		var n int
		if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from voided_readings").Scan(&n); err != nil || n != want {
			t.Errorf("%d readings are set aside (%v), want %d", n, err, want)
		}
	}
	o := fire.LogOptions{Targets: odalys.targets(v)}
	odalys.upload(cook+"/logs", barnLog(100), o, nil)
	var longer fire.LogImported
	odalys.upload(cook+"/logs", barnLog(150), o, &longer)
	imports := odalys.again(v).Imports
	path := fmt.Sprintf("/api/imports/%d/void", imports[0].ID)
	odalys.refused("POST", path, barn.Why{Why: "-"}, 422, "three letters")
	odalys.must("POST", path, barn.Why{Why: "another cook's columns"}, 200, &v)
	if got := v.Imports[0]; got.VoidedBy != "Odalys" || got.VoidReason != "another cook's columns" || v.Imports[1].VoidedBy != "" {
		t.Errorf("the imports are %+v", v.Imports)
	}
	if got := points(); !slices.Equal(got, []int{100, 100, 100}) {
		t.Errorf("without the longer log the traces have %v readings, want 100 each", got)
	}
	set(150)
	odalys.refused("POST", path, barn.Why{Why: "once more"}, 404, "")
	odalys.must("POST", fmt.Sprintf("/api/imports/%d/void", imports[1].ID), barn.Why{Why: "all of it"}, 200, nil)
	if got := points(); len(got) != 0 {
		t.Errorf("without any log the traces have %v readings", got)
	}
	set(450)
	odalys.upload(cook+"/logs", barnLog(100), o, &longer)
	if got := points(); longer.Added != 300 || !slices.Equal(got, []int{100, 100, 100}) {
		t.Errorf("taken in again, %d readings are added and the traces have %v", longer.Added, got)
	}
}

func TestTracesAreReducedAndZoomed(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cook := fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID)
	data := barnLog(33_334) // 100,002 readings
	var done fire.LogImported
	if status, p := odalys.upload(cook+"/logs", data, fire.LogOptions{Targets: odalys.targets(v), Outside: "keep"},
		&done); status != 201 || done.Added != 100_002 {
		t.Fatalf("the import answered %d %+v and added %d", status, p, done.Added)
	}
	var all, zoomed fire.Traces
	odalys.must("GET", cook+"/traces?columns=500", nil, 200, &all)
	if len(all.Traces) != 3 || len(all.Traces[0].Points) != 500 {
		t.Fatalf("%d traces of %d points, want 3 of 500", len(all.Traces), len(all.Traces[0].Points))
	}
	for _, p := range all.Traces[0].Points {
		if p[2] <= p[1] {
			t.Fatalf("a stretch of 67 readings that go up and down has lowest %v and highest %v", p[1], p[2])
		}
	}
	from := all.First.Add(time.Hour)
	odalys.must("GET", fmt.Sprintf("%s/traces?columns=500&from=%d&to=%d", cook, from.UnixMilli(), from.Add(10*time.Minute).UnixMilli()), nil, 200, &zoomed)
	if n := len(zoomed.Traces[1].Points); n != 61 || zoomed.Traces[1].Points[5][1] != zoomed.Traces[1].Points[5][2] {
		t.Errorf("ten minutes hold %d points, want the 61 readings themselves", n)
	}
	odalys.refused("GET", cook+"/traces?from=5&to=4", nil, 422, "not after the start")
}

func TestWrongLogsAreRefusedWithTheReason(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	large := append([]byte("time,Pit F\n"), bytes.Repeat([]byte("2026-09-19 08:00:00,250\n"), 60<<20/24)...)
	good := barnLog(5)
	other := int64(999)
	for _, c := range []struct {
		name   string
		data   []byte
		o      fire.LogOptions
		status int
		words  string
	}{
		{"a picture", []byte("\x89PNG\r\n\x1a\n0000"), fire.LogOptions{}, 422, "PNG picture"},
		{"an empty file", nil, fire.LogOptions{}, 422, "empty"},
		{"60 MB", large, fire.LogOptions{}, 413, "over 24 MB"},
		{"a zone there is not", good, fire.LogOptions{Zone: "Narnia"}, 422, "time zone"},
		{"a scale there is not", good, fire.LogOptions{Scale: "K"}, 422, "scale"},
		{"a cut of another cook", good, fire.LogOptions{Targets: map[string]store.Target{"1L (F)": {CutID: &other}}}, 422, "no cut or pit of this cook"},
	} {
		status, p := odalys.upload(logs, c.data, c.o, nil)
		if status != c.status || !strings.Contains(fmt.Sprintf("%+v", p), c.words) {
			t.Errorf("%s answered %d %+v, want %d with %q", c.name, status, p, c.status, c.words)
		}
	}
	var got fire.LogImported
	latin := "Zeit;Grube \xb0C;1L \xb0C\n19.09.2026 08:00;121,5;4,5\n19.09.2026 08:01;warm;4,6\n19.09.2026 08:02;122,0;4,7\n"
	status, p := odalys.upload(logs, []byte(latin), fire.LogOptions{Zone: "+02:00"}, &got)
	if status != 201 || got.Added != 5 || got.TroubleCount != 1 {
		t.Errorf("Latin-1 with decimal commas answered %d %+v: %d added, %d in trouble", status, p, got.Added, got.TroubleCount)
	}
	if x := odalys.again(v).Imports[0].Trouble; len(x) != 1 || x[0].Line != 3 {
		t.Errorf("the record of the import reports %+v, want line 3", x)
	}
	if status, _ := odalys.send("POST", logs, "application/json", strings.NewReader("{}")); status != 400 {
		t.Errorf("JSON in place of a form answered %d", status)
	}
}

func TestAProbeMovesOnToItsNextCook(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	o := fire.LogOptions{Targets: odalys.targets(v)}
	odalys.upload(fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID), barnLog(100), o, nil)
	plan := plan.PlanInput{ServeAt: odalys.clock("2026-09-20T22:00:00Z"), Runs: []plan.RunInput{{PitID: v.Cooks[0].Runs[0].PitID, SetPoint: "121 C"}}}
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/cooks", v.ID), plan, 201, &v)
	next := bytes.ReplaceAll(barnLog(50), []byte("2026-09-19"), []byte("2026-09-20"))
	odalys.upload(fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[1].ID), next,
		fire.LogOptions{Targets: map[string]store.Target{"Brick Pit (F)": {PitRunID: &v.Cooks[1].Runs[0].ID}}}, nil)
	for i, want := range []int{100, 50} {
		var tr fire.Traces
		odalys.must("GET", fmt.Sprintf("/api/cooks/%d/traces?columns=4000", v.Cooks[i].ID), nil, 200, &tr)
		if n := len(tr.Traces[0].Points); n != want {
			t.Errorf("the pit of cook %d has %d readings, want %d", i+1, n, want)
		}
	}
}

func TestCalculationsByRoute(t *testing.T) {
	t.Parallel()
	b, _ := newBarn(t)
	h := b.hand()
	var list []Calculation
	h.must("GET", "/api/calc", nil, 200, &list)
	if len(list) < 9 {
		t.Errorf("%d calculations are listed", len(list))
	}
	var g struct{ Grams float64 }
	h.must("POST", "/api/calc/units.to_grams", map[string]any{"lb": 1, "oz": 8}, 200, &g)
	if g.Grams != 680.388555 {
		t.Errorf("1 lb 8 oz is %v g", g.Grams)
	}
	h.refused("POST", "/api/calc/units.to_grams", map[string]any{"stone": 1}, 422, "stone")
	h.refused("POST", "/api/calc/units.to_stones", map[string]any{}, 404, "no calculation")
}

func TestProblemsHaveOneShape(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	_ = b
	status, p := odalys.do("POST", "/api/trials", map[string]any{"question": ""}, nil)
	if status != 422 || len(p.Errors) < 5 {
		t.Errorf("an empty ask answered %d with %d faults, want all of them at once", status, len(p.Errors))
	}
	for _, e := range p.Errors {
		if e == (api.FieldError{}) || e.Problem == "" || e.Remedy == "" || e.Field == "" {
			t.Errorf("a fault lacks field, problem or remedy: %+v", e)
		}
	}
}

// TestALogOfOtherDaysIsAskedAbout: readings of last spring are kept, or left out, by a word.
func TestALogOfOtherDaysIsAskedAbout(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	log := []byte("Time,1L (F)\n2026-05-03 08:00,40\n2026-05-03 08:01,41\n2026-09-19 08:00,42\n")
	o := fire.LogOptions{Zone: "UTC", Targets: map[string]store.Target{"1L (F)": {CutID: &v.Cuts[0].ID}}}
	var p fire.LogPreview
	if status, problem := odalys.upload(path+"/preview", log, o, &p); status != 200 || !slices.Contains(p.Questions, logbook.AskOutside) || p.Outside != 2 {
		t.Errorf("the preview answers %d %+v: it asks %v of %d readings", status, problem, p.Questions, p.Outside)
	}
	if status, problem := odalys.upload(path, log, o, nil); status != 422 ||
		!strings.Contains(fmt.Sprint(problem), "2 readings of 3 May 2026 to 3 May 2026 are far") {
		t.Errorf("unasked, the log answers %d %+v", status, problem)
	}
	var done fire.LogImported
	o.Outside = "leave"
	if odalys.upload(path, log, o, &done); done.Added != 1 {
		t.Errorf("left out, %d readings are added, want 1", done.Added)
	}
	o.Outside = "keep"
	if odalys.upload(path, log, o, &done); done.Added != 2 || done.AlreadyThere != 1 {
		t.Errorf("kept, %d readings are added and %d were there, want 2 and 1", done.Added, done.AlreadyThere)
	}
}

// TestALoggerIsRememberedOverCooks reads a file of a logger at one cook and the next one at
// another: how it is read and what its columns measure is said once.
func TestALoggerIsRememberedOverCooks(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	long := "when;sensor;value\n19/09/2026 08:00;A;120\n19/09/2026 08:00;B;5\n19/09/2026 08:10;A;121\n19/09/2026 08:10;B;7\nnonsense\n"
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	o := fire.LogOptions{Logger: "grey box", Scale: "C", Zone: "+02:00", Targets: map[string]store.Target{
		"A": {CutID: &v.Cuts[1].ID}, "B": {CutID: &v.Cuts[0].ID, Place: "thick"}}}
	o.Lines = "all"
	if status, problem := odalys.upload(logs, []byte(long), o, nil); status != 422 || problem.Errors[0].Field != "lines" {
		t.Fatalf("all or nothing of a file with a bad line answered %d %+v", status, problem)
	}
	var p fire.LogPreview
	if odalys.upload(logs+"/preview", []byte(long), fire.LogOptions{Logger: "grey box"}, &p); p.Known != 0 || p.Remembered {
		t.Errorf("of a file that was refused something is kept: %+v", p)
	}
	o.Lines = "good"
	var got fire.LogImported
	if status, problem := odalys.upload(logs, []byte(long), o, &got); status != 201 || got.Added != 4 || got.TroubleCount != 1 {
		t.Fatalf("the import answered %d %+v %+v", status, problem, got)
	}
	next := odalys.trialOf(lambAsk(), 1)
	later := strings.ReplaceAll(long, "19/09", "20/09")
	logs = fmt.Sprintf("/api/cooks/%d/logs/preview", next.Cooks[0].ID)
	if status, problem := odalys.upload(logs, []byte(later), fire.LogOptions{Logger: "grey box"}, &p); status != 200 {
		t.Fatalf("the preview answered %d %+v", status, problem)
	}
	if !p.Remembered || p.Shape != logbook.Long || p.Zone != "+02:00" || len(p.Questions) != 0 || p.Columns[0].Scale != "C" {
		t.Errorf("the next file of the logger is read as %+v", p)
	}
	if a, b := p.Columns[0].Target, p.Columns[1].Target; a.CutID == nil || *a.CutID != next.Cuts[1].ID || b.CutID == nil ||
		*b.CutID != next.Cuts[0].ID || b.Place != "thick" {
		t.Errorf("its columns measure %+v and %+v, want the second cut and the thick end of the first", a, b)
	}
	clocks := "08:00,120 C\n08:10,121 C\n"
	if status, problem := odalys.upload(fmt.Sprintf("/api/cooks/%d/logs", next.Cooks[0].ID), []byte(clocks), fire.LogOptions{Logger: "clock"},
		nil); status != 422 || problem.Errors[0].Field != "day" {
		t.Errorf("times of day alone answered %d %+v", status, problem)
	}
}
