package fault

import (
	"errors"
	"testing"
)

func TestInNamesTheField(t *testing.T) {
	for _, c := range []struct {
		err  error
		want string
	}{
		{New("", "is wrong", "mend it"), "cut: is wrong; mend it"},
		{New("weight", "is wrong", ""), "cut.weight: is wrong"},
		{errors.New("plain"), "plain"},
		{List{New("a", "is wrong", ""), New("", "too", "")}, "cut.a: is wrong\ncut: too"},
	} {
		if got := In("cut", c.err).Error(); got != c.want {
			t.Errorf("In(cut, %v) says %q, want %q", c.err, got, c.want)
		}
	}
}

func TestTakeCollectsEveryRefusal(t *testing.T) {
	var l List
	l.Take("x", nil)
	if l.Err() != nil {
		t.Errorf("a list of nothing is the error %v", l.Err())
	}
	l.Take("x", New("", "one", ""))
	l.Take("x", List{New("y", "two", ""), New("z", "three", "")})
	l.Take("x", errors.New("four"))
	if got, want := l.Error(), "x: one\nx.y: two\nx.z: three\nx: four"; got != want {
		t.Errorf("the list says %q, want %q", got, want)
	}
}
