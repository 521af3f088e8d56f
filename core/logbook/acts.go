package logbook

import "slices"

// Act is a kind of event.
type Act string

// What a hand can log at the fire.
const (
	Lit    Act = "lit"
	On     Act = "on" // on the grate: the cook of a cut begins
	Spritz Act = "spritz"
	Wrap   Act = "wrap"
	Unwrap Act = "unwrap"
	Wood   Act = "wood"
	Fuel   Act = "fuel"
	Lid    Act = "lid"
	Vent   Act = "vent"
	Move   Act = "move" // to another place, pit or holder
	Probe  Act = "probe"
	Note   Act = "note"
	Pull   Act = "pull" // off the pit: the cook of a cut ends
	Hold   Act = "hold"
	Carve  Act = "carve"
	Water  Act = "water" // to the pan or trough of a pit
	Bark   Act = "bark"  // a look at it
	Spot   Act = "spot"  // a reading of something other than a core
	Photo  Act = "photo"
	Out    Act = "out"   // of the fridge
	Chill  Act = "chill" // into the fridge, or back into it
	Set    Act = "set"   // the pit to another set point
	Rub    Act = "rub"
	Sauce  Act = "sauce" // sauce or glaze
	Baste  Act = "baste"
	Flip   Act = "flip"
	Turn   Act = "turn"   // a quarter or a half, on its place
	Rotate Act = "rotate" // end for end
	Sear   Act = "sear"
	Crisp  Act = "crisp"
	Torch  Act = "torch"
	Fry    Act = "fry" // into the oil
	Broil  Act = "broil"
	Reheat Act = "reheat"
	Rescue Act = "rescue" // what was done about what went wrong, with how it was before and after
	Other  Act = "other"  // of an earlier record, which had no key for it
)

// Pad is where an act is pressed.
type Pad string

// The pads at hand, those behind More, and none.
const (
	PadFirst Pad = "first"
	PadMore  Pad = "more"
	PadNone  Pad = "none"
)

// Values lists the pads.
func (Pad) Values() []string { return []string{string(PadFirst), string(PadMore), string(PadNone)} }

// Group is what an act is done for; the pads behind More stand by it.
type Group string

// The groups.
const (
	ToPit   Group = "pit"
	ToMeat  Group = "meat"
	ByHeat  Group = "finish" // more heat, for a crust or to serve
	ToRest  Group = "rest"
	ToWrite Group = "note"
)

// Values lists the groups.
func (Group) Values() []string {
	return []string{string(ToPit), string(ToMeat), string(ByHeat), string(ToRest), string(ToWrite)}
}

// ActRow is all that is known of an act: one row here is all that a new act needs
// of the core. Minutes are what it takes a pair of hands, by itself and for each
// cut (ours); an act taken in passing says so.
type ActRow struct {
	Act       Act      `json:"act"`
	Name      string   `json:"name"`
	Letter    string   `json:"letter"` // the key, the pad and the flag in the lane
	Pad       Pad      `json:"pad"`
	InHand    bool     `json:"in_hand"` // its pad has a place on a screen in the hand
	Group     Group    `json:"group"`
	OfPit     bool     `json:"of_pit"`     // done to a pit and not to a cut
	Says      []string `json:"says"`       // fields of its detail, in the order they are asked
	AsksFirst bool     `json:"asks_first"` // it says nothing without a word or a number
	Begins    string   `json:"begins"`     // the stretch of a cut's day that begins with it
	Rested    string   `json:"rested"`     // and what begins with it once the cut was pulled; empty is the same
	Ends      bool     `json:"ends"`       // the last stretch ends with it
	Minutes   float64  `json:"-"`
	PerCut    float64  `json:"-"`
	InPassing bool     `json:"-"`
	Many      bool     `json:"-"` // the same twice at once is no clash of two hands
	OnFire    bool     `json:"-"` // it is done to what is on the fire; elsewhere it is asked about
	Turns     bool     `json:"-"` // it turns the course of a piece: hours before its time it is asked about
	Caution   Caution  `json:"caution"`
}

