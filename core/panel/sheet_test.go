package panel

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

// sheet asks two attributes on nine points and one that is just about right.
var sheet = Sheet{Format: ByScores, Faults: []string{"sour"}, Attributes: []Attribute{
	{Key: "juiciness", Name: "Juiciness", Scale: Nine, Most: 9}, {Key: "salt_right", Name: "Salt, just right", Scale: Right, Most: 5}}}

func TestASealHoldsWhatTheSheetAsks(t *testing.T) {
	full := map[string]int{"juiciness": 9, "salt_right": 3}
	for _, c := range []struct {
		what string
		in   Marks
		want string // in the refusal; empty is taken
	}{
		{"all answered", Marks{Scores: full, Faults: []string{"sour"}}, ""},
		{"left out", Marks{Excused: true}, ""},
		{"one missing", Marks{Scores: map[string]int{"juiciness": 4}}, "Salt, just right is unanswered"},
		{"six of five", Marks{Scores: map[string]int{"juiciness": 4, "salt_right": 6}}, "tap a number from 1 to 5"},
		{"none of nine", Marks{Scores: map[string]int{"juiciness": 0, "salt_right": 3}}, "0 is not on the rule"},
		{"not asked", Marks{Scores: map[string]int{"juiciness": 4, "salt_right": 3, "rank": 1}}, "that is not asked"},
		{"another word", Marks{Scores: full, Faults: []string{"dull"}}, "is not on the list"},
		{"both", Marks{Scores: full, Excused: true}, "an excused sample has scores"},
	} {
		checkRefusal(t, c.what, sheet.CheckMarks(c.in), c.want)
	}
}

func checkRefusal(t *testing.T, what string, err error, want string) {
	t.Helper()
	switch {
	case want == "" && err != nil:
		t.Errorf("%s: refused with %v", what, err)
	case want != "" && (err == nil || !strings.Contains(err.Error(), want)):
		t.Errorf("%s: refused with %v, want %q", what, err, want)
	}
}

func TestAnAnswerFitsItsFormat(t *testing.T) {
	codes := []string{"418", "265", "903"}
	for _, c := range []struct {
		what   string
		format Format
		choice bool
		in     Answer
		want   string
	}{
		{"a whole ranking", ByRanks, false, Answer{Ranks: map[string]int{"418": 1, "265": 2, "903": 2}}, ""},
		{"a rank missing", ByRanks, false, Answer{Ranks: map[string]int{"418": 1, "265": 2}}, "903 has no rank"},
		{"a fourth of three", ByRanks, false, Answer{Ranks: map[string]int{"418": 1, "265": 2, "903": 4}}, "4 is no rank of 3"},
		{"a stranger ranked", ByRanks, false, Answer{Ranks: map[string]int{"418": 1, "265": 2, "903": 3, "111": 3}}, "111 is not on this plate"},
		{"a ranking that picks", ByRanks, false, Answer{Ranks: map[string]int{"418": 1, "265": 2, "903": 3}, Picked: "418"}, "a ranking picks none"},
		{"the odd one", ByTriangle, false, Answer{Picked: "265"}, ""},
		{"no odd one", ByTriangle, false, Answer{None: true}, "guess if you cannot tell"},
		{"of another plate", ByTriangle, false, Answer{Picked: "777"}, "is not one of them"},
		{"the first of a duo-trio", ByDuoTrio, false, Answer{Picked: "418"}, "pick one of 265 and 903"},
		{"its twin", ByDuoTrio, false, Answer{Picked: "903"}, ""},
		{"neither", ByPreference, false, Answer{None: true}, ""},
		{"neither and one", ByPreference, false, Answer{None: true, Picked: "418"}, "send either"},
		{"a choice with its reason", ByScores, true, Answer{Picked: "418", Reason: "the crust"}, ""},
		{"a choice without", ByScores, true, Answer{Picked: "418", Reason: " "}, "no reason is given"},
		{"a choice nobody asked for", ByScores, false, Answer{Picked: "418", Reason: "so"}, "asks for no choice"},
		{"no more of a second look", ByScores, false, Answer{}, ""},
		{"ranks nobody asked for", ByTriangle, false, Answer{Picked: "265", Ranks: map[string]int{"265": 1}}, "asks for no ranks"},
		{"a novel", ByTriangle, false, Answer{Picked: "265", Reason: strings.Repeat("a", MostReason+1)}, "letters long"},
	} {
		s := Sheet{Format: c.format, Choice: c.choice}
		checkRefusal(t, c.what, s.CheckAnswer(codes, c.in), c.want)
	}
}

func TestWhatIsLookedAtComesFirstAndTheWholeLast(t *testing.T) {
	got := InOrder([]Attribute{{Key: "overall"}, {Key: "bark"}, {Key: "colour", Look: true}, {Key: "juiciness"}}, "overall")
	var keys []string
	for _, a := range got {
		keys = append(keys, a.Key)
	}
	if want := []string{"colour", "bark", "juiciness", "overall"}; !slices.Equal(keys, want) {
		t.Errorf("the ballot asks %v, want %v", keys, want)
	}
}

