// Package calc is the registry of every calculation a person can ask for by
// itself: from it come the command `whitebarn calc`, the route POST
// /api/calc/NAME and the Bench pages.
package calc

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"reflect"
	"strings"

	"whitebarn/core/fault"
)

// Calculation is one rule with its JSON input and output.
type Calculation struct {
	Name   string // dotted: subject, then rule
	Title  string
	Source string // where the rule or formula comes from
	In     reflect.Type
	Out    reflect.Type
	Bound  string // from where on it may take more than a moment, in words
	run    func(ctx context.Context, input []byte) (any, error)
	costly func(input []byte) bool // beyond its own bound; nil: it has none
}

// mostFree is how many bytes of input any calculation works out in a moment.
const mostFree = 4 << 10

var overFree = fmt.Sprintf("over %d kB of input", mostFree>>10)

// Costly says whether an input lies beyond the calculation's bound: it may take more than a twentieth of
// a second, and ends when its context does.
func (c Calculation) Costly(input []byte) bool {
	return len(input) > mostFree || c.costly != nil && c.costly(input)
}

// beyond states a bound of a calculation's own.
func beyond[In any](c Calculation, words string, costly func(In) bool) Calculation {
	c.Bound = words + ", or " + c.Bound
	c.costly = func(input []byte) bool {
		var in In
		return decode(input, &in) == nil && costly(in)
	}
	return c
}

// Run decodes input strictly, computes, and encodes the answer. Unknown
// fields, values of the wrong type and impossible values are refused with an
// error that names the field; so is an answer that is no number.
func (c Calculation) Run(ctx context.Context, input []byte) ([]byte, error) {
	out, err := c.run(ctx, input)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", c.Name, err)
	}
	text, err := json.Marshal(out)
	var noNumber *json.UnsupportedValueError
	if errors.As(err, &noNumber) {
		return nil, fmt.Errorf("%s: %w", c.Name, fault.New("", "what comes out is no number", "look for a value that is far too large or too small"))
	}
	return text, err
}

func define[In, Out any](name, title, source string, f func(In) (Out, error)) Calculation {
	c := long(name, title, source, func(_ context.Context, in In) (Out, error) { return f(in) })
	c.Bound, c.costly = overFree, nil
	return c
}

// long defines a calculation that may take a second, whatever it is given.
func long[In, Out any](name, title, source string, f func(context.Context, In) (Out, error)) Calculation {
	return Calculation{
		Name: name, Title: title, Source: source, Bound: "any input", costly: func([]byte) bool { return true },
		In: reflect.TypeFor[In](), Out: reflect.TypeFor[Out](),
		run: func(ctx context.Context, input []byte) (any, error) {
			var in In
			if err := decode(input, &in); err != nil {
				return nil, err
			}
			return f(ctx, in)
		},
	}
}

func decode(input []byte, into any) error {
	d := json.NewDecoder(bytes.NewReader(input))
	d.DisallowUnknownFields()
	err := d.Decode(into)
	var wrongType *json.UnmarshalTypeError
	switch {
	case errors.As(err, &wrongType):
		return fault.New(wrongType.Field, "a "+wrongType.Value+" does not fit here", "give a "+wrongType.Type.String())
	case errors.Is(err, io.EOF):
		return fault.New("", "the input is empty", "give one JSON object")
	case err != nil && strings.HasPrefix(err.Error(), "json: unknown field "):
		name := strings.Trim(strings.TrimPrefix(err.Error(), "json: unknown field "), `"`)
		return fault.New(name, "this calculation has no such field", "check the spelling")
	case err != nil:
		return fault.New("", "the input is not JSON: "+err.Error(), "give one JSON object")
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return fault.New("", "there is something after the input", "give one JSON object only")
	}
	return nil
}

// Find returns the calculation of that name.
func Find(name string) (Calculation, bool) {
	for _, c := range All {
		if c.Name == name {
			return c, true
		}
	}
	return Calculation{}, false
}
