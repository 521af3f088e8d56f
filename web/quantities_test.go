package web

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"whitebarn/internal/testkit/script"
)

// noon is a moment at which nothing in particular happens.
var noon = time.Date(2026, 9, 19, 12, 0, 0, 0, time.UTC)

// as lets a page be read by somebody: their units, clocks and mark, in the barn's zone.
func as(p *script.Page, temperatures, weights, hours, mark, zone string) {
	p.Give("who", map[string]string{"temperatures": temperatures, "weights": weights, "hours": hours, "mark": mark, "zone": zone})
	p.Run("m.readAs(who)")
}

func TestWhatIsTypedBareGetsTheUnitShown(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/reader", "ui/units")
	for _, c := range []struct{ temperatures, weights, read, typed, want string }{
		{"F", "lb", "withTemperatureUnit", "165", "165 F"},
		{"C", "kg", "withTemperatureUnit", " 74,5 ", "74,5 C"},
		{"F", "lb", "withTemperatureUnit", "74 C", "74 C"},
		{"F", "lb", "withWeightUnit", "6 3", "6 lb 3 oz"},
		{"F", "lb", "withWeightUnit", "6 3 1/2", "6 lb 3 1/2 oz"},
		{"F", "lb", "withWeightUnit", "6*3.5", "6 lb 3.5 oz"}, // a number pad has no space
		{"F", "lb", "withWeightUnit", "6.22", "6.22 lb"},
		{"F", "lb", "withWeightUnit", "2820 g", "2820 g"},
		{"C", "kg", "withWeightUnit", "2,82", "2,82 kg"},
		{"C", "kg", "withWeightUnit", "6 3", "6 3"}, // two numbers are no kilograms: the barn asks
		{"F", "lb", "withLengthUnit", "2 3/8", "2 3/8 in"},
		{"C", "kg", "withLengthUnit", "60", "60 mm"},
		{"C", "kg", "withLengthUnit", "", ""},
		{"F", "lb", "withLengthUnit", "6 cm", "6 cm"},
	} {
		as(p, c.temperatures, c.weights, "24", ".", "UTC")
		p.Give("typed", c.typed)
		if got := script.Ask[string](p, "m."+c.read+"(typed)"); got != c.want {
			t.Errorf("%s of %q, shown in %s and %s, is %q, want %q", c.read, c.typed, c.temperatures, c.weights, got, c.want)
		}
	}
}

func TestQuantitiesAreShownAsTheirReaderHasThem(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/reader", "ui/units", "prep/dose", "bench/value")
	for _, c := range []struct{ temperatures, weights, mark, js, want string }{
		{"F", "lb", ".", "m.temperature(73.888)", "165 F"},
		{"C", "kg", ",", "m.temperature(73.888, 1)", "73,9 C"},
		{"F", "lb", ".", "m.difference(5)", "9.0 F"}, // without the 32
		{"F", "lb", ".", "m.difference(10)", "18 F"},
		{"F", "lb", ".", "m.weight(2.820925)", "6 lb 3.5 oz"},
		{"F", "lb", ".", "m.weight(0.1)", "3.5 oz"},
		{"C", "kg", ",", "m.weight(2.82)", "2,820 kg"},
		{"C", "kg", ".", "m.weight(0.0994)", "99 g"},
		{"F", "lb", ".", "m.weight(2.7215)", "6 lb 0 oz"}, // not 5 lb 16 oz
		{"F", "lb", ".", "m.shortWeight(2.7215)", "6 lb 0"},
		{"F", "lb", ".", "m.fraction(0.009525)", "3/8 in"},
		{"F", "lb", ".", "m.fraction(0)", "0 in"},
		{"F", "lb", ".", "m.length(0.0762)", "3.0 in"},
		{"F", "lb", ".", "m.weightDifference(-0.05)", "1.8 oz"},
		{"F", "lb", ".", "m.signed(-1.25, 2)", "−1.25"},
		{"F", "lb", ".", "m.signed(0, 0)", "0"},
		{"F", "lb", ".", "m.typedWeight({kg: 2.82, typed: '6 lb 3 1/2 oz'})", "6 lb 3 1/2 oz"},
		{"C", "kg", ".", "m.typedWeight({kg: 2.82, typed: '6 lb 3 1/2 oz'})", "2.820 kg"},
		{"C", "lb", ".", "m.typedTemperature({c: 95, typed: '203 F'})", "95 C"},
		{"F", "kg", ".", "m.typedTemperature({c: 95, typed: '203 F'})", "203 F"},
		{"F", "lb", ".", "m.sentence('{C:93.3} lost {kg:0.5}, {dC:5} over, {m:0.0508} thick')", "200 F lost 1 lb 1.75 oz, 9.0 F over, 2.0 in thick"},
		{"C", "kg", ",", "m.sentence('{C:-1.5}')", "-2 C"},
		{"F", "lb", ".", "m.grams(19.96)", "20.0 g"},
		{"F", "lb", ".", "m.grams(1500)", "3.31 lb"},
		{"C", "kg", ".", "m.grams(1500)", "1500 g"},
		{"F", "lb", ".", "m.figure({value: 9, unit: 'tsp'})", "3.0 tbsp"},
		{"F", "lb", ".", "m.read(null)", "–"},
		{"F", "lb", ".", "m.read(0.000012346)", "0.00001235"},
		{"F", "lb", ".", "m.read(12.34567)", "12.35"},
	} {
		as(p, c.temperatures, c.weights, "24", c.mark, "UTC")
		if got := script.Ask[string](p, c.js); got != c.want {
			t.Errorf("%s for a reader of %s, %s and %q is %q, want %q", c.js, c.temperatures, c.weights, c.mark, got, c.want)
		}
	}
}

// A field shows what a calculation has, and gives back what it showed.
func TestFieldsOfTheBenchGiveBackWhatTheyShowed(t *testing.T) {
	t.Parallel()
	p := script.Load(t, noon, "ui/reader", "bench/value")
	as(p, "F", "lb", "24", ".", "UTC")
	random := rand.New(rand.NewPCG(33, 1))
	for range 500 {
		unit, v := []string{"C", "kg", "cm", "cm2", "g", ""}[random.IntN(6)], random.Float64()*300
		got := script.Ask[float64](p, fmt.Sprintf("m.fromShown('%s', m.toShown('%s', %v))", unit, unit, v))
		if math.Abs(got-v) > 1e-4*(v+20) {
			t.Errorf("%v %s comes back as %v", v, unit, got)
		}
	}
	if got := script.Ask[float64](p, "m.toShown('C', 121)"); got != 249.8 {
		t.Errorf("121 C is shown as %v F, want 249.8", got)
	}
	as(p, "C", "kg", "24", ".", "UTC")
	if got := script.Ask[float64](p, "m.toShown('C', 121)"); got != 121 {
		t.Errorf("121 C is shown as %v to a reader of C", got)
	}
}
