package pit

import (
	"strings"
	"testing"

	"whitebarn/core/humidity"
)

// ranOff is a burn whose points ran so far off set, by name.
func ranOff(off map[string]float64) (t Told) {
	for _, name := range []string{"fire end", "middle", "far end", "B2", "C3", "dial"} {
		if v, ok := off[name]; ok {
			t.Points = append(t.Points, Ran{Point: name, Place: PlaceOf(name), OffC: &v})
		}
	}
	return t
}

func TestTheMapGivesEveryPlaceItsHeat(t *testing.T) {
	got := MapOf([]Told{ranOff(map[string]float64{"fire end": 14, "far end": -4, "dial": 60}),
		ranOff(map[string]float64{"fire end": 10, "far end": -2, "C3": 1})}, 4, 3)
	if len(got) != 12 {
		t.Fatalf("a grate of 4 by 3 has %d places", len(got))
	}
	of := map[string]Spot{}
	for _, s := range got {
		of[s.Name] = s
	}
	for _, want := range []struct {
		place string
		off   float64
		read  bool
		near  bool
	}{
		{"A2", 12, true, false}, // the ends lie in the middle row
		{"D2", -3, true, false},
		{"A1", 12, false, false},
		{"C3", 1, true, true}, // a probe lay there in one of the burns
		{"C1", 1, false, true},
		{"B1", 6.5, false, false}, // half way from A to C
	} {
		s := of[want.place]
		near(t, want.place, s.OffC, want.off, 1e-9)
		if s.Read != want.read || s.Near != want.near {
			t.Errorf("%s is read %v, near set %v", want.place, s.Read, s.Near)
		}
	}
	for _, s := range MapOf([]Told{ranOff(map[string]float64{"dial": 30})}, 2, 1) {
		if s.OffC != nil {
			t.Errorf("the dial alone makes %s %g off", s.Name, *s.OffC)
		}
	}
	if one := MapOf([]Told{ranOff(map[string]float64{"middle": 2})}, 1, 1); !one[0].Read || !one[0].Near {
		t.Errorf("a grate of one place is %+v", one)
	}
}

func TestPointsAreKnownByName(t *testing.T) {
	for point, want := range map[string]Place{"dial": Dial, "wet bulb": WetBulb, "fire end": Grate, "": Grate, "C2": Grate,
		"under the hook": Grate} {
		if got := PlaceOf(point); got != want {
			t.Errorf("a probe at %q measures the %s", point, got)
		}
	}
	if !IsMiddle("") || !IsMiddle("middle") || IsMiddle("C2") {
		t.Error("the middle is another point")
	}
}

func TestTheWetBulbIsNoHeatOfThePit(t *testing.T) {
	b := burn()
	wet := b.Traces[1]
	wet.Point, wet.Place, wet.Middle = "wet bulb", WetBulb, false
	wet.Readings = nil
	for m := range 81 {
		wet.Readings = append(wet.Readings, Elapsed{float64(60 * m), 62})
	}
	b.Traces, b.Pressure = append(b.Traces, wet), 975
	got, err := Tell(b)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "the wet bulb", got.WetBulbC, 62, 1e-9)
	near(t, "the spread", got.SpreadC, 10, 1e-9)
	if len(got.Points) != 4 || got.Places != 3 {
		t.Errorf("%d points, %d places", len(got.Points), got.Places)
	}
	air, err := humidity.OfBulbs(*got.Points[1].MeanC, 62, 97500)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "the humidity", got.RH, air.RH, 1e-9)
	b.Traces[4].Readings = shiftedBy(b.Traces[1].Readings, 3) // a dry wick reads over the air
	if got, _ = Tell(b); got.RH != nil || got.WetBulbC == nil {
		t.Errorf("a wick over the air has humidity %v", got.RH)
	}
	b.Pressure = 97500
	if _, err = Tell(b); err == nil || !strings.Contains(err.Error(), "300 to 1200 hPa") {
		t.Errorf("a pressure in Pa is %v", err)
	}
}

func shiftedBy(in []Elapsed, c float64) (out []Elapsed) {
	for _, r := range in {
		out = append(out, Elapsed{r.S, r.C + c})
	}
	return out
}

func TestAnAdditionIsSaidInWords(t *testing.T) {
	b := burn()
	b.Additions[1].With, b.Additions[1].Pieces = "splits", 1
	got, err := Tell(b)
	if err != nil {
		t.Fatal(err)
	}
	if got.Responses[0].Words != "still warming: not read" || got.Responses[1].Words != "one split held it 14 min" {
		t.Errorf("they are said as %q and %q", got.Responses[0].Words, got.Responses[1].Words)
	}
	b.Additions[1].Pieces = 2
	b.Additions = append(b.Additions, Addition{S: 50 * 60, What: "fuel"})
	got, _ = Tell(b)
	if got.Responses[1].Words != "2 splits held it 10 min or more" {
		t.Errorf("two, cut short, are said as %q", got.Responses[1].Words)
	}
	if !strings.HasPrefix(got.Responses[2].Words, "fuel held it") {
		t.Errorf("fuel is said as %q", got.Responses[2].Words)
	}
}

func TestASetUpAloneIsJudgedToo(t *testing.T) {
	short := burn()
	for i := range short.Traces {
		short.Traces[i].Readings = short.Traces[i].Readings[:61]
	}
	j, err := Alone(SetUp{Tag: "TROUGH", Burns: []Burn{burn(), short}})
	if err != nil {
		t.Fatal(err)
	}
	if j.Told[0].ToMin != 60 || j.Told[1].ToMin != 60 {
		t.Errorf("burns of 80 and 60 min are read to %g and %g", j.Told[0].ToMin, j.Told[1].ToMin)
	}
	if s := j.Sentence(); !strings.HasPrefix(s, "TROUGH: ") || !strings.Contains(s, "hot in 23 min, {dC:10.0} across") {
		t.Errorf("the sentence is %q", s)
	}
	if _, err := Alone(SetUp{Tag: "DRY"}); err == nil {
		t.Error("a set-up without a burn is judged")
	}
}
