package watch

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
	planner "whitebarn/internal/barn/plan"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
)

func TestTheArmsOfTheDemosFireAreAlike(t *testing.T) {
	s, cook, _ := burningBarn(t)
	w := New(s, planner.New(s, &plans))
	got, err := w.SoFar(t.Context(), cook, demobarn.Now)
	if err != nil || len(got.Arms) != 3 {
		t.Fatalf("%d arms are compared (%v)", len(got.Arms), err)
	}
	for _, a := range got.Arms {
		if a.Cuts != 2 || a.Hours < 2 || a.MeanC == nil || *a.MeanC < 100 || *a.MeanC > 140 || a.HandsMin < 10 {
			t.Errorf("arm %d was given %+v", a.Arm, a)
		}
	}
	if len(got.Flags) != 0 {
		t.Errorf("one pit with one probe sets them apart: %q", got.Flags)
	}
}

func TestWaysOutStandSideBySide(t *testing.T) {
	s, cook, _ := burningBarn(t)
	w := New(s, planner.New(s, &plans))
	all, err := w.Ways(t.Context(), cook, demobarn.Now)
	if err != nil || len(all) != 6 {
		t.Fatalf("%d cuts have ways out (%v)", len(all), err)
	}
	for _, c := range all {
		var names []string
		for _, x := range c.Ways {
			names = append(names, x.Name)
		}
		ways, goesOn := c.Ways, c.Ways[0] // by the plan, where it has a wrap to come
		if goesOn.Name == "As planned" {
			ways = ways[1:]
		}
		if c.Missing != "" || len(ways) != 5 || !strings.Contains(fmt.Sprint(names), "Wrap in foil now") ||
			!strings.Contains(fmt.Sprint(names), "Brick Pit to {C:135.0}") {
			t.Fatalf("cut %d: %s %q", c.CutID, c.Missing, names)
		}
		as, foil, hot := ways[0], ways[2], ways[3]
		if !foil.Done.Middle.Before(as.Done.Middle) || foil.Done.Dryness >= as.Done.Dryness {
			t.Errorf("in foil %+v, as it is %+v: want it sooner and less dry", *foil.Done, *as.Done)
		}
		if !hot.Done.Middle.Before(goesOn.Done.Middle) {
			t.Errorf("a hotter pit ends at %s, this one at %s", hot.Done.Middle, goesOn.Done.Middle)
		}
		if as.Spoils != "" || !strings.Contains(foil.Spoils, "what is tried") || !strings.Contains(hot.Spoils, "all of Brick Pit, 6 cuts") {
			t.Errorf("they break %q, %q and %q", as.Spoils, foil.Spoils, hot.Spoils)
		}
	}
}

func TestAForecastSaysWhyItChanged(t *testing.T) {
	s, cook, _ := burningBarn(t)
	w := New(s, planner.New(s, &plans))
	now := demobarn.Now
	first, err := w.Forecast(t.Context(), cook, now.Add(-40*time.Minute))
	if err != nil {
		t.Fatal(err)
	}
	for _, o := range first {
		if o.Changed != "" {
			t.Errorf("the first forecast of cut %d has changed: %s", o.CutID, o.Changed)
		}
	}
	wrapped := first[0].CutID
	e := store.Event{Act: logbook.Wrap, At: now.Add(-30 * time.Minute), Detail: logbook.Detail{Wrap: "foil"}, CutID: &wrapped, Press: "0b7d3c1e-6d1c-4f35-9a53-0d6f9e2a0001"}
	if err := s.Log(t.Context(), 1, []store.Event{e}); err != nil {
		t.Fatal(err)
	}
	again, err := w.Forecast(t.Context(), cook, now)
	if err != nil {
		t.Fatal(err)
	}
	for _, o := range again {
		if said := strings.Contains(o.Changed, "earlier than 40 min ago: it was wrapped"); said != (o.CutID == wrapped) {
			t.Errorf("cut %d says %q", o.CutID, o.Changed)
		}
	}
}
