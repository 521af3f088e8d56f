package forecast

import "testing"

func TestWhyNamesTheCauseThatFitsTheChange(t *testing.T) {
	under, over := -6.0, 6.0
	for name, c := range map[string]struct {
		in   Change
		want string
	}{
		"no change":                        {Change{Was: 40000, Is: 40600, Ago: 1800, Acts: []string{"wrap"}}, ""},
		"wrapped":                          {Change{Was: 40000, Is: 36400, Ago: 1800, Acts: []string{"wrap"}, PitOver: &over}, "1 h 00 earlier than 30 min ago: it was wrapped."},
		"wrapped, and yet later":           {Change{Was: 40000, Is: 44000, Ago: 1800, Acts: []string{"wrap"}}, "1 h 05 later than 30 min ago: the core climbs slower than was expected."},
		"unwrapped":                        {Change{Was: 40000, Is: 42000, Ago: 2400, Acts: []string{"unwrap"}}, "35 min later than 40 min ago: it was unwrapped."},
		"a cool pit":                       {Change{Was: 40000, Is: 42000, Ago: 2400, PitOver: &under}, "35 min later than 40 min ago: the pit ran {dC:6.0} under its set point."},
		"a hot pit":                        {Change{Was: 42000, Is: 40000, Ago: 2400, PitOver: &over}, "35 min earlier than 40 min ago: the pit ran {dC:6.0} over its set point."},
		"a hot pit does not make it later": {Change{Was: 40000, Is: 42000, Ago: 2400, PitOver: &over}, "35 min later than 40 min ago: the core climbs slower than was expected."},
		"the lid":                          {Change{Was: 40000, Is: 42000, Ago: 3600, Lids: 4, Acts: []string{"spritz"}}, "35 min later than 1 h 00 ago: the lid was open 4 times."},
		"spritzed":                         {Change{Was: 40000, Is: 42000, Ago: 3600, Lids: 1, Acts: []string{"spritz"}}, "35 min later than 1 h 00 ago: it was spritzed."},
		"a quick core":                     {Change{Was: 42000, Is: 40000, Ago: 3600, Acts: []string{"spritz"}}, "35 min earlier than 1 h 00 ago: the core climbs faster than was expected."},
	} {
		if got := c.in.Why(); got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
}
