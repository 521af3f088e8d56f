package plan

import (
	"testing"

	"whitebarn/core/logbook"
)

// TestHandsTakeAsLongWhenPlannedAsWhenLogged also finds an act that is planned and
// takes no time.
func TestHandsTakeAsLongWhenPlannedAsWhenLogged(t *testing.T) {
	for _, r := range logbook.Rows() {
		if act, ok := ActOf(r.Act); ok && Minutes(act, 2) != r.Act.Takes(2) {
			t.Errorf("%s takes %g min when logged and %g when planned", r.Act, r.Act.Takes(2), Minutes(act, 2))
		}
	}
	for _, a := range Act("").Values() {
		if Minutes(Act(a), 1) <= 0 {
			t.Errorf("%s is planned and takes no time", a)
		}
	}
}
