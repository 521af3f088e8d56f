package logbook

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// ofRange is a reading of several pieces as a range, 165-178 F.
var ofRange = regexp.MustCompile(`^(\d+(?:[.,]\d+)?) ?(?:-|–|to) ?(\d+(?:[.,]\d+)?) ?([FCfc])$`)

// lowest is the lower end of a range; what is none stands as it was typed.
func lowest(typed string) string {
	m := ofRange.FindStringSubmatch(typed)
	if m == nil {
		return typed
	}
	a, errA := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
	b, errB := strconv.ParseFloat(strings.Replace(m[2], ",", ".", 1), 64)
	if errA != nil || errB != nil {
		return typed
	}
	return fmt.Sprintf("%v %s", min(a, b), m[3])
}

// fewRead is how many of many pieces must be read for the coldest of them to stand for all.
const fewRead = 3

// StandsFor says whether a reading of n pieces at once stands for each of them: as the coldest
// of three or more, or of all.
func (d Detail) StandsFor(n int) bool { return n <= 1 || d.ReadN >= min(n, fewRead) }
