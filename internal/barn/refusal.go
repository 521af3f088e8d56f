// Package barn holds the use cases, one package a step or place: they guard, check and
// write. No HTTP and no SQL.
package barn

// Refusal is what cannot be done as things stand, in words for a person.
type Refusal struct{ Title, Remedy string }

func (r *Refusal) Error() string { return r.Title }

// Refuse makes a Refusal.
func Refuse(title, remedy string) error { return &Refusal{title, remedy} }