func TestAFlightIsServedAsItsFormatAllows(t *testing.T) {
	for _, c := range []struct {
		what string
		in   Serving
		want string
	}{
		{"four for scores", Serving{Format: ByScores, Pieces: 4, Duplicate: true, Tasters: 8}, ""},
		{"twelve, six on a plate", Serving{Format: ByScores, Pieces: 12, Tasters: 8}, ""},
		{"thirteen", Serving{Format: ByScores, Pieces: 13, Tasters: 8}, "13 samples"},
		{"seven ranked", Serving{Format: ByRanks, Pieces: 7, Tasters: 8}, "7 samples"},
		{"a triangle of three", Serving{Format: ByTriangle, Pieces: 3, Tasters: 8}, "a Triangle compares 2"},
		{"six and a hidden one", Serving{Format: ByScores, Pieces: 6, Duplicate: true, Tasters: 8}, "7 samples"},
		{"alone, four of each", Serving{Format: ByScores, Pieces: 2, Repeats: 4, Tasters: 1}, ""},
		{"alone, five of each", Serving{Format: ByScores, Pieces: 2, Repeats: 5, Tasters: 1}, "keep to 8"},
		{"repeats for two", Serving{Format: ByScores, Pieces: 2, Repeats: 4, Tasters: 2}, "who is alone"},
		{"a ranking with a duplicate", Serving{Format: ByRanks, Pieces: 4, Duplicate: true, Tasters: 8}, "only scores take"},
		{"no format", Serving{Format: "", Pieces: 2, Tasters: 8}, "is no format"},
	} {
		checkRefusal(t, c.what, c.in.Check(), c.want)
	}
}

// TestPlatesAreBalanced counts, over many seeds, where each sample stands.
func TestPlatesAreBalanced(t *testing.T) {
	for seed := range uint64(20) {
		r := rand.New(rand.NewPCG(seed, 7))
		odd := map[[2]int]int{} // which piece is alone, and where
		for _, order := range (Serving{Format: ByTriangle, Pieces: 2, Tasters: 12}).Lay(r).Orders {
			for at, s := range order {
				alone := true
				for other, o := range order {
					alone = alone && (other == at || o/2 != s/2)
				}
				if alone {
					odd[[2]int{s / 2, at}]++
				}
			}
		}
		for piece := range 2 {
			for at := range 3 {
				if odd[[2]int{piece, at}] != 2 {
					t.Fatalf("seed %d: over twelve triangles piece %d is the odd one at place %d %d times, want 2", seed, piece, at, odd[[2]int{piece, at}])
				}
			}
		}
		for _, order := range (Serving{Format: ByDuoTrio, Pieces: 2, Tasters: 8}).Lay(r).Orders {
			if order[1]/2 == order[2]/2 || order[0]/2 != order[1]/2 && order[0]/2 != order[2]/2 {
				t.Fatalf("seed %d: a duo-trio is %v; want the first, its twin and the other", seed, order)
			}
		}
		laid := (Serving{Format: ByScores, Pieces: 4, Duplicate: true, WarmUp: true, Tasters: 10}).Lay(r)
		if len(laid.Samples) != 6 || laid.WarmUp != 5 || laid.Samples[5] != -1 {
			t.Fatalf("four with a hidden one and a warm-up are laid as %+v", laid)
		}
		for _, o := range laid.Orders {
			if o[0] != laid.WarmUp || len(o) != 6 {
				t.Fatalf("a plate is %v; want the warm-up first", o)
			}
		}
		places := map[[2]int]int{}
		for _, o := range (Serving{Format: ByScores, Pieces: 10, Tasters: 10}).Lay(r).Orders {
			if len(o) != MostSamples {
				t.Fatalf("of ten samples a plate holds %d, want %d", len(o), MostSamples)
			}
			for at, s := range o {
				places[[2]int{s, at}]++
			}
		}
		for s := range 10 {
			for at := range MostSamples {
				if places[[2]int{s, at}] != 1 {
					t.Fatalf("seed %d: ten tasters have sample %d at place %d %d times, want once", seed, s, at, places[[2]int{s, at}])
				}
			}
		}
	}
}

// TestWhoComesLateEvensItOut takes the last rows of a design away and gives them to late-comers.
func TestWhoComesLateEvensItOut(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	served := Williams(4)[:2]
	for range 2 {
		served = append(served, (Serving{Format: ByScores}).LateOrder(r, 4, served))
	}
	for _, o := range served {
		for i := range o {
			o[i]++
		}
	}
	check, err := CheckOrders(OrdersInput{Samples: 4, Orders: served})
	if err != nil || check.PositionSpread != 0 || check.NeighbourSpread != 0 {
		t.Errorf("with two late-comers the plates are %v: spread %d by place, %d by neighbour (%v); want none", served, check.PositionSpread,
			check.NeighbourSpread, err)
	}
}
