package server

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"

	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	coreplan "whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// draft is the first cook of a trial as Plan shows it.
func draft(v trials.TrialView) plan.WorkInput {
	k := v.Cooks[0]
	o := v.Outline
	in := plan.WorkInput{CookID: k.ID, Cook: plan.PlanInput{ServeAt: k.ServeAt, Outline: &o}}
	for _, r := range k.Runs {
		in.Cook.Runs = append(in.Cook.Runs, plan.RunInput{ID: r.ID, PitID: r.PitID, Setup: r.Setup, SetPoint: r.SetPointTyped})
	}
	for _, c := range v.Cuts {
		if c.Placement != nil && c.Placement.CookID == k.ID {
			in.Cook.Placements = append(in.Cook.Placements, plan.PlacementInput{CutID: c.ID,
				Run: slices.IndexFunc(k.Runs,
					func(r store.PitRun) bool { return r.ID == *c.Placement.PitRunID }), Position: c.Placement.Position})
		}
	}
	return in
}

func TestACookIsWorkedBackAndKept(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	path := fmt.Sprintf("/api/trials/%d/plan", v.ID)
	in := draft(v)
	in.Cook.ServeAt = time.Now().Add(60 * time.Hour)
	var p plan.PlanView
	odalys.must("POST", path, in, 200, &p)
	if len(p.Lanes) != 2 || p.Outline.Planned || p.Ready < 0.85 || len(p.People) != 1 || p.Names[0] != "Brick Pit" {
		t.Fatalf("the first guess is %+v", p)
	}
	var box store.Holder
	odalys.must("POST", "/api/holders", barn.NamedInput{Name: "Warm Box"}, 201, &box)
	for i := range in.Cook.Outline.Arms {
		a := &in.Cook.Outline.Arms[i]
		a.Phases = append(a.Phases, phase.Phase{Kind: phase.Hold, Name: "hold", SetTyped: "150 F", HolderID: box.ID, LeastS: 3600, Ends: []phase.End{{Watch: phase.ByTime, Typed: "4 h"}}})
	}
	before := p
	p = plan.PlanView{}
	odalys.must("POST", path, in, 200, &p)
	for i, l := range p.Lanes {
		if !l.On.Before(before.Lanes[i].On) {
			t.Errorf("with four hours of hold arm %d starts at %s, without at %s", i, l.On, before.Lanes[i].On)
		}
		if got := p.Outline.Arms[i].Phases; got[len(got)-1].Ends[0].Value != 4*3600 {
			t.Errorf("4 h is read as %v", got[len(got)-1].Ends)
		}
	}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d", in.CookID), in.Cook, 200, &v)
	if !v.Outline.Planned || !slices.ContainsFunc(v.Outline.Arms[0].Phases, func(p phase.Phase) bool { return p.HolderID == box.ID }) {
		t.Errorf("kept is %+v", v.Outline)
	}
	held := func() (n int) {
		if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from placements where holder_run_id is not null and voided_at is null").Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	if n := held(); n != len(v.Cuts) || v.Cuts[0].Placement == nil || v.Cuts[0].Placement.PitRunID == nil {
		t.Errorf("%d of %d cuts have their place in the box, and stand in %+v", n, len(v.Cuts), v.Cuts[0].Placement)
	}
	in = draft(v)
	for i := range in.Cook.Outline.Arms {
		a := &in.Cook.Outline.Arms[i]
		a.Phases = a.Phases[:len(a.Phases)-1]
	}
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d", in.CookID), in.Cook, 200, &v)
	if n := held(); n != 0 {
		t.Errorf("without a hold %d cuts have a place in the box", n)
	}
	// A core may be asked for at one place of the cut, or at every place.
	for _, place := range []string{"thick", logbook.AllPlaces} {
		last := slices.IndexFunc(in.Cook.Outline.Arms[0].Phases, func(p phase.Phase) bool { return p.Kind == phase.Smoke })
		in.Cook.Outline.Arms[0].Phases[last].Ends = []phase.End{{Watch: phase.ByCore, Typed: "203 F", Place: place}}
		odalys.must("PUT", fmt.Sprintf("/api/cooks/%d", in.CookID), in.Cook, 200, &v)
		if got := v.Outline.Arms[0].Phases[last].Ends[0]; got.Place != place || got.Value != 95 {
			t.Errorf("203 F at %s is kept as %+v", place, got)
		}
	}
	in.Cook.Outline.Arms[0].Phases[0].Ends = []phase.End{{Watch: phase.ByCore, Typed: "done"}}
	odalys.refused("POST", path, in, 422, "outline.arms[0].phases[0].ends[0].typed")
	odalys.refused("POST", path, plan.WorkInput{Cook: plan.PlanInput{Runs: in.Cook.Runs}}, 422, "serve_at")
}

