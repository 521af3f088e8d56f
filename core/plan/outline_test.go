package plan

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"whitebarn/core/logbook"
	"whitebarn/core/phase"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
)

// sketch writes phases in one line: kind, set point, wrap and ends.
func sketch(phases []phase.Phase) string {
	var out []string
	for _, p := range phases {
		text := string(p.Kind)
		if p.SetTyped != "" {
			text += " " + p.SetTyped
		}
		if p.Wrap != "" && p.Kind == phase.Smoke {
			text += " in " + p.Wrap
		}
		for i, e := range p.Ends {
			link := " until "
			if i > 0 {
				link = map[bool]string{true: " and ", false: " or "}[p.All]
			}
			text += link + strings.TrimSpace(string(e.Watch)+" "+e.Typed)
		}
		if p.SpritzEveryS > 0 {
			text += fmt.Sprintf(", spritz every %.0f min", p.SpritzEveryS/60)
		}
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

// catalogued gives what a trial names the roles and keys that the barn's
// catalogue has for it.
func catalogued(a trial.Ask) trial.Ask {
	roles := map[string]trial.Role{"wood": trial.Wood, "pit temperature": trial.PitTemperature, "wrap": trial.Wrap, "wrap when": trial.WrapWhen, "spritz": trial.Spritz, "finish": trial.Finish,
		"dry brine": trial.DryBrine, "wet brine": trial.WetBrine, "injection": trial.Injection, "hold time": trial.HoldTime, "hold temperature": trial.HoldTemperature, "pull": trial.PullTemperature,
		"rest time": trial.RestTime, "how": trial.SmokerSetUp, "crisping": trial.Crisping, "skin treatment": trial.Skin, "rub": trial.Rub,
		"binder": trial.Binder}
	keys := map[string]string{"none": trial.None, "paper": "paper", "foil": "foil", "foil double": "foil", "covered pan": "pan",
		"foil, at 160 F": "foil", "griddle, 400 F": trial.OnGriddle, "griddle, 4 min": trial.OnGriddle, "oven, 300 F": trial.InOven,
		"hot oil, 365 F, 3 min": trial.InOil, "torch": trial.ByTorch, "when the bark is set": trial.WhenBark, "at 150 F": trial.WhenReached,
		"after 4 h": trial.WhenReached, "every hour": trial.Hourly, "every 2 h": trial.Every, "cook to feel": trial.ToFeel, "pull early and hold long": trial.EarlyAndHeld}
	for i := range a.Factors {
		a.Factors[i].Role = roles[a.Factors[i].Name]
	}
	for i := range a.Held {
		a.Held[i].Role, a.Held[i].Key = roles[a.Held[i].Name], keys[a.Held[i].Value]
	}
	for i := range a.Arms {
		for j := range a.Arms[i].Levels {
			a.Arms[i].Levels[j].Key = keys[a.Arms[i].Levels[j].Value]
		}
	}
	return a
}

func TestAFirstGuessFollowsWhatTheTrialSays(t *testing.T) {
	family, _ := thermal.FamilyOf("lambshoulder")
	ask := func(species safety.Species, factor, level string, held ...[]trial.Held) trial.Ask {
		return catalogued(trial.Ask{Species: species, Factors: []trial.Factor{{Name: factor}}, Arms: []trial.Arm{{ID: 1, Tag: "ONE", Levels: trial.Levels(level)}}, Held: slices.Concat(held...)})
	}
	held := func(pairs ...string) (out []trial.Held) {
		for i := 0; i < len(pairs); i += 2 {
			out = append(out, trial.Held{Name: pairs[i], Value: pairs[i+1]})
		}
		return out
	}
	for _, c := range []struct {
		ask    trial.Ask
		school School
		want   string
	}{
		{ask(safety.RedMeat, "wood", "alder"), ByHeat, "smoke 250 F until core 203 F; rest until time 30 min"},
		{ask(safety.Poultry, "wood", "alder"), ByHeat, "smoke 300 F until core 175 F; rest until time 15 min"},
		{ask(safety.Fish, "wood", "alder"), ByHeat, "smoke 250 F until core 145 F; rest until time 30 min"},
		{ask(safety.RedMeat, "pit temperature", "275", held("pull", "195 F")), ByHeat, "smoke 250 F until core 195 F; rest until time 30 min"},
		{ask(safety.RedMeat, "wrap", "foil double", held("pit temperature", "120 C, North Drum", "wrap when", "at 150 F", "rest time", "1 h")), ByHeat, "smoke 120 C until core 150 F; smoke 120 C in foil until core 203 F; rest until time 1 h"},
		{ask(safety.RedMeat, "wrap when", "when the bark is set", held("wrap", "paper")), ByHeat, "smoke 250 F until bark; smoke 250 F in paper until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "wrap when", "after 4 h", held("wrap", "paper")), ByHeat, "smoke 250 F until time 4 h; smoke 250 F in paper until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "wrap", "none", held("spritz", "every 2 h")), ByHeat, "smoke 250 F until core 203 F, spritz every 120 min; rest until time 30 min"},
		{ask(safety.RedMeat, "spritz", "every hour"), ByTheHands, "smoke 250 F until feel, spritz every 60 min; rest until time 30 min"},
		// Words of their own are words: no key, nothing guessed from them.
		{ask(safety.RedMeat, "our finish", "cook to feel"), ByHeat, "smoke 250 F until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "wrap", "paper of our own", held("finish", "feels right")), ByHeat, "smoke 250 F until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "finish", "cook to feel"), ByHeat, "smoke 250 F until feel; rest until time 30 min"},
		{ask(safety.RedMeat, "finish", "pull early and hold long", held("hold time", "12 h", "hold temperature", "150 F")), ByHeat, "smoke 250 F until core 187 F; rest until time 30 min; hold 150 F until time 12 h"},
		{ask(safety.RedMeat, "wrap", "paper"), ByClock, "smoke 250 F until time 4 h; smoke 250 F in paper until time 4 h; rest until time 30 min"},
		{ask(safety.RedMeat, "wrap", "paper", held("pull", "203 F")), ByTheHands, "smoke 250 F until bark; smoke 250 F in paper until core 203 F or feel; rest until time 30 min"},
		{ask(safety.RedMeat, "dry brine", "1.5 %, 36 h"), ByHeat, "dry brine until time 36 h; smoke 250 F until core 203 F; rest until time 30 min"},
		{ask(safety.Poultry, "wet brine", "5 %", held("skin treatment", "a night uncovered")), ByHeat,
			"brine until time 12 h; dry brine until time 12 h; smoke 300 F until core 175 F; rest until time 15 min"},
		// Levels draft by their own keys and numbers.
		{ask(safety.RedMeat, "wrap", "foil, at 160 F"), ByHeat, "smoke 250 F until core 160 F; smoke 250 F in foil until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "how", "griddle, 400 F", held("pull", "130 F")), ByHeat, "griddle 400 F until core 130 F; rest until time 30 min"},
		{ask(safety.RedMeat, "how", "griddle, 4 min"), ByHeat, "griddle 400 F until time 4 min; rest until time 30 min"},
		{ask(safety.RedMeat, "how", "oven, 300 F"), ByHeat, "smoke 250 F until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "crisping", "hot oil, 365 F, 3 min"), ByHeat,
			"smoke 250 F until core 203 F; rest until time 30 min; fry 365 F until time 3 min"},
		{ask(safety.RedMeat, "crisping", "torch"), ByHeat, "smoke 250 F until core 203 F; rest until time 30 min; sear until look"},
		{ask(safety.RedMeat, "pit temperature", "225 F then 275 F at 160 F"), ByHeat,
			"smoke 225 F until core 160 F; smoke 275 F until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "pit temperature", "225 F then 275 F", held("wrap", "paper")), ByHeat,
			"smoke 225 F until core 150 F; smoke 275 F until core 165 F; smoke 275 F in paper until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "pit temperature", "225 F then 275 F at 170 F", held("wrap", "paper")), ByHeat,
			"smoke 225 F until core 165 F; smoke 275 F in paper until core 203 F; rest until time 30 min"},

		{ask(safety.RedMeat, "injection", "salt water"), ByHeat, "injection until time 1 h; smoke 250 F until core 203 F; rest until time 30 min"},
		{ask(safety.RedMeat, "hold time", "4", held("hold temperature", "145 F")), ByHeat, "smoke 250 F until core 203 F; rest until time 30 min"},
	} {
		got := UsualPhases(c.ask, c.ask.Arms[0], family, c.school)
		if sketch(got) != c.want {
			t.Errorf("%s %s by %s is\n%s, want\n%s", c.ask.Factors[0].Name, c.ask.Arms[0].Levels[0].Value, c.school, sketch(got), c.want)
		}
		if err := phase.Check(got); err != nil {
			t.Errorf("%s is refused: %v", sketch(got), err)
		}
	}
	// A numeric factor has its unit beside the level.
	numeric := ask(safety.RedMeat, "hold time", "9")
	numeric.Factors[0].Unit = "h"
	if got := sketch(UsualPhases(numeric, numeric.Arms[0], family, ByHeat)); !strings.HasSuffix(got, "hold 150 F until time 9 h") {
		t.Errorf("a hold of 9 in h is %s", got)
	}
}

func TestDosesFollowWhatTheTrialSays(t *testing.T) {
	arm := trial.Arm{ID: 1, Levels: trial.Levels("salt water")}
	a := catalogued(trial.Ask{Factors: []trial.Factor{{Name: "injection"}}, Arms: []trial.Arm{arm}, Held: []trial.Held{{Name: "dry brine", Value: "1.2 %, 24 h"}, {Name: "rub", Value: "herb"}, {Name: "binder", Value: "mustard"}, {Name: "wet brine", Value: "none"}}})
	got := usualDoses(a, arm)
	kinds := []prep.DoseKind{}
	for _, d := range got {
		kinds = append(kinds, d.Kind)
		if err := d.Check(); err != nil {
			t.Errorf("%+v is refused: %v", d, err)
		}
	}
	if fmt.Sprint(kinds) != "[dry brine injection binder rub]" || got[0].Share < 0.0119 || got[0].Share > 0.0121 || got[3].Name != "herb" {
		t.Errorf("the doses are %+v", got)
	}
	a.Held = []trial.Held{{Role: trial.WetBrine, Value: "5 %"}, {Role: trial.DryBrine, Value: "to taste"}}
	if got := usualDoses(a, trial.Arm{Levels: []trial.Level{{Key: trial.None, Value: "none"}}}); len(got) != 1 || got[0].Kind != prep.WetBrine || got[0].Share != 0.025 || got[0].Water != 1 {
		t.Errorf("a 5 %% brine of as much water as meat comes to rest at %+v, want 2.5 %%", got)
	}
}

func TestAnOutlineFitsTheArmsThereAre(t *testing.T) {
	family, _ := thermal.FamilyOf("lambshoulder")
	a := catalogued(trial.Ask{Factors: []trial.Factor{{Name: "wrap"}}, Arms: []trial.Arm{{ID: 1, Levels: trial.Levels("paper")}, {ID: 2, Levels: trial.Levels("none")}}})
	o := UsualOutline(a, family)
	o.Arms[0].Phases[0].Name = "slow smoke"
	a.Arms = []trial.Arm{a.Arms[1], {ID: 3, Levels: []trial.Level{{Key: "foil", Value: "foil"}}}, a.Arms[0]}
	o = o.Fit(a, family)
	if len(o.Arms) != 3 || o.Arms[0].ArmID != 2 || o.Arms[1].ArmID != 3 || o.Arms[2].Phases[0].Name != "slow smoke" {
		t.Errorf("for other arms the outline is %+v", o.Arms)
	}
	if got := sketch(o.Of(3).Phases); !strings.Contains(got, "in foil") {
		t.Errorf("the new arm is %s", got)
	}
	if gone := o.Of(9); len(gone.Phases) != 0 {
		t.Errorf("an arm that is not there has %+v", gone)
	}
}

func TestThePullTargetIsThatOfTheLastPhaseInThePit(t *testing.T) {
	red := trial.Ask{Species: safety.RedMeat}
	smoke := func(ends ...phase.End) phase.Phase { return phase.Phase{Kind: phase.Smoke, Ends: ends} }
	for name, c := range map[string]struct {
		ask    trial.Ask
		phases []phase.Phase
		want   float64
	}{
		"wrapped":             {red, []phase.Phase{smoke(phase.End{Watch: phase.ByCore, Value: 74, Typed: ""}), smoke(phase.End{Watch: phase.ByCore, Value: 96, Typed: ""}), {Kind: phase.Rest, Ends: []phase.End{{Watch: phase.ByCooling, Value: 60, Typed: ""}}}}, 96},
		"by feel":             {red, []phase.Phase{smoke(phase.End{Watch: phase.ByCore, Value: 74, Typed: ""}), smoke(phase.End{Watch: phase.ByFeel})}, 95},
		"core or feel":        {red, []phase.Phase{smoke(phase.End{Watch: phase.ByCore, Value: 93, Typed: ""}, phase.End{Watch: phase.ByFeel})}, 93},
		"poultry by a clock":  {trial.Ask{Species: safety.Poultry}, []phase.Phase{smoke(phase.End{Watch: phase.ByTime, Value: 3600, Typed: ""})}, 175.0/1.8 - 32/1.8},
		"nothing planned yet": {red, nil, 95},
	} {
		if got := Target(c.ask, c.phases); got < c.want-0.01 || got > c.want+0.01 {
			t.Errorf("%s: pulled at %.2f C, want %.2f", name, got, c.want)
		}
	}
}

func TestAWrapsParcelIsReadOutOfWords(t *testing.T) {
	for text, want := range map[string]string{
		"100 ml whey and 45 g tallow": "100 ml whey, 45 g tallow", "whey, 1 spoon syrup": "whey, 1 spoon syrup", "none": "", "": "",
		trial.SameInEveryArm: "",
	} {
		l := trial.Level{Value: text}
		if text == "none" {
			l.Key = trial.None
		}
		if got := logbook.DescribeParcel(parcelSaid(l)); got != want {
			t.Errorf("%q goes in as %q, want %q", text, got, want)
		}
	}
}