// rows are the acts, in the order of a cook; pads are shown in this order.
var rows = []ActRow{
	{Act: Lit, Name: "Lit", Letter: "F", Pad: PadFirst, Group: ToPit, OfPit: true, Says: []string{"with", "pieces", "unlit", "weight"},
		Minutes: 20, Caution: coals},
	{Act: On, Turns: true, Name: "On", Letter: "O", Pad: PadFirst, Group: ToMeat, Says: []string{"out_min", "lies", "to"}, Begins: "smoke", Minutes: 3,
		PerCut: 1},
	{Act: Spritz, Name: "Spritz", Letter: "S", Pad: PadFirst, InHand: true, Group: ToMeat, Says: []string{"with", "amount"}, Minutes: 1, PerCut: 0.5,
		OnFire: true},
	{Act: Wood, Name: "Wood", Letter: "A", Pad: PadFirst, InHand: true, Group: ToPit, OfPit: true, Says: []string{"pieces", "with", "weight"}, Minutes: 3},
	{Act: Lid, Name: "Lid", Letter: "L", Pad: PadFirst, Group: ToPit, OfPit: true, Minutes: 1},
	{Act: Wrap, Turns: true, Name: "Wrap", Letter: "W", Pad: PadFirst, InHand: true, Group: ToMeat, Says: []string{"wrap", "with", "parcel"}, Begins: "wrapped",
		Rested: "wrapped to hold", Minutes: 2, PerCut: 3},
	{Act: Probe, Name: "Read", Letter: "R", Pad: PadFirst, InHand: true, Group: ToMeat, Says: []string{"read", "read_n", "place", "feel", "signs"}, AsksFirst: true,
		Minutes: 1, PerCut: 0.5, Many: true},
	{Act: Pull, Turns: true, Name: "Pull", Letter: "P", Pad: PadFirst, InHand: true, Group: ToRest, Begins: "rest", Minutes: 2, PerCut: 1},
	{Act: Note, Name: "Note", Letter: "N", Pad: PadFirst, Group: ToWrite, Says: []string{"air", "wind", "sun", "rain"}, AsksFirst: true,
		InPassing: true, Many: true},
	{Act: Set, Name: "Set to", Letter: "St", Pad: PadMore, Group: ToPit, OfPit: true, Says: []string{"set"}, AsksFirst: true, Minutes: 2},
	{Act: Fuel, Name: "Fuel", Letter: "E", Pad: PadMore, Group: ToPit, OfPit: true, Says: []string{"pieces", "with", "weight"}, Minutes: 5},
	{Act: Vent, Name: "Vent", Letter: "V", Pad: PadMore, Group: ToPit, OfPit: true, Says: []string{"damper", "open"}, Minutes: 1},
	{Act: Water, Name: "Water", Letter: "D", Pad: PadMore, Group: ToPit, OfPit: true, Says: []string{"with", "amount"}, Minutes: 3},
	{Act: Spot, Name: "Spot read", Letter: "T", Pad: PadMore, Group: ToPit, OfPit: true, Says: []string{"of", "read"}, AsksFirst: true,
		Minutes: 1, Many: true},
	{Act: Unwrap, Turns: true, Name: "Unwrap", Letter: "Z", Pad: PadMore, Group: ToMeat, Begins: "smoke", Rested: "rest", Minutes: 2, PerCut: 1},
	{Act: Move, Name: "Move", Letter: "M", Pad: PadMore, Group: ToMeat, Says: []string{"run_id", "to", "lies"}, AsksFirst: true, Minutes: 1,
		PerCut: 1},
	{Act: Flip, Name: "Flip", Letter: "Fl", Pad: PadMore, Group: ToMeat, Says: []string{"lies"}, Minutes: 1, PerCut: 0.5, OnFire: true},
	{Act: Turn, Name: "Turn", Letter: "Tu", Pad: PadMore, Group: ToMeat, Says: []string{"lies"}, Minutes: 1, PerCut: 0.5, OnFire: true},
	{Act: Rotate, Name: "End for end", Letter: "Ro", Pad: PadMore, Group: ToMeat, Says: []string{"lies"}, Minutes: 1, PerCut: 0.5,
		OnFire: true},
	{Act: Baste, Name: "Baste", Letter: "Ba", Pad: PadMore, Group: ToMeat, Says: []string{"with", "amount"}, Minutes: 1, PerCut: 0.5},
	{Act: Rub, Name: "Rub", Letter: "Ru", Pad: PadMore, Group: ToMeat, Says: []string{"with", "amount"}, Minutes: 1, PerCut: 1},
	{Act: Sauce, Name: "Sauce or glaze", Letter: "Sa", Pad: PadMore, Group: ToMeat, Says: []string{"with", "amount"}, Minutes: 1, PerCut: 1},
	{Act: Bark, Name: "Bark", Letter: "B", Pad: PadMore, Group: ToMeat, Says: []string{"look"}, Minutes: 1, PerCut: 0.25},
	{Act: Sear, Name: "Sear", Letter: "Se", Pad: PadMore, Group: ByHeat, Says: []string{"with", "read"}, Begins: "sear", Minutes: 5,
		PerCut: 3, Caution: coals},
	{Act: Crisp, Name: "Crisp", Letter: "Cr", Pad: PadMore, Group: ByHeat, Says: []string{"with", "read"}, Begins: "crisp", Minutes: 4,
		PerCut: 2},
	{Act: Torch, Name: "Torch", Letter: "To", Pad: PadMore, Group: ByHeat, Begins: "torch", Minutes: 2, PerCut: 2, Caution: torches},
	{Act: Fry, Name: "Fry", Letter: "Fr", Pad: PadMore, Group: ByHeat, Says: []string{"with", "read"}, Begins: "fry", Minutes: 10, PerCut: 4,
		Caution: oil},
	{Act: Broil, Name: "Broil", Letter: "Br", Pad: PadMore, Group: ByHeat, Says: []string{"with", "read"}, Begins: "broil", Minutes: 4,
		PerCut: 2},
	{Act: Reheat, Name: "Reheat", Letter: "Re", Pad: PadMore, Group: ByHeat, Says: []string{"with"}, Begins: "reheat", Minutes: 3, PerCut: 1},
	{Act: Out, Name: "Out of fridge", Letter: "U", Pad: PadMore, Group: ToRest, InPassing: true},
	{Act: Chill, Name: "Chill", Letter: "K", Pad: PadMore, Group: ToRest, Says: []string{"with"}, Rested: "chill", Minutes: 1, PerCut: 0.5},
	{Act: Hold, Name: "Hold", Letter: "H", Pad: PadMore, Group: ToRest, Says: []string{"holder_id", "with"}, Begins: "hold", Minutes: 1,
		PerCut: 0.5},
	{Act: Carve, Turns: true, Name: "Slice", Letter: "C", Pad: PadMore, Group: ToRest, Ends: true, Minutes: 5, PerCut: 2},
	{Act: Rescue, Name: "Rescue", Letter: "Rs", Pad: PadMore, Group: ToWrite, Says: []string{"with", "before", "after"}, AsksFirst: true,
		Minutes: 5, PerCut: 2},
	{Act: Photo, Name: "Photo", Letter: "J", Pad: PadMore, Group: ToWrite, Says: []string{"photo_id"}, InPassing: true, Many: true},
	{Act: Other, Name: "Other", Letter: "?", Pad: PadNone, Group: ToWrite, InPassing: true},
}

// Rows lists the acts.
func Rows() []ActRow { return slices.Clone(rows) }

// Row is what is known of an act; ok is false where it is none.
func (a Act) Row() (ActRow, bool) {
	for _, r := range rows {
		if r.Act == a {
			return r, true
		}
	}
	return ActRow{}, false
}

// Values lists the acts.
func (Act) Values() []string {
	out := make([]string, len(rows))
	for i, r := range rows {
		out[i] = string(r.Act)
	}
	return out
}

// OfPit says whether the act is done to a pit and not to a cut.
func (a Act) OfPit() bool {
	r, _ := a.Row()
	return r.OfPit
}

// Takes is how many minutes an act on so many cuts takes a pair of hands.
func (a Act) Takes(cuts int) float64 {
	r, _ := a.Row()
	return r.Minutes + r.PerCut*float64(cuts)
}
