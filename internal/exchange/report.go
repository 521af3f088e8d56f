package exchange

import (
	_ "embed"
	"encoding/base64"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"

	"whitebarn/core/process"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/verdict"
	"whitebarn/core/words"
)

//go:embed report.html.tmpl
var reportText string

// Report is a settled trial as it is sent: all that Settle shows.
type Report struct {
	Barn      string             `json:"barn"`
	Zone      string             `json:"zone"`
	At        time.Time          `json:"at"` // written
	TrialID   int64              `json:"trial_id"`
	Ask       trial.Ask          `json:"ask"`
	ReadAt    time.Time          `json:"read_at"`
	Result    settle.Result      `json:"result"`
	Since     *ReadSince         `json:"since"` // nil where nothing made it read otherwise
	Standings []settle.Standing  `json:"standings"`
	Cooks     []ReportedCook     `json:"cooks"`
	Proposals []process.Proposal `json:"proposals"`
}

// ReadSince is a later reading.
type ReadSince struct {
	At      time.Time     `json:"at"`
	Because string        `json:"because"`
	Result  settle.Result `json:"result"`
}

// ReportedCook is one of its cooks.
type ReportedCook struct {
	ServedAt time.Time       `json:"served_at"`
	Pits     []string        `json:"pits"`
	Cuts     int             `json:"cuts"`
	Photos   []ReportedPhoto `json:"photos"`
}

// ReportedPhoto is a picture of a cut.
type ReportedPhoto struct {
	Cut   string `json:"cut"`
	Arm   int    `json:"arm"`
	Note  string `json:"note"`
	Media string `json:"media"`
	Bytes []byte `json:"bytes"`
}

// Fonts are the faces that a page carries with it, as CSS; empty without the built front end.
type Fonts template.CSS

// faces are the families of a page, by how their files begin.
var faces = []struct{ family, file, weight string }{
	{"Text", "atkinson-hyperlegible-next-latin-wght", "200 800"}, {"Numbers", "atkinson-hyperlegible-mono-latin-wght",
		"200 800"}, {"Head", "zilla-slab-latin-700", "700"},
}

// FontsOf reads the faces out of the built front end.
func FontsOf(dist fs.FS) Fonts {
	if dist == nil {
		return ""
	}
	var b strings.Builder
	for _, f := range faces {
		files, _ := fs.Glob(dist, "assets/"+f.file+"*.woff2")
		if len(files) == 0 {
			continue
		}
		data, err := fs.ReadFile(dist, files[0])
		if err != nil {
			continue
		}
		fmt.Fprintf(&b, "@font-face{font-family:%s;font-weight:%s;src:url(data:font/woff2;base64,%s) format('woff2')}", f.family,
			f.weight, base64.StdEncoding.EncodeToString(data))
	}
	return Fonts(b.String())
}

// marks are drawn as the barn draws its arms: colour and shape.
var marks = []struct{ colour, path string }{
	{"#1b3f9b", `<circle cx="12" cy="12" r="6.6"/>`}, {"#8c5f00", `<path d="M8 5v14M16 5v14"/>`}, {"#5e1240", `<path d="M12 20v-8M4.8 5 12 12 19.2 5"/>`},
	{"#1e6b4a", `<path d="M4 12h16"/>`}, {"#0874ac", `<path d="M9 20V9.5a4.7 4.7 0 0 1 9.4 0v2"/>`}, {"#4e2f10", `<path d="M5.5 5.5l13 13M18.5 5.5l-13 13"/>`},
}

// WriteReport writes a settled trial as one page that needs nothing else: its own fonts, its
// pictures in it, no script. It prints.
func WriteReport(w io.Writer, r Report, fonts Fonts) error {
	zone, err := time.LoadLocation(r.Zone)
	if err != nil {
		zone = time.UTC
	}
	t, err := template.New("report").Funcs(template.FuncMap{
		"fonts":  func() template.CSS { return template.CSS(fonts) },
		"mark":   mark,
		"say":    Said,
		"number": func(v float64, digits int) string { return strconv.FormatFloat(v, 'f', digits, 64) },
		"share":  func(v float64) string { return fmt.Sprintf("%.0f", 100*v) },
		"day":    func(t time.Time) string { return t.In(zone).Format("Mon 2 Jan 2006") },
		"stamp":  func(t time.Time) string { return t.In(zone).Format("2 Jan 2006 15:04") },
		"line":   armsLine,
		"word":   wordOf,
		"tag":    r.Ask.TagOf,
		"value":  valueOf,
		"fact":   factOf,
		"photo": func(p ReportedPhoto) template.URL {
			return template.URL("data:" + p.Media + ";base64," + base64.StdEncoding.EncodeToString(p.Bytes))
		},
		"weighed": func(s settle.Standing) (out []settle.Weighed) {
			for _, x := range s.Weighs {
				if x.Share > 0 {
					out = append(out, x)
				}
			}
			return out
		},
	}).Parse(reportText)
	if err != nil {
		return fmt.Errorf("read the report's page: %w", err)
	}
	return t.Execute(w, r)
}

