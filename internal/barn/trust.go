package barn

import (
	"slices"

	"whitebarn/internal/store"
)

// trusted is what a trust lets somebody do, for a refusal.
var trusted = map[store.Trust]string{
	store.TrustArms: "draw, divide and move cuts between arms", store.TrustPits: "change pits and holders", store.TrustPantry: "change the pantry",
}

// MayWith refuses what the pitmaster does, and those of the crew whom he trusts with it.
func MayWith(p store.Person, t store.Trust) error {
	if p.Role == store.Pitmaster || slices.Contains(p.Trusts, t) {
		return nil
	}
	return RefuseAs(NotYours, "Only a pitmaster, and who is trusted with "+string(t)+", may "+trusted[t]+".",
		"Ask one to do it, or to trust you with it on the Crew page.")
}
