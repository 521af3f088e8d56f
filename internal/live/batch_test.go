package live

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"whitebarn/core/logbook"
)

var noon = time.Date(2026, 10, 3, 12, 0, 0, 0, time.UTC)

func TestABadReadingIsRefusedAndTheRestIsKept(t *testing.T) {
	good := `{"seq": 2, "channel": "pit", "at": "2026-10-03T11:59:00Z", "temperature": 250, "unit": "F"}`
	for _, c := range []struct{ what, bad, reason string }{
		{"NaN", `{"seq": 1, "channel": "core", "temperature": NaN, "unit": "C"}`, "no number"},
		{"nan in small letters", `{"seq": 1, "channel": "core", "temperature": -nan, "unit": "C"}`, "no number"},
		{"an open circuit", `{"seq": 1, "channel": "core", "temperature": 9999, "unit": "F"}`, "9999 F is no temperature"},
		{"the future", `{"seq": 1, "channel": "core", "at": "2026-10-03T12:30:00Z", "temperature": 60, "unit": "C"}`, "30m0s ahead of the cook's clock"},
		{"1970", `{"seq": 1, "channel": "core", "at": "1970-01-01T00:00:09Z", "temperature": 60, "unit": "C"}`, "clock is not set"},
		{"no time", `{"seq": 1, "channel": "core", "at": "noonish", "temperature": 60, "unit": "C"}`, `"noonish" is no time`},
		{"no sequence", `{"channel": "core", "temperature": 60, "unit": "C"}`, "seq is missing"},
		{"no channel", `{"seq": 1, "temperature": 60, "unit": "C"}`, "is no name"},
		{"no unit", `{"seq": 1, "channel": "core", "temperature": 60}`, "no temperature: give C or F"},
		{"both", `{"seq": 1, "channel": "core", "temperature": 60, "weight": 2, "unit": "C"}`, "temperature or weight"},
		{"a weight in metres", `{"seq": 1, "channel": "scale", "weight": 2, "unit": "m"}`, "give kg, g, lb or oz"},
		{"a word for a number", `{"seq": 1, "channel": "core", "temperature": "warm", "unit": "C"}`, "cannot be a string"},
		{"no object", `42`, "is not a reading"},
	} {
		b, err := Decode("application/json", []byte(`{"readings": [`+c.bad+`, `+good+`]}`), noon)
		if err != nil {
			t.Errorf("%s spoils the batch: %v", c.what, err)
			continue
		}
		if len(b.Readings) != 1 || b.Readings[0].Sequence != 2 || math.Abs(b.Readings[0].Canonical-121.11) > 0.01 {
			t.Errorf("beside %s the good reading became %+v", c.what, b.Readings)
		}
		if len(b.Refused) != 1 || !strings.Contains(b.Refused[0].Reason, c.reason) {
			t.Errorf("%s is refused as %+v, want %q", c.what, b.Refused, c.reason)
		}
	}
}

func TestBatchesAreReadInEveryShape(t *testing.T) {
	for _, c := range []struct {
		kind, body string
		want       string
	}{
		{"application/json", `{"sent_at": "2026-10-03T12:00:03Z", "readings": [{"seq": 7, "channel": "pit", "at": "1790000000", "temperature": 121.5, "unit": "c"}]}`, "7 pit 121.5 C 121.50 14:13:20"},
		{"application/json", `{"readings": [{"seq": 7, "channel": "a nan \" in it", "temperature": 250, "unit": "F"}]}`, "7 a nan \" in it 250 F 121.11 12:00:00"},
		{"application/json", `{"readings": [{"seq": 8, "channel": "scale", "weight": 80, "unit": "oz"}]}`, "8 scale 80 oz 2.27 12:00:00"},
		{"text/csv; charset=utf-8", "seq,channel,at,value,unit\n7,core 1L,2026-10-03T11:00:00+02:00,151.2,F\n", "7 core 1L 151.2 F 66.22 09:00:00"},
		{"text/csv", "9,scale,,2.5,kg\n", "9 scale 2.5 kg 2.50 12:00:00"},
	} {
		b, err := Decode(c.kind, []byte(c.body), noon)
		if err != nil || len(b.Readings) != 1 {
			t.Errorf("%s gives %+v and %v", c.body, b, err)
			continue
		}
		r := b.Readings[0]
		if got := fmt.Sprintf("%d %s %g %s %.2f %s", r.Sequence, r.Channel, r.Value, r.Unit, r.Canonical, r.At.Format("15:04:05")); got != c.want {
			t.Errorf("%s is read as %q, want %q", c.body, got, c.want)
		}
	}
	b, err := Decode("text/csv", []byte("1,pit,,120,C\n2,pit,,warm,C\njunk\n3,pit,,121,C\n"), noon)
	if err != nil || len(b.Readings) != 2 || len(b.Refused) != 2 || !strings.Contains(b.Refused[1].Reason, "line 3") {
		t.Errorf("a CSV with bad lines gives %+v and %v", b, err)
	}
}

func TestABatchThatIsNoneIsRefusedWhole(t *testing.T) {
	many := strings.Repeat("1,pit,,120,C\n", MostReadings+1)
	for _, c := range []struct{ kind, body, want string }{
		{"application/json", `hello`, "not JSON"},
		{"application/json", `{"readings": []}`, "empty"},
		{"application/json", `{"sent_at": "now", "readings": [{}]}`, "sent_at"},
		{"text/csv", "", "empty"},
		{"text/csv", many, "5000 at most"},
	} {
		if _, err := Decode(c.kind, []byte(c.body), noon); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%.30q ends with %v, want %q", c.body, err, c.want)
		}
	}
}

func FuzzDecode(f *testing.F) {
	f.Add([]byte(`{"readings": [{"seq": 1, "channel": "core", "temperature": NaN, "unit": "C"}]}`), true)
	f.Add([]byte("1,pit,,120,C\n"), false)
	f.Fuzz(func(t *testing.T, body []byte, asJSON bool) {
		kind := "text/csv"
		if asJSON {
			kind = "application/json"
		}
		b, err := Decode(kind, body, noon)
		if err != nil {
			return
		}
		for _, r := range b.Readings {
			if r.Sequence <= 0 || r.Channel == "" || math.IsNaN(r.Canonical) || math.IsInf(r.Canonical, 0) || r.At.After(noon.Add(logbook.Ahead)) {
				t.Fatalf("%q was taken as %+v", body, r)
			}
		}
	})
}