// mark is an arm's shape in its colour.
func mark(arm int) template.HTML {
	m := marks[max(0, arm)%len(marks)]
	return template.HTML(fmt.Sprintf(`<svg class="mark" viewBox="0 0 24 24" fill="none" stroke="%s" stroke-width="3.8" aria-hidden="true">%s</svg>`, m.colour, m.path))
}

var held = regexp.MustCompile(`\{(kg|m|C|dC|day):([^}]+)\}`)

// Said puts the amounts that a sentence carries into words, both ways of writing them.
func Said(text string) string {
	return held.ReplaceAllStringFunc(text, func(s string) string {
		m := held.FindStringSubmatch(s)
		v, err := strconv.ParseFloat(m[2], 64)
		if err != nil {
			return m[2]
		}
		switch m[1] {
		case "kg":
			return fmt.Sprintf("%s (%.2f kg)", pounds(v), v)
		case "m":
			return fmt.Sprintf("%.1f in", v/units.MetresPerInch)
		case "C":
			return fmt.Sprintf("%.0f F (%.0f C)", units.CToF(v), v)
		}
		return fmt.Sprintf("%.1f F", 1.8*v)
	})
}

func pounds(kg float64) string {
	oz := math.Round(kg * 1000 / units.GramsPerPound * 16)
	return fmt.Sprintf("%.0f lb %.0f oz", math.Floor(oz/16), math.Mod(oz, 16))
}

// valueOf is a mean in its outcome's unit.
func valueOf(d trial.OutcomeDefault, v *float64) string {
	if v == nil {
		return "–"
	}
	return fmt.Sprintf("%.1f", *v)
}

func factOf(f settle.DeliveredFact, v *float64) string {
	if v == nil {
		return "–"
	}
	switch f.Unit {
	case "C":
		return fmt.Sprintf("%.0f F", units.CToF(*v))
	case "h":
		return fmt.Sprintf("%.1f h", *v)
	case "":
		return fmt.Sprintf("%.1f", *v)
	}
	return fmt.Sprintf("%.0f %s", *v, f.Unit)
}

// wordOf is a side in words: who, and by how much 9 times in 10.
func wordOf(ask trial.Ask, s settle.Side) string {
	if s.Word == "" {
		return "no verdict"
	}
	said := string(s.Word)
	if s.Winner != nil {
		said += ": " + ask.TagOf(*s.Winner)
	}
	if s.Estimate != nil {
		said += fmt.Sprintf(", %+.2f", *s.Estimate)
	}
	if s.CI90 != nil {
		said += fmt.Sprintf(" (%.2f to %.2f)", s.CI90[0], s.CI90[1])
	}
	if s.But != "" {
		said += "; " + s.But
	}
	if s.Word == verdict.CannotTell && s.Why != "" {
		said += "; " + s.Why
	}
	return said
}

// armsLine draws all arms of an outcome on one line, better to the right, against the first
// arm's, or the control's, ground of what does not matter.
func armsLine(ask trial.Ask, r settle.Row) template.HTML {
	const width, unit, line = 420.0, 55.0, 40.0
	at := r.Means[ask.GoOnWith()]
	if at == nil || r.SmallestDifference <= 0 {
		return ""
	}
	sign := 1.0
	if r.Outcome.Better == trial.Down {
		sign = -1
	}
	x := func(v float64) float64 {
		return width/2 + math.Max(-3.4, math.Min(3.4, sign*(v-*at)/r.SmallestDifference))*unit
	}
	var b strings.Builder
	fmt.Fprintf(&b, `<svg viewBox="0 0 %g 60" role="img" aria-label="%s"><rect x="%g" width="%g" height="60" fill="#e2e8e2"/><path d="M%g 0v60M%g 0v60" stroke="#12181a" stroke-width="4"/><path d="M6 %gH%g" stroke="#6e7a74"/>`,
		width, template.HTMLEscapeString(words.Capital(strings.ToLower(r.Outcome.Name))), width/2-unit, 2*unit, width/2-unit, width/2+unit, line, width-6)
	best := math.Inf(-1)
	for i, m := range r.Means {
		if m == nil {
			continue
		}
		best = math.Max(best, x(*m))
		k := marks[i%len(marks)]
		fmt.Fprintf(&b, `<g transform="translate(%.1f %g)" stroke="%s"><g transform="translate(-9 -9) scale(.75)" fill="none" stroke-width="3.8">%s</g></g><text x="%.1f" y="16" text-anchor="middle">%.1f</text>`,
			x(*m), line, k.colour, k.path, x(*m), *m)
	}
	if r.Bar != nil && !math.IsInf(best, 0) {
		from := math.Max(6, best-*r.Bar/r.SmallestDifference*unit)
		fmt.Fprintf(&b, `<path d="M%.1f 54H%.1fM%.1f 50v8M%.1f 50v8" stroke="#12181a" stroke-width="2"/>`, from, best, from, best)
	}
	b.WriteString("</svg>")
	return template.HTML(b.String())
}
