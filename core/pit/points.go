package pit

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"whitebarn/core/design"
)

// PointRow is a named point of a pit at which a probe can be. Along and Across say where it
// is on the grate: 0 is the fire end and the first row, 1 the far end and the last.
type PointRow struct {
	Key           string
	Words         string
	Place         Place
	Along, Across float64
}

// points are the named ones; a place of the grate, as C2, is a point too. The empty one is
// the whole pit.
var points = []PointRow{
	{"", "the whole pit", Grate, 0.5, 0.5}, {"middle", "middle of the grate", Grate, 0.5, 0.5}, {"fire end", "fire end", Grate, 0, 0.5},
	{"far end", "far end", Grate, 1, 0.5}, {"front", "front of the grate", Grate, 0.5, 0}, {"back", "back of the grate", Grate, 0.5, 1},
	{"dial", "lid dial", Dial, 0, 0}, {"wet bulb", "wet bulb", WetBulb, 0, 0},
}

// Points lists the named points.
func Points() []PointRow { return slices.Clone(points) }

// PlaceOf says what a probe at a point measures: what is not named is a place of the grate.
func PlaceOf(point string) Place {
	if i := slices.IndexFunc(points, func(p PointRow) bool { return p.Key == point }); i >= 0 {
		return points[i].Place
	}
	return Grate
}

// IsMiddle says whether a point stands for the middle of the grate.
func IsMiddle(point string) bool { return point == "" || point == "middle" }

// Spot is a place of the grate, and how far from set it ran.
type Spot struct {
	Name string   `json:"name"`
	OffC *float64 `json:"off_set_c"` // nil: nothing tells
	Read bool     `json:"read"`      // a probe lay there; else it is told from those beside it
	Near bool     `json:"within_5_f"`
}

// MapOf is how far from set every place of a grate ran, row by row: the mean over burns of
// the probe that lay there, and between those along the grate on a straight line.
func MapOf(burns []Told, columns, rows int) []Spot {
	type sum struct {
		point string
		c     float64
		n     int
	}
	var read []sum
	for _, b := range burns {
		for _, p := range b.Points {
			if p.Place != Grate || p.OffC == nil {
				continue
			}
			i := slices.IndexFunc(read, func(s sum) bool { return s.point == p.Point })
			if i < 0 {
				i, read = len(read), append(read, sum{point: p.Point})
			}
			read[i].c += *p.OffC
			read[i].n++
		}
	}
	var known []at
	own := map[string]float64{}
	for _, r := range read {
		mean := r.c / float64(r.n)
		x, y := where(r.point, columns, rows)
		known = append(known, at{x, mean})
		column, row := math.Round(x*float64(columns-1)), math.Round(y*float64(rows-1))
		if math.Abs(x*float64(columns-1)-column) > 0.01 {
			continue // between two places
		}
		name := design.PositionName(int(column), int(row))
		if _, taken := own[name]; !taken || r.point == name {
			own[name] = mean
		}
	}
	line := along(known)
	out := []Spot{}
	for row := range rows {
		for column := range columns {
			s := Spot{Name: design.PositionName(column, row)}
			if v, ok := own[s.Name]; ok {
				s.OffC, s.Read = ptr(v), true
			} else if len(line) > 0 {
				s.OffC = ptr(between(line, share(column, columns)))
			}
			s.Near = s.OffC != nil && *s.OffC <= AlikeC && *s.OffC >= -AlikeC
			out = append(out, s)
		}
	}
	return out
}

// where is a point on the grate.
func where(point string, columns, rows int) (x, y float64) {
	if i := slices.IndexFunc(points, func(p PointRow) bool { return p.Key == point }); i >= 0 {
		return points[i].Along, points[i].Across
	}
	row, err := strconv.Atoi(strings.TrimLeft(point, "ABCDEFGHIJKL"))
	if err != nil || point[0] < 'A' {
		return 0.5, 0.5
	}
	return min(share(int(point[0]-'A'), columns), 1), min(share(row-1, rows), 1)
}

func share(i, of int) float64 {
	if of < 2 {
		return 0.5
	}
	return float64(i) / float64(of-1)
}

// at is how far off set so far along the grate, 0 to 1.
type at struct{ x, c float64 }

// along are the means of what was read at each distance from the fire, in order.
func along(known []at) (out []at) {
	slices.SortFunc(known, func(a, b at) int { return cmp.Compare(a.x, b.x) })
	n := 0.0
	for _, k := range known {
		if last := len(out) - 1; last >= 0 && k.x-out[last].x < 1e-9 {
			n++
			out[last].c += (k.c - out[last].c) / n
			continue
		}
		out, n = append(out, k), 1
	}
	return out
}

// between is the value on the line through what was read; past its ends it is that of the end.
func between(line []at, x float64) float64 {
	i := slices.IndexFunc(line, func(k at) bool { return k.x >= x })
	switch {
	case i < 0:
		return line[len(line)-1].c
	case i == 0:
		return line[0].c
	}
	a, b := line[i-1], line[i]
	return a.c + (b.c-a.c)*(x-a.x)/(b.x-a.x)
}