func TestTheSchoolsAreOffered(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/trials/%d/phases", v.ID)
	var phases []phase.Phase
	odalys.must("POST", path, plan.PhasesInput{ArmID: v.Ask.Arms[0].ID, School: coreplan.ByClock}, 200, &phases)
	for _, p := range phases {
		if _, fixed := p.Fixed(); !fixed {
			t.Errorf("by the clock %s ends by %v", p.Name, p.Ends)
		}
	}
	odalys.refused("POST", path, plan.PhasesInput{ArmID: 999, School: coreplan.ByClock}, 422, "arm_id")
}

func TestTheHousesCooksShortenAPlan(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	in := draft(v)
	before, after := plan.PlanView{}, plan.PlanView{}
	path := fmt.Sprintf("/api/trials/%d/plan", v.ID)
	odalys.must("POST", path, in, 200, &before)
	other := odalys.trialOf(lambAsk(), 3)
	for _, c := range other.Cuts { // four hours: far less than the model says
		for act, at := range map[string]string{"on": "2026-09-19T08:00:00Z", "pull": "2026-09-19T12:00:00Z"} {
			if status, p := odalys.press(other, logbook.Act(act), at, c.ID); status != 201 {
				t.Fatalf("%s answered %d %s", act, status, p)
			}
		}
	}
	odalys.must("POST", path, in, 200, &after)
	took := func(v plan.PlanView, i int) time.Duration { return v.Cuts[i].Pull.Middle.Sub(v.Cuts[i].On) }
	for i := range after.Cuts {
		if after.Cuts[i].House != 3 || before.Cuts[i].House != 0 || took(after, i) > took(before, i)*3/4 {
			t.Errorf("cut %d is reckoned from %d cooks and takes %s, by the model alone %s", i, after.Cuts[i].House, took(after, i), took(before, i))
		}
	}
}

func TestTheCalendarCanBeSubscribedTo(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	in := draft(v)
	in.Cook.ServeAt = time.Now().Add(60 * time.Hour).Truncate(time.Minute)
	odalys.must("PUT", fmt.Sprintf("/api/cooks/%d", in.CookID), in.Cook, 200, &v)
	var link CalendarLink
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/calendar", in.CookID), nil, 200, &link)
	read := func(url string) (int, []byte) {
		res, err := http.Get(b.url + url[strings.Index(url, "/api/"):]) // with no sign-in
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		body, err := io.ReadAll(res.Body)
		if err != nil {
			t.Fatal(err)
		}
		return res.StatusCode, body
	}
	status, first := read(link.URL)
	cal, err := ics.ParseCalendar(bytes.NewReader(first))
	if status != 200 || err != nil {
		t.Fatalf("the calendar answers %d, %v: %s", status, err, first)
	}
	var p plan.PlanView
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/plan", v.ID), draft(v), 200, &p)
	events := cal.Events()
	if len(events) != len(p.Tasks)+1 {
		t.Fatalf("%d events for %d tasks and the table", len(events), len(p.Tasks))
	}
	uids := map[string]bool{}
	for i, e := range events {
		from, err := e.GetStartAt()
		to, err2 := e.GetEndAt()
		if err != nil || err2 != nil || !to.After(from) || e.Id() == "" || uids[e.Id()] {
			t.Errorf("event %d is from %v to %v (%v, %v) with the name %q", i, from, to, err, err2, e.Id())
		}
		uids[e.Id()] = true
		if i == len(events)-1 {
			if !from.Equal(v.Cooks[0].ServeAt) {
				t.Errorf("the table is at %s, want %s", from, v.Cooks[0].ServeAt)
			}
			continue
		}
		task := p.Tasks[i]
		if !from.Equal(task.At.Middle.Truncate(time.Second)) || e.GetProperty(ics.ComponentPropertySummary).Value != task.Words || len(e.Alarms()) != 1 {
			t.Errorf("event %d is %s at %s, the task %s at %s", i, e.GetProperty(ics.ComponentPropertySummary).Value, from, task.Words, task.At.Middle)
		}
	}
	if _, again := read(link.URL); !bytes.Equal(again, first) {
		t.Errorf("read twice the calendar is\n%s\nand\n%s", first, again)
	}
	if status, _ := read(strings.Replace(link.URL, "calendar/", "calendar/z", 1)); status != 404 {
		t.Errorf("a calendar that was not signed answers %d", status)
	}
}

