package main

import (
	"encoding/json"
	"os"
	"testing"
)

// TestAllThatShipsIsNamed holds the list that is shown against what is linked and built in.
func TestAllThatShipsIsNamed(t *testing.T) {
	text, err := os.ReadFile("../../web/public/licences.json")
	if err != nil {
		t.Fatal(err)
	}
	var shown, now []Ships
	if err := json.Unmarshal(text, &shown); err != nil {
		t.Fatal(err)
	}
	text, err = all("../..")
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(text, &now); err != nil {
		t.Fatal(err)
	}
	known := map[string]Ships{}
	for _, s := range shown {
		known[s.Name] = s
	}
	free := map[string]bool{"MIT": true, "ISC": true, "BSD-2-Clause": true, "BSD-3-Clause": true, "Apache-2.0": true, "0BSD": true, "OFL-1.1": true,
		"MPL-2.0": true, "CC-BY-SA-3.0": true}
	for _, s := range now {
		if got := known[s.Name]; got.Version != s.Version {
			t.Errorf("%s %s ships, and %q is shown: run make licences", s.Name, s.Version, got.Version)
		}
		if !free[s.Licence] {
			t.Errorf("%s is under %q", s.Name, s.Licence)
		}
	}
	if len(shown) != len(now) {
		t.Errorf("%d packages are shown and %d ship: run make licences", len(shown), len(now))
	}
}
