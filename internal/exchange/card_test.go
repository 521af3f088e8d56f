package exchange

import (
	"bytes"
	"encoding/json"
	"os"
	"strings"
	"testing"

	"whitebarn/core/process"
)

// TestACardAsMarkdown writes the demo's card: its phases in order, both systems of units, and
// nothing of people's that Markdown would take for its own.
func TestACardAsMarkdown(t *testing.T) {
	text, err := os.ReadFile("../server/testdata/golden/book-cards-1.json")
	if err != nil {
		t.Fatal(err)
	}
	var kept struct {
		Name     string
		Versions []struct {
			Number int
			Title  string
			Body   process.CardBody
		}
	}
	_, text, _ = bytes.Cut(text, []byte(" ")) // the status
	if err := json.Unmarshal(text, &kept); err != nil {
		t.Fatal(err)
	}
	v := kept.Versions[len(kept.Versions)-1]
	c := Card{Name: "Lamb | *shoulder*", Number: v.Number, Title: v.Title, Body: v.Body, Signed: []string{"Odalys", "Bram"}}
	got := CardMarkdown(c)
	for _, want := range []string{`# Lamb \| \*shoulder\*, version 2`, "## Phases", "250 F", "203 F (95 C)", "## What it gives", "9 in 10 from", "lb (",
		"Local codes and licensed practice come first", "Signed: Odalys and Bram"} {
		if !strings.Contains(got, want) {
			t.Errorf("the card does not say %q:\n%s", want, got)
		}
	}
	if strings.Contains(got, "failed") {
		t.Error("a version that stands is said to have failed")
	}
	c.Fault = "tough"
	if got := CardMarkdown(c); !strings.Contains(got, "failed: tough. Do not cook by it") {
		t.Error("a version that failed does not say so")
	}
}
