package yield

import (
	"fmt"
	"math"

	"whitebarn/core/fault"
)

// Share is one thing a cut comes apart into when it is weighed out, by its key.
type Share string

// ShareRow is what is known of a share.
type ShareRow struct {
	Share  Share  `json:"share"`
	Name   string `json:"name"`
	Eaten  bool   `json:"eaten"`
	Liquid bool   `json:"liquid"` // ran out of it: it is no part of what was weighed before
	Why    bool   `json:"why"`    // it is thrown away, and why is asked
}

// shares are the things, in the order they are weighed.
var shares = []ShareRow{
	{Share: "lean", Name: "Lean, to eat", Eaten: true}, {Share: "flat", Name: "Flat, to eat", Eaten: true},
	{Share: "point", Name: "Point, to eat", Eaten: true},
	{Share: "skin", Name: "Skin, to eat", Eaten: true}, {Share: "bones", Name: "Bones"}, {Share: "edges", Name: "Edges, thrown", Why: true},
	{Share: "fat", Name: "Fat, thrown", Why: true}, {Share: "lost", Name: "Lost", Why: true},
	{Share: "purge", Name: "Juice in the wrap", Liquid: true}, {Share: "drippings", Name: "Drippings", Liquid: true},
}

// Shares lists them.
func Shares() []ShareRow { return append([]ShareRow{}, shares...) }

// Values lists the keys.
func (Share) Values() []string {
	out := make([]string, len(shares))
	for i, s := range shares {
		out[i] = string(s.Share)
	}
	return out
}

// Row is what is known of a share; ok is false where it is none.
func (s Share) Row() (ShareRow, bool) {
	for _, r := range shares {
		if r.Share == s {
			return r, true
		}
	}
	return ShareRow{}, false
}

// WhyThrown are the usual reasons.
var WhyThrown = []string{"charred", "dry", "too fat", "fell", "tasted off"}

// Out is a share that was weighed.
type Out struct {
	Share        Share
	Kg           float64
	ResolutionKg float64
}

// Apart is what a cut came apart into.
type Apart struct {
	EatenKg  float64 `json:"eaten_kg"`
	SolidKg  float64 `json:"solid_kg"`  // with bones and what was thrown away
	StepKg   float64 `json:"step_kg"`   // of a scale that would weigh all that is eaten as surely at once
	BeforeKg float64 `json:"before_kg"` // what it weighed whole; 0 is not known
	LacksKg  float64 `json:"lacks_kg"`  // of it, what is not weighed yet; below zero it is too much
	AddsUp   bool    `json:"adds_up"`
}

// ApartOf adds the shares up against what the cut weighed whole: after the rest, else off
// the pit.
func ApartOf(weighed []Weighing, outs []Out) Apart {
	var a Apart
	unsure := 0.0
	for _, o := range outs {
		r, ok := o.Share.Row()
		if !ok || r.Liquid {
			continue
		}
		a.SolidKg += o.Kg
		unsure = math.Hypot(unsure, o.ResolutionKg)
		if r.Eaten {
			a.EatenKg += o.Kg
			a.StepKg = math.Hypot(a.StepKg, o.ResolutionKg)
		}
	}
	whole, ok := stageOf(weighed, Rested)
	if !ok {
		whole, ok = stageOf(weighed, Off)
	}
	if !ok {
		return a
	}
	a.BeforeKg, a.LacksKg = whole.Kg, whole.Kg-a.SolidKg
	// What sticks to board and knife, and the scale's steps.
	a.AddsUp = len(outs) > 0 && math.Abs(a.LacksKg) <= max(crumbs*whole.Kg, 2*math.Hypot(unsure, whole.ResolutionKg))
	return a
}

// crumbs is the share of a cut that stays on board and knife (ours).
const crumbs = 0.01

// CheckOut refuses a share that weighs more than the whole did.
func CheckOut(o Out, weighed []Weighing, others []Out) error {
	r, ok := o.Share.Row()
	if !ok {
		return fault.New("share", fmt.Sprintf("%q is nothing a cut comes apart into", o.Share), "choose one of the list")
	}
	if r.Liquid {
		return nil
	}
	a := ApartOf(weighed, append(others, o))
	if a.BeforeKg > 0 && a.LacksKg < 0 && !a.AddsUp {
		return fault.New("weight", fmt.Sprintf("with it the shares weigh %.3f kg, and the whole weighed %.3f kg", a.SolidKg, a.BeforeKg),
			"check the tag and the scale")
	}
	return nil
}
