package rest

import (
	"fmt"
	"slices"
	"time"
)

// Piece is a cut off the fire, or likely to be, and when it is sliced.
type Piece struct {
	Name  string // with its arm
	Arm   int
	Pull  time.Time
	Knife time.Time
	Cut   bool // it was sliced
}

func (p Piece) rest() time.Duration { return p.Knife.Sub(p.Pull) }

// Even is how evenly the pieces rest.
type Even struct {
	ApartS float64    `json:"apart_s"` // between the longest and the shortest rest of two arms
	AllowS float64    `json:"allow_s"`
	Words  string     `json:"words"`
	Uneven bool       `json:"uneven"`
	Table  *time.Time `json:"table"` // when it is set if all rest as long as the longest; nil where that changes nothing
}

// EvenOf compares the longest and the shortest rest over different arms. Slicing takes
// some time before the table.
func EvenOf(pieces []Piece, allow, slicing time.Duration) Even {
	e := Even{AllowS: allow.Seconds()}
	if len(pieces) < 2 {
		return e
	}
	sorted := slices.Clone(pieces)
	slices.SortStableFunc(sorted, func(a, b Piece) int { return int(b.rest() - a.rest()) })
	long := sorted[0]
	i := len(sorted) - 1
	for i > 0 && sorted[i].Arm == long.Arm {
		i--
	}
	short := sorted[i]
	if short.Arm == long.Arm {
		return e
	}
	apart := long.rest() - short.rest()
	e.ApartS, e.Uneven = apart.Seconds(), apart > allow
	e.Words = fmt.Sprintf("%s %s, %s %s", long.Name, hours(long.rest()), short.Name, hours(short.rest()))
	if !e.Uneven {
		return e
	}
	var last time.Time
	for _, p := range pieces {
		if !p.Cut && p.Pull.After(last) {
			last = p.Pull
		}
	}
	if !last.IsZero() {
		at := last.Add(long.rest() + slicing).Truncate(time.Minute)
		e.Table = &at
	}
	return e
}

func hours(d time.Duration) string {
	m := int(d.Round(time.Minute).Minutes())
	if m < 60 {
		return fmt.Sprintf("%d min", m)
	}
	return fmt.Sprintf("%d h %02d", m/60, m%60)
}
