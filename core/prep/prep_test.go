package prep

import (
	"math"
	"strings"
	"testing"
)

func near(a, b float64) bool { return math.Abs(a-b) < 1e-9 }

func TestAnInjectionIsLaidOnAGrid(t *testing.T) {
	got, err := GridOf(GridInput{MeatG: 4000, PickUp: 0.1, Density: 1.05, LengthCM: 30, WidthCM: 18, SpacingC: 3})
	if err != nil {
		t.Fatal(err)
	}
	if got.BrineG != 400 || !near(got.BrineML, 400/1.05) || got.Along != 10 || got.Across != 6 || !near(got.SiteML, 400/1.05/60) || !near(got.PerKgML, 100/1.05) {
		t.Errorf("the grid is %+v", got)
	}
}

func TestSpoonsFollowTheSalt(t *testing.T) {
	for salt, want := range map[Salt]float64{FineSalt: 5, DenseSalt: 6.25, FlakySalt: 30 / 2.8} {
		got, err := DryBrineOf(DryBrineInput{MeatG: 2000, Share: 0.015, Salt: salt})
		if err != nil || got.SaltG != 30 || !near(got.Teaspoons, want) || !near(got.Tablespoons, want/3) || got.Caution == "" {
			t.Errorf("30 g of %s salt are %+v (%v), want %.2f teaspoons", salt, got, err, want)
		}
	}
}

func TestAllSaltIsAddedUpAndJudged(t *testing.T) {
	for _, c := range []struct {
		in      TotalSaltInput
		share   float64
		warning string
	}{
		{TotalSaltInput{MeatG: 2000, BrineG: 10, InjectG: 8, RubG: 40, RubShare: 0.3}, 0.015, ""},
		{TotalSaltInput{MeatG: 2000, RubG: 20, RubShare: 0.2}, 0.002, "less salt"},
		{TotalSaltInput{MeatG: 1000, BrineG: 20, RubG: 40, RubShare: 0.4}, 0.036, "more salt"},
	} {
		got, err := TotalSaltOf(c.in)
		if err != nil || !near(got.Share, c.share) || !strings.Contains(got.Warning, c.warning) || (got.Warning == "") != (c.warning == "") {
			t.Errorf("%+v comes to %+v (%v), want %g and %q", c.in, got, err, c.share, c.warning)
		}
	}
}

func TestImpossibleAmountsAreRefusedByField(t *testing.T) {
	for field, call := range map[string]func() error{
		"before_g": func() error { _, err := InjectionOf(InjectionInput{AfterG: 1}); return err },
		"scale_resolution_g": func() error {
			_, err := InjectionOf(InjectionInput{BeforeG: 1, AfterG: 1, ResolutionG: -1})
			return err
		},
		"target_salt_fraction": func() error { _, err := BrineOf(BrineInput{MeatG: 1, WaterG: 1, Target: 2}); return err },
		"cure_g":               func() error { _, err := BrineOf(BrineInput{MeatG: 1, WaterG: 1, CureG: -1}); return err },
		"water_g":              func() error { _, err := BrineOf(BrineInput{MeatG: 1}); return err },
		"salt":                 func() error { _, err := DryBrineOf(DryBrineInput{MeatG: 1, Salt: "rock"}); return err },
		"spacing_cm":           func() error { _, err := GridOf(GridInput{MeatG: 1, LengthCM: 1, WidthCM: 1, Density: 1}); return err },
		"brine_g_per_ml":       func() error { _, err := GridOf(GridInput{MeatG: 1, LengthCM: 1, WidthCM: 1, SpacingC: 1}); return err },
		"rub_g":                func() error { _, err := TotalSaltOf(TotalSaltInput{MeatG: 1, RubG: -1}); return err },
		"meat_g":               func() error { _, err := TotalSaltOf(TotalSaltInput{MeatG: math.NaN()}); return err },
	} {
		if err := call(); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("a wrong %s ends with %v", field, err)
		}
	}
}
