package design

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"whitebarn/core/trial"
)

// Piece is a cut of a trial, or a part of a divided one, as design and verdict
// see it.
type Piece struct {
	ID         int64
	Name       string
	Root       string // the whole it is a part of; its own name when undivided
	Together   bool   // a part that goes into one arm with the others of its whole
	Block      string // "" when it stands by itself
	Arm        int    // from 0, -1 while none is given
	Kg         *float64
	ThicknessM *float64
	FatCapM    *float64
	Traits     map[Trait]string
	Cook       string // "" while it is in none
	Pit        string
	Holder     string // "" while it is in none
	PitRunID   int64
	Position   string   // letters for the column, a number for the row
	OffC       *float64 // how far from set its place runs, by burns of the pit; nil is not known
	Units      map[trial.UnitKind]string
}

// Unit names the smallest thing that a level of this kind was set on: for cuts
// the whole, since parts of one cut in one arm are not replicates. Where no run
// or batch is recorded, the whole arm counts as one.
func (p Piece) Unit(kind trial.UnitKind, tag string) string {
	if kind == trial.UnitCut {
		return p.Root
	}
	if u := p.Units[kind]; u != "" {
		return u
	}
	return "all of " + tag
}

// Trait is a covariate in words.
type Trait string

// The traits of a cut, and of its place.
const (
	Lot     Trait = "lot"
	Grade   Trait = "grade"
	Section Trait = "section" // end, middle, point, flat
	Side    Trait = "side"
	Bone    Trait = "bone"
)

// Traits are the traits of cuts, in order.
var Traits = []Trait{Lot, Grade, Section, Side, Bone}

// CookDay, the pit, the holder and the column of the grate are traits of the place.
const (
	CookDay Trait = "cook day"
	Pit     Trait = "pit"
	Holder  Trait = "holder"
	Column  Trait = "grate column"
)

// value is a piece's value of a trait, "" when not known.
func (p Piece) value(t Trait) string {
	switch t {
	case CookDay:
		return p.Cook
	case Pit:
		return p.Pit
	case Holder:
		return p.Holder
	case Column:
		if p.Position == "" {
			return ""
		}
		return p.Pit + " " + columnOf(p.Position)
	}
	return p.Traits[t]
}

// columnOf is the letter of a grate position; what has none is its own column.
func columnOf(position string) string {
	letters := strings.TrimRight(position, "0123456789 ")
	if letters == "" {
		return position
	}
	return strings.ToUpper(letters)
}

var gridPlace = regexp.MustCompile(`^([A-Z])(\d{1,2})$`)

// place is a piece's column and row on the grate, counted from 1; nil where its
// position is not one of a grid, as in A1.
func (p Piece) grid() (column, row *float64) {
	m := gridPlace.FindStringSubmatch(strings.ToUpper(p.Position))
	if m == nil {
		return nil, nil
	}
	c := float64(m[1][0]-'A') + 1
	r, err := strconv.ParseFloat(m[2], 64)
	if err != nil {
		return nil, nil
	}
	return &c, &r
}

// PositionName is the name of a place on the grate, counted from 0.
func PositionName(column, row int) string { return fmt.Sprintf("%c%d", 'A'+column, row+1) }
