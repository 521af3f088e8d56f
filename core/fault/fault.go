// Package fault is the one shape in which the core refuses an input: which
// field, what is wrong with the value, and what would do.
package fault

import (
	"errors"
	"strings"
)

// Error refuses one value of an input.
type Error struct {
	Field   string // name of the field as the caller knows it; may be empty
	Problem string // what is wrong, with the value in it
	Remedy  string // what would do instead
}

func (e *Error) Error() string {
	s := e.Problem
	if e.Field != "" {
		s = e.Field + ": " + s
	}
	if e.Remedy != "" {
		s += "; " + e.Remedy
	}
	return s
}

// New returns an Error for one field.
func New(field, problem, remedy string) *Error {
	return &Error{Field: field, Problem: problem, Remedy: remedy}
}

// In puts a field name on an Error that has none, and prefixes one that has:
// an error in "weight" inside "cuts[2]" becomes one in "cuts[2].weight".
func In(field string, err error) error {
	var l List
	if errors.As(err, &l) {
		named := make(List, len(l))
		for i, e := range l {
			errors.As(In(field, e), &named[i])
		}
		return named
	}
	var e *Error
	if !errors.As(err, &e) {
		return err
	}
	named := *e
	switch {
	case named.Field == "":
		named.Field = field
	case field != "":
		named.Field = field + "." + named.Field
	}
	return &named
}

// List collects refusals, so that a person can mend them all at once.
type List []*Error

func (l List) Error() string {
	parts := make([]string, len(l))
	for i, e := range l {
		parts[i] = e.Error()
	}
	return strings.Join(parts, "\n")
}

// Add appends a refusal.
func (l *List) Add(field, problem, remedy string) { *l = append(*l, New(field, problem, remedy)) }

// Take appends err under the field's name; a nil err is passed over.
func (l *List) Take(field string, err error) {
	if err == nil {
		return
	}
	var many List
	var e *Error
	switch err = In(field, err); {
	case errors.As(err, &many):
		*l = append(*l, many...)
	case errors.As(err, &e):
		*l = append(*l, e)
	default:
		l.Add(field, err.Error(), "")
	}
}

// Err returns the list as an error, or nil when nothing was refused.
func (l List) Err() error {
	if len(l) == 0 {
		return nil
	}
	return l
}
