package evidence

import "whitebarn/core/yield"

// Account is what the weighings of a cut tell; of a divided one its parts are added up.
func (t Trial) Account(c Cut) yield.Account {
	var parts [][]yield.Weighing
	for _, p := range t.Cuts {
		if p.ParentID == c.ID {
			parts = append(parts, p.Weighings)
		}
	}
	if len(parts) > 0 {
		return yield.SettleParts(c.Weighings, parts)
	}
	return yield.Settle(c.Weighings)
}

// ArmAccount is the account of all cuts of an arm together: what came out over what
// went in, and not the mean of shares, in which a small cut weighs as much as a large
// one. Parts of one cut add up before. A cut that was not weighed at both ends of a
// share is left out of it.
func (t Trial) ArmAccount(arm int) yield.Account {
	var of [][]yield.Weighing
	for _, c := range t.Cuts {
		if t.Arm(c.ArmID) == arm {
			of = append(of, c.Weighings)
		}
	}
	return yield.SettleParts(nil, of)
}
