package settle

import (
	"encoding/json"
	"math/rand/v2"

	"whitebarn/core/trial"
)

// AsKept is something as the record gives it back.
func AsKept[T any](v T) (out T) {
	text, err := json.Marshal(v)
	if err == nil {
		err = json.Unmarshal(text, &out)
	}
	if err != nil {
		panic(err)
	}
	return out
}

// Simulated is a trial of two catalogued levels in pairs, two a cook: the first arm is better by
// truth, and by swing more or less each day.
func Simulated(r *rand.Rand, cooks int, truth, swing float64) Trial {
	t := scenario{arms: 2, blocks: 2 * cooks, cooks: cooks, truth: truth, swing: swing}.simulate(r)
	t.Ask.Factors[0].ID = 1
	for i := range t.Ask.Arms {
		t.Ask.Arms[i].Levels[0] = trial.Level{ID: int64(i + 1), Value: t.Ask.Arms[i].Levels[0].Value}
	}
	return t
}
