package exchange

import (
	"bytes"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"

	"whitebarn/core/plan"
)

func TestAMovedTaskKeepsItsName(t *testing.T) {
	at := time.Date(2026, 10, 3, 5, 15, 0, 0, time.FixedZone("hill", -4*3600))
	sure := func(t time.Time) plan.Moment { return plan.Moment{Early: t, Middle: t, Late: t} }
	tasks := func(shift time.Duration) []plan.Task {
		return []plan.Task{
			{At: sure(at.Add(shift)), ForS: 600, Act: plan.ActOn, Arm: 0, Pit: 0, Words: "PAPER on, 2 cuts; then coffee, black", Person: 1},
			{At: plan.Moment{Early: at.Add(shift + time.Hour), Middle: at.Add(shift + 2*time.Hour), Late: at.Add(shift + 4*time.Hour)}, ForS: 60, Act: plan.ActSpritz, Arm: 0, Pit: 0, Words: "Spritz PAPER", Person: -1},
			{At: sure(at.Add(shift + 3*time.Hour)), ForS: 60, Act: plan.ActSpritz, Arm: 0, Pit: 0, Words: "Spritz PAPER", Person: 0},
		}
	}
	write := func(shift time.Duration) map[string]*ics.VEvent {
		var b bytes.Buffer
		c := Calendar{Name: "Paper, pan or bare?", CookID: 4, Link: "http://barn/trials/4/plan", Stamped: at, People: []string{"Tove", "Bram"}, Pits: []string{"Brick Pit"}, Plan: plan.Plan{Serve: at.Add(13 * time.Hour), Ready: 0.9, Tasks: tasks(shift)}}
		if err := WriteCalendar(&b, c); err != nil {
			t.Fatal(err)
		}
		cal, err := ics.ParseCalendar(&b)
		if err != nil {
			t.Fatal(err)
		}
		out := map[string]*ics.VEvent{}
		for _, e := range cal.Events() {
			out[e.Id()] = e
		}
		return out
	}
	was, now := write(0), write(-90*time.Minute)
	if len(was) != 4 || len(now) != 4 {
		t.Fatalf("%d and %d events, want three tasks and the table", len(was), len(now))
	}
	for id, e := range was {
		moved := now[id]
		if moved == nil {
			t.Errorf("%s is called otherwise once it moved", id)
			continue
		}
		a, _ := e.GetStartAt()
		b, _ := moved.GetStartAt()
		want := 90 * time.Minute
		if id == "table-cook4@white-barn" {
			want = 0
		}
		if a.Sub(b) != want {
			t.Errorf("%s moved by %s, want %s", id, a.Sub(b), want)
		}
	}
	on := was["on-1-1-1-cook4@white-barn"]
	if on == nil || on.GetProperty(ics.ComponentPropertySummary).Value != "PAPER on, 2 cuts; then coffee, black" || on.GetProperty(ics.ComponentPropertyDescription).Value != "By Bram. At Brick Pit." {
		t.Errorf("the first task is %+v", on)
	}
}
