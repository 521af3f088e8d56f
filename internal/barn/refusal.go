// Package barn holds the use cases, one package a step or place: they guard, check and
// write. No HTTP and no SQL.
package barn

// Ground is why something is refused.
type Ground string

// The grounds of a refusal.
const (
	AsThingsStand Ground = "as things stand"
	NotYours      Ground = "not yours"
	NotSignedIn   Ground = "not signed in"
	NotThere      Ground = "not there"
	TooOften      Ground = "too often"
)

// Refusal is what cannot be done, in words for a person.
type Refusal struct {
	Ground        Ground
	Title, Remedy string
}

func (r *Refusal) Error() string { return r.Title }

// Refuse refuses what cannot be done as things stand.
func Refuse(title, remedy string) error { return RefuseAs(AsThingsStand, title, remedy) }

// RefuseAs refuses on a ground.
func RefuseAs(g Ground, title, remedy string) error { return &Refusal{g, title, remedy} }
