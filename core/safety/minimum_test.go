package safety

import "testing"

func TestGateBeforeTheTable(t *testing.T) {
	at := func(f float64) *float64 { c := (f - 32) / 1.8; return &c }
	for _, c := range []struct {
		name    string
		meat    Meat
		reached *float64
		reason  string
		finding Finding
		serve   bool
	}{
		{"lamb well past", Meat{RedMeat, Intact}, at(203), "", Met, true},
		{"lamb exactly at the line", Meat{RedMeat, Intact}, at(145), "", Met, true},
		{"lamb below, no reason", Meat{RedMeat, Intact}, at(140), "", Below, false},
		{"lamb below, with a reason", Meat{RedMeat, Intact}, at(140), "eaters chose it", Below, true},
		{"lamb never read", Meat{RedMeat, Intact}, nil, "", NotShown, false},
		{"lamb never read, with a reason", Meat{RedMeat, Intact}, nil, "probe-tender after 9 h", NotShown, true},
		{"duck below, with a reason", Meat{Poultry, Intact}, at(160), "looked done", Below, false},
		{"duck never read, with a reason", Meat{Poultry, Intact}, nil, "looked done", NotShown, false},
		{"duck met", Meat{Poultry, Intact}, at(165), "", Met, true},
		{"minced lamb below", Meat{RedMeat, Minced}, at(155), "why not", Below, false},
		{"injected lamb below", Meat{RedMeat, Pierced}, at(150), "why not", Below, false},
		{"fish met", Meat{Fish, Intact}, at(146), "", Met, true},
	} {
		m, err := MinimumOf(c.meat)
		if err != nil {
			t.Fatal(err)
		}
		f := m.Judge(c.reached)
		if f != c.finding || m.MayServe(f, c.reason) != c.serve {
			t.Errorf("%s: %s, served %v; want %s, %v", c.name, f, m.MayServe(f, c.reason), c.finding, c.serve)
		}
	}
}