func TestAPitsBurnRateIsTyped(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	path := fmt.Sprintf("/api/pits/%d/burn", v.Cooks[0].Runs[0].PitID)
	var all []store.Pit
	odalys.must("PUT", path, pits.BurnInput{Kind: "offset", WarmMin: 50, Fuel: "hornbeam splits", FuelHour: "6 lb", WoodMin: 40,
		WaterHour: "1 lb 2 oz"}, 200, &all)
	if b := all[0].Burn; all[0].Kind != "offset" || b.WarmS != 3000 || b.FuelKgH < 2.72 || b.FuelKgH > 2.73 || b.FuelTyped != "6 lb" || b.WoodEveryS != 2400 {
		t.Errorf("the pit is kept as %+v", all[0])
	}
	var p plan.PlanView
	odalys.must("POST", fmt.Sprintf("/api/trials/%d/plan", v.ID), draft(v), 200, &p)
	pit := p.Pits[0]
	if !pit.Known || pit.On.Sub(pit.Light) != 50*time.Minute || p.Fuels[0] != "hornbeam splits" {
		t.Errorf("the plan's pit is %+v, %v", pit, p.Fuels)
	}
	odalys.refused("PUT", path, pits.BurnInput{Kind: "counter", FuelHour: "a few", WoodMin: 1}, 422, "fuel_hour")
}

// A plan that was made from another than what stands is refused, and changes nothing.
func TestAPlanIsNotWrittenOverAnother(t *testing.T) {
	t.Parallel()
	_, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	path := fmt.Sprintf("/api/cooks/%d", v.Cooks[0].ID)
	mine := draft(v).Cook
	mine.Version = v.Cooks[0].Version
	for name, change := range map[string]func(){
		"the table": func() {
			in := draft(v).Cook
			in.ServeAt = in.ServeAt.Add(time.Hour)
			odalys.must("PUT", path, in, 200, &v)
		},
		"a set point": func() {
			in := draft(v).Cook
			in.Runs[0].SetPoint = "240 F"
			odalys.must("PUT", path, in, 200, &v)
		},
		"a place": func() {
			in := draft(v).Cook
			in.Placements = in.Placements[1:]
			odalys.must("PUT", path, in, 200, &v)
		},
		"what goes in": func() {
			o := draft(v).Cook.Outline
			o.Arms[0].Doses = append(o.Arms[0].Doses, prep.Dose{Kind: prep.Rub, Name: "hill salt", Salt: "fine", Share: 0.01})
			odalys.must("PUT", fmt.Sprintf("/api/trials/%d/outline", v.ID), o, 200, &v)
		},
	} {
		change()
		odalys.refused("PUT", path, mine, 409, "Somebody changed this plan")
		if now := odalys.again(v); now.Cooks[0].Version != v.Cooks[0].Version || now.Cooks[0].Version == mine.Version {
			t.Errorf("after %s changed the version is %s, was %s when it was made", name, now.Cooks[0].Version, mine.Version)
		}
		mine = draft(v).Cook
		mine.Version = odalys.again(v).Cooks[0].Version
	}
	odalys.must("PUT", path, mine, 200, &v)
	if v.Cooks[0].Version != mine.Version {
		t.Errorf("kept as it was its version is %s, was %s", v.Cooks[0].Version, mine.Version)
	}
	var wait sync.WaitGroup
	taken := make([]int, 4)
	for i := range taken {
		in := mine
		in.ServeAt = in.ServeAt.Add(time.Duration(i+1) * time.Minute)
		wait.Go(func() { taken[i], _ = odalys.do("PUT", path, in, nil) })
	}
	wait.Wait()
	slices.Sort(taken)
	if !slices.Equal(taken, []int{200, 409, 409, 409}) {
		t.Errorf("of four at once were answered %v, want one taken", taken)
	}
}
