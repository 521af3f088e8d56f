package calc

import (
	"context"
	"encoding/json"
	"testing"
	"time"
)

// FuzzRun: no input makes a calculation fall, run for ever or answer what is no JSON.
func FuzzRun(f *testing.F) {
	for i, c := range All {
		if example, ok := examples[c.Name]; ok {
			text, err := json.Marshal(example)
			if err != nil {
				f.Fatal(err)
			}
			f.Add(uint8(i), text)
		}
		f.Add(uint8(i), []byte(`{"n": 1e9, "values": [null], "runs": [{}]}`))
	}
	f.Fuzz(func(t *testing.T, which uint8, input []byte) {
		if len(input) > 2000 {
			return // what is long takes its time
		}
		c := All[int(which)%len(All)]
		ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
		defer cancel()
		begin := time.Now()
		answer, err := c.Run(ctx, input)
		if took := time.Since(begin); took > 8*time.Second {
			t.Fatalf("%s took %s", c.Name, took)
		}
		if err == nil && !json.Valid(answer) {
			t.Fatalf("%s answers %.200q", c.Name, answer)
		}
	})
}
