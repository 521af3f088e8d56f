package store

import (
	"slices"
	"testing"
	"time"

	"whitebarn/core/alarm"
)

func TestOnlyWhatIsOtherwiseIsWritten(t *testing.T) {
	at := time.Date(2026, 10, 1, 15, 0, 0, 0, time.UTC)
	state := func(subject string, change func(*alarm.State)) alarm.State {
		k := alarm.State{Kind: alarm.PitHigh, Subject: subject, Since: at, Level: alarm.Watch}
		if change != nil {
			change(&k)
		}
		return k
	}
	for _, c := range []struct {
		name          string
		before, after []alarm.State
		set, gone     []string
	}{
		{"the same", []alarm.State{state("a", nil)}, []alarm.State{state("a", nil)}, nil, nil},
		{"the same moment, read in another zone", []alarm.State{state("a", nil)},
			[]alarm.State{state("a", func(k *alarm.State) { k.Since = at.In(time.FixedZone("", 3600)) })}, nil, nil},
		{"a new one", nil, []alarm.State{state("a", nil)}, []string{"a"}, nil},
		{"a new one of which there is nothing to remember", nil,
			[]alarm.State{state("a", func(k *alarm.State) { k.Since = time.Time{} })}, nil, nil},
		{"one told", []alarm.State{state("a", nil)}, []alarm.State{state("a", func(k *alarm.State) { k.Raised = true })}, []string{"a"}, nil},
		{"one graver", []alarm.State{state("a", nil)}, []alarm.State{state("a", func(k *alarm.State) { k.Level = alarm.Grave })}, []string{"a"}, nil},
		{"one that left", []alarm.State{state("a", nil)}, []alarm.State{state("a", func(k *alarm.State) { k.Left = at })}, []string{"a"}, nil},
		{"one no longer seen", []alarm.State{state("a", nil), state("b", nil)}, []alarm.State{state("b", nil)}, nil, []string{"a"}},
		{"one with nothing left to remember", []alarm.State{state("a", nil)},
			[]alarm.State{state("a", func(k *alarm.State) { k.Since = time.Time{} })}, nil, []string{"a"}},
	} {
		set, gone := otherwise(c.before, c.after)
		if got := subjects(set); !slices.Equal(got, c.set) {
			t.Errorf("%s: %v are written, want %v", c.name, got, c.set)
		}
		if got := subjects(gone); !slices.Equal(got, c.gone) {
			t.Errorf("%s: %v are taken out, want %v", c.name, got, c.gone)
		}
	}
}

func subjects(states []alarm.State) (out []string) {
	for _, k := range states {
		out = append(out, k.Subject)
	}
	return out
}
