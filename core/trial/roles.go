package trial

import (
	"slices"
	"strings"

	"whitebarn/core/logbook"
)

// Role is what a factor, or something held equal, is to the rules. What a team
// calls it is its own; the rules go by the role. Empty is a thing of the team's
// own, of which the rules know nothing.
type Role string

// The roles.
const (
	SmokerSetUp     Role = "smoker_set_up"
	WaterPan        Role = "water_pan"
	PitTemperature  Role = "pit_temperature"
	FuelKind        Role = "fuel"
	Lighting        Role = "lighting"
	Wood            Role = "wood"
	WoodForm        Role = "wood_form"
	WoodAmount      Role = "wood_amount"
	Wrap            Role = "wrap"
	WrapWhen        Role = "wrap_when"
	WrapLiquid      Role = "wrap_liquid"
	Spritz          Role = "spritz"
	Mop             Role = "mop"
	Injection       Role = "injection"
	WetBrine        Role = "wet_brine"
	DryBrine        Role = "dry_brine"
	Rub             Role = "rub"
	Binder          Role = "binder"
	Trim            Role = "trim"
	Membrane        Role = "membrane"
	Skin            Role = "skin"
	Shape           Role = "shape"
	FatSide         Role = "fat_side"
	Slicing         Role = "slicing"
	Finish          Role = "finish"
	PullTemperature Role = "pull_temperature"
	HoldTemperature Role = "hold_temperature"
	HoldTime        Role = "hold_time"
	HolderKind      Role = "holder"
	RestTime        Role = "rest_time"
	Crisping        Role = "crisping"
	Sauce           Role = "sauce"
	ServingAge      Role = "serving_age"
	Tenderising     Role = "tenderising"
)

// Values lists the roles; the first is a team's own thing.
func (Role) Values() []string {
	return []string{"", string(SmokerSetUp), string(WaterPan), string(PitTemperature), string(FuelKind), string(Lighting), string(Wood), string(WoodForm), string(WoodAmount),
		string(Wrap), string(WrapWhen), string(WrapLiquid), string(Spritz), string(Mop), string(Injection), string(WetBrine), string(DryBrine), string(Rub), string(Binder),
		string(Trim), string(Membrane), string(Skin), string(Shape), string(FatSide), string(Slicing), string(Finish), string(PullTemperature), string(HoldTemperature),
		string(HoldTime), string(HolderKind), string(RestTime), string(Crisping), string(Sauce), string(ServingAge), string(Tenderising)}
}

// afterPull are the roles of what happens between the pull and the plate.
var afterPull = []Role{HoldTemperature, HoldTime, HolderKind, RestTime, ServingAge}

// HoldsVary says whether a hold, a rest or the age at serving is what is asked
// about; else they are promised to be alike in every arm.
func (a Ask) HoldsVary() bool {
	return slices.ContainsFunc(a.Factors, func(f Factor) bool { return slices.Contains(afterPull, f.Role) })
}

// Varies says whether a role is what is asked about.
func (a Ask) Varies(r Role) bool {
	return slices.ContainsFunc(a.Factors, func(f Factor) bool { return f.Role == r })
}

// Level is what a factor is set to in an arm: a row of the barn's catalogue.
type Level struct {
	ID    int64  `json:"id"`    // in the catalogue; 0 while it is new
	Key   string `json:"key"`   // what the rules take it for; empty is the team's own
	Value string `json:"value"` // as it was asked with
}

// Levels are levels in words alone, as they are typed.
func Levels(values ...string) []Level {
	out := make([]Level, len(values))
	for i, v := range values {
		out[i].Value = v
	}
	return out
}

// None is the key of a level at which nothing is done.
const None = "none"

// Nothing says whether nothing is done at this level.
func (l Level) Nothing() bool { return l.Key == None || l.Value == "" }

// Keys of levels that the rules go by, besides None and the wraps of the cook model.
const (
	WhenBark        = "bark"    // wrapped once the bark is set
	WhenReached     = "reached" // at the temperature or after the time that is named
	Hourly          = "hourly"  // spritzed
	Every           = "every"   // so often as is named
	ToFeel          = "feel"    // cooked until it feels tender
	ToTemperature   = "core"    // until a temperature
	EarlyAndHeld    = "early"   // pulled early and held long
	Whole           = "whole"   // of the shape: nothing that safety asks about
	Rolled          = "rolled"  // boned and rolled: the outside is inside
	Minced          = "minced"
	wrapKeysOfSmoke = "none paper perfpaper foil foilliquid pan boat"

	// How it is cooked, or crisped, other than in a smoker.
	OnGriddle  = "griddle"
	OverCoals  = "coals"
	InOil      = "oil"
	UnderBroil = "broiler"
	InOven     = "oven"
	ByTorch    = "torch"
)

// LevelKeys are the keys a level of a role may have; none where the rules do
// not go by it.
func LevelKeys(r Role) []string {
	switch r {
	case Wrap:
		return strings.Fields(wrapKeysOfSmoke)
	case WrapWhen:
		return []string{WhenReached, WhenBark}
	case Spritz:
		return []string{None, Hourly, Every}
	case Finish:
		return []string{ToFeel, ToTemperature, EarlyAndHeld}
	case Shape:
		return []string{Whole, Rolled, Minced}
	case SmokerSetUp:
		return []string{OnGriddle, OverCoals, InOil, UnderBroil, InOven}
	case Crisping:
		return []string{None, OnGriddle, OverCoals, InOil, UnderBroil, InOven, ByTorch}
	case WaterPan, WrapLiquid, Mop, Injection, WetBrine, DryBrine, Binder, Skin, Sauce, Tenderising:
		return []string{None}
	}
	return nil
}

// LevelName is what a key of a level is called.
func LevelName(r Role, key string) string {
	if r == Wrap {
		return logbook.Material(key).Word()
	}
	return map[string]string{
		None: "nothing", WhenBark: "when the bark is set", WhenReached: "at the temperature or time it names", Hourly: "every hour", Every: "as often as it says",
		Whole: "in one piece, or cut apart", Rolled: "boned and rolled", Minced: "minced", ToFeel: "to feel", ToTemperature: "to a temperature",
		EarlyAndHeld: "pulled early and held long", OnGriddle: "on a griddle", OverCoals: "over open coals", InOil: "in hot oil",
		UnderBroil: "under a broiler",
		InOven:     "in an oven", ByTorch: "with a torch",
	}[key]
}

// Said is what a trial says of a role in an arm: the arm's own level, or what
// is held equal. The value carries the unit of a number.
func (a Ask) Said(arm Arm, roles ...Role) Level {
	for _, r := range roles {
		for i, f := range a.Factors {
			if f.Role == r && i < len(arm.Levels) {
				l := arm.Levels[i]
				l.Value = strings.TrimSpace(l.Value + " " + f.Unit)
				return l
			}
		}
		for _, h := range a.Held {
			if h.Role == r {
				return Level{Key: h.Key, Value: h.Value}
			}
		}
	}
	return Level{}
}
