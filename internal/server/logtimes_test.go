package server

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/barn/fire"
)

// TestReadingsToComeAreNotTakenIn: a file whose times are of another zone is refused with the zone it is
// likely in, and goes in under that; what lies after now by a wrong clock can be left out.
func TestReadingsToComeAreNotTakenIn(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	now := time.Now().UTC()
	file := func(from time.Time, layout string) []byte { // a minute apart, up to an hour later
		var text strings.Builder
		text.WriteString("time,Brick Pit (F)\n")
		for i := range 61 {
			fmt.Fprintf(&text, "%s,%d\n", from.Add(time.Duration(i)*time.Minute).Format(layout), 245+i%11)
		}
		return []byte(text.String())
	}
	const wall = "2006-01-02 15:04:05"
	utc := file(now.Add(-time.Hour), wall) // of a barn four or five hours behind
	var p fire.LogPreview
	odalys.upload(logs+"/preview", utc, fire.LogOptions{Outside: "keep"}, &p)
	if p.Future != 61 || p.LikelyZone != "UTC" || len(p.Questions) != 1 || p.Questions[0] != "future" {
		t.Errorf("a file in UTC: %d lie ahead, likely %q, asks %v; want 61, UTC and future", p.Future, p.LikelyZone, p.Questions)
	}
	status, problem := odalys.upload(logs, utc, fire.LogOptions{Outside: "keep"}, nil)
	if status != 422 || len(problem.Errors) != 1 || problem.Errors[0].Field != "zone" || !strings.Contains(problem.Errors[0].Remedy, "UTC") ||
		!strings.Contains(problem.Errors[0].Problem, "61 readings lie after now") {
		t.Errorf("a file of after now is answered with %d %+v", status, problem)
	}
	if n := b.count("select count(*) from readings"); n != 0 {
		t.Fatalf("%d readings of it are there", n)
	}
	var done fire.LogImported
	if odalys.upload(logs, utc, fire.LogOptions{Outside: "keep", Zone: "UTC"}, &done); done.Added != 61 {
		t.Errorf("under its zone %d went in", done.Added)
	}
	// Its times carry their zone: no other is offered.
	fast := file(now.Add(-30*time.Minute), "2006-01-02T15:04:05Z")
	odalys.upload(logs+"/preview", fast, fire.LogOptions{Outside: "keep", Logger: "fast"}, &p)
	if p.Future != 28 && p.Future != 29 || p.LikelyZone != "" {
		t.Errorf("by a clock half an hour fast %d lie ahead, likely %q", p.Future, p.LikelyZone)
	}
	if status, problem := odalys.upload(logs, fast, fire.LogOptions{Outside: "keep", Logger: "fast"}, nil); status != 422 || problem.Errors[0].Field != "future" {
		t.Errorf("a fast clock is answered with %d %+v", status, problem)
	}
	if odalys.upload(logs, fast, fire.LogOptions{Outside: "keep", Logger: "fast", Future: "leave"}, &done); done.Added < 32 || done.Added > 33 {
		t.Errorf("without what lies ahead %d went in", done.Added)
	}
}

// TestACountFromAStartIsPutInItsTime asks for the start, and in what it counts.
func TestACountFromAStartIsPutInItsTime(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	logs := fmt.Sprintf("/api/cooks/%d/logs", v.Cooks[0].ID)
	file := []byte("elapsed,set,probe 1,probe 2\n0,250,60,41\n10,250,248,50\n20,250,252,70\n30,250,251,90\n")
	var p fire.LogPreview
	odalys.upload(logs+"/preview", file, fire.LogOptions{Scale: "F"}, &p)
	if got := fmt.Sprint(p.Questions); got != "[elapsed start]" || p.TimeLayout != "minutes since its start" {
		t.Errorf("it asks %s of %q", got, p.TimeLayout)
	}
	// What lies at the pit's set point is the pit; what never moves is what was set.
	if p.Columns[0].Target.PitRunID != nil || p.Columns[1].Target.PitRunID == nil || p.Columns[2].Target.PitRunID != nil {
		t.Errorf("columns are guessed as %+v", p.Columns)
	}
	if status, problem := odalys.upload(logs, file, fire.LogOptions{Scale: "F"}, nil); status != 422 || problem.Errors[0].Field != "start" {
		t.Errorf("with no start it is answered with %d %+v", status, problem)
	}
	o := fire.LogOptions{Scale: "F", Elapsed: "min", Start: "2026-09-19T08:05"}
	odalys.upload(logs+"/preview", file, o, &p)
	from := time.Date(2026, 9, 19, 12, 5, 0, 0, time.UTC) // in New York
	if !p.From.Equal(from) || !p.To.Equal(from.Add(30*time.Minute)) || len(p.Questions) != 0 {
		t.Errorf("started then it is of %s to %s, asks %v", p.From, p.To, p.Questions)
	}
	var done fire.LogImported
	if odalys.upload(logs, file, o, &done); done.Added != 12 {
		t.Errorf("%d readings went in, want 12", done.Added)
	}
	odalys.upload(logs+"/preview", file, fire.LogOptions{Start: "2026-09-19T08:05"}, &p)
	if !p.Remembered || len(p.Questions) != 0 {
		t.Errorf("the next file of it asks %v", p.Questions)
	}
	if status, problem := odalys.upload(logs, file, fire.LogOptions{Start: "at eight"}, nil); status != 422 || problem.Errors[0].Field != "start" {
		t.Errorf("no time of a start is answered with %d %+v", status, problem)
	}
}
