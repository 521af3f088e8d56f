package plan

import (
	"reflect"
	"testing"
	"time"
)

// A plan that differs by its clock is not simulated anew, one that differs by anything else is,
// and both come out as if nothing were remembered.
func TestARememberedPlanIsAsIfWorkedOutAnew(t *testing.T) {
	var m Memory
	same := func(what string, in Input, kept int) {
		t.Helper()
		got, err := m.Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		want, err := Of(t.Context(), in)
		if err != nil {
			t.Fatal(err)
		}
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%s: it is not the plan that is worked out anew", what)
		}
		if len(m.last) != kept {
			t.Errorf("%s: %d plans are remembered, want %d", what, len(m.last), kept)
		}
	}
	in := supper()
	same("the first", in, 1)
	in.Now = in.Now.Add(time.Hour)
	same("an hour later", in, 1)
	in.Serve = in.Serve.Add(time.Hour)
	same("a later table", in, 1)
	in.Cuts = append([]Cut{}, in.Cuts...)
	in.Cuts[0].Kg++
	same("a heavier cut", in, 2)
	in.Cuts[0].Kg--
	same("as it was", in, 2)
	for range mostRemembered + 2 {
		in.Seed++
		if _, err := m.Of(t.Context(), in); err != nil {
			t.Fatal(err)
		}
	}
	if len(m.last) != mostRemembered {
		t.Errorf("%d plans are remembered, want %d at most", len(m.last), mostRemembered)
	}
}
