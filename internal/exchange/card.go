package exchange

import (
	"fmt"
	"strings"

	"whitebarn/core/process"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/words"
)

// Card is a version of a process card as it is sent.
type Card struct {
	Name    string
	Number  int
	Title   string
	Changed string
	Why     string
	Fault   string // it failed; empty is in force or was
	Signed  []string
	Body    process.CardBody
}

// CardMarkdown writes a card as Markdown (CommonMark with tables), in both systems of units.
func CardMarkdown(c Card) string {
	var b strings.Builder
	line := func(format string, v ...any) { fmt.Fprintf(&b, format+"\n", v...) }
	line("# %s, version %d\n", marked(c.Name), c.Number)
	if c.Fault != "" {
		line("**This version failed: %s. Do not cook by it.**\n", marked(c.Fault))
	}
	line("%s\n", marked(c.Title))
	if c.Changed != "" {
		line("Changed from the version before: %s. %s\n", marked(c.Changed), marked(c.Why))
	}
	f := c.Body
	for _, x := range [][2]string{{"For", f.Product + ", " + f.Cut}, {"Pit", strings.Trim(f.Pit+", "+f.SetUp, ", ")}, {"Fuel", f.Fuel}, {"Wood", f.Wood},
		{"Weight", weightOf(f.Kg)},
		{"Good for", strings.Join(f.For, ", ")}, {"Not for", strings.Join(f.Not, ", ")}, {"Allergens", strings.Join(f.Allergens, ", ")}} {
		if x[1] != "" {
			line("- %s: %s", x[0], marked(x[1]))
		}
	}
	line("\n## Phases\n\n| | Phase | Set | Ends | Core at the end | Lasted |\n|---|---|---|---|---|---|")
	for i, s := range f.Steps {
		line("| %d | %s | %s | %s | %s | %s |", i+1, marked(s.Name), marked(s.SetTyped), marked(process.EndsOf(s.Phase)), degreesOf(s.EndC),
			rangeOf(s.Lasted, 1, "h"))
	}
	if len(f.Takes) > 0 {
		line("\n## What it takes\n")
		for _, a := range f.Takes {
			switch {
			case a.GPer > 0:
				line("- %s: %.3g g a kg, %.3g g a lb", marked(a.Name), a.GPer, a.GPer*poundKg)
			case a.Count:
				line("- %s: %.3g a %s", marked(a.Name), a.Each, marked(a.Of))
			default:
				line("- %s: %.3g g a %s", marked(a.Name), a.Each, marked(a.Of))
			}
		}
	}
	line("\n## What it gives\n")
	for _, g := range f.Gives {
		line("- %s: %s, 9 in 10 from %.3g to %.3g (%s)", marked(g.Name), strings.TrimSpace(fmt.Sprintf("%.3g %s", g.Middle, g.Unit)), g.Low, g.High,
			words.Plural(g.N, countOf(g)))
	}
	if f.Hours != nil {
		line("- From on to the pull: %s", rangeOf(f.Hours, 1, "h"))
	}
	if f.HandsMin != nil {
		line("- Hands: %.0f min a cut", *f.HandsMin)
	}
	line("\n## What it rests on\n\n%s", marked(f.Evidence.Says))
	if f.Evidence.Size != "" {
		line("%s", marked(f.Evidence.Size))
	}
	if f.Evidence.But != "" {
		line("But: %s", marked(f.Evidence.But))
	}
	if len(f.Cautions) > 0 {
		line("\n## Cautions\n")
		for _, x := range f.Cautions {
			line("- %s (%s)", marked(words.Capital(x.Text)), marked(x.Source))
		}
		line("\nLocal codes and licensed practice come first.")
	}
	if len(c.Signed) > 0 {
		line("\nSigned: %s", marked(words.And(c.Signed)))
	}
	return b.String()
}

func countOf(g process.Gift) string {
	if g.Tasted || g.Key == trial.CookedYield {
		return "cut"
	}
	return "value"
}

var markdown = strings.NewReplacer(`\`, `\\`, "|", `\|`, "*", `\*`, "_", `\_`, "`", "\\`", "<", "&lt;", "[", `\[`, "#", `\#`, "\n", " ")

const poundKg = units.GramsPerPound / 1000

// marked is text of people's, which means nothing to Markdown.
func marked(text string) string { return markdown.Replace(text) }

func rangeOf(r *process.CardRange, digits int, unit string) string {
	if r == nil {
		return ""
	}
	return fmt.Sprintf("%.*f %s (%.*f to %.*f)", digits, r.Middle, unit, digits, r.Low, digits, r.High)
}

func degreesOf(r *process.CardRange) string {
	if r == nil {
		return ""
	}
	return fmt.Sprintf("%.0f F (%.0f C), %.0f to %.0f F", units.CToF(r.Middle), r.Middle, units.CToF(r.Low), units.CToF(r.High))
}

func weightOf(r *process.CardRange) string {
	if r == nil {
		return ""
	}
	return fmt.Sprintf("%.1f to %.1f lb (%.2f to %.2f kg) each", r.Low/poundKg, r.High/poundKg, r.Low, r.High)
}
