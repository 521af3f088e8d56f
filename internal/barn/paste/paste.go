// Package paste takes rows in that were copied out of a spreadsheet: cuts, weights and scores.
// Each row goes the way of what is typed by itself, so that the same is asked of it.
package paste

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/sheet"
	"whitebarn/core/trial"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/rest"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/store"
)

// Pasted is a table that was pasted.
type Pasted struct {
	Text string `json:"text" binding:"max=500000"`
	Keep bool   `json:"keep"` // false only says what would come of it
	All  bool   `json:"all"`  // nothing is kept where one row has trouble; else the good ones are
	Unit string `json:"unit"` // of weights without one: lb, oz, kg or g
	Why  string `json:"why" binding:"max=200"`
}

// PasteReport is what came, or would come, of it.
type PasteReport struct {
	Kept    bool      `json:"kept"`
	Good    int       `json:"good"`
	Bad     int       `json:"bad"`
	Columns []string  `json:"columns"` // that were understood
	Unknown []string  `json:"unknown"` // and those that were not
	Rows    []RowSaid `json:"rows"`
}

// RowSaid is what came of a row; without a problem it is good.
type RowSaid struct {
	Line    int    `json:"line"`
	Says    string `json:"says"`
	Problem string `json:"problem"`
	Remedy  string `json:"remedy"`
}

// notKept ends a transaction whose report is all that is wanted.
type notKept struct{ PasteReport }

func (notKept) Error() string { return "nothing was to be kept" }

// Only is the report of a paste that was to keep nothing.
func Only(err error) (PasteReport, bool) {
	var n notKept
	ok := errors.As(err, &n)
	return n.PasteReport, ok
}

// The cases, by what is pasted.
var (
	Cuts    = barn.Gives(barn.Door{Of: barn.Trial, Kind: barn.Design, What: "pasted cuts"}, pasteCuts)
	Weights = barn.Gives(barn.Door{Of: barn.Trial, Kind: barn.Record, What: "pasted weights"}, pasteWeights)
	Scores  = barn.Gives(barn.Door{Of: barn.Flight, Kind: table.TypeBallot.Kind, What: "pasted scores"}, pasteScores)
)

var cutColumns = []sheet.Column{
	{Key: "name", Heads: []string{"cut", "name", "piece"}, Needed: true}, {Key: "pair", Heads: []string{"pair", "block"}}, {Key: "animal",
		Heads: []string{"animal", "lamb", "rack"}},
	{Key: "side", Heads: []string{"side"}}, {Key: "lot", Heads: []string{"lot", "supplier lot"}}, {Key: "grade", Heads: []string{"grade"}}, {Key: "bone",
		Heads: []string{"bone"}},
	{Key: "arm", Heads: []string{"arm"}}, {Key: "price", Heads: []string{"price"}}, {Key: "bought", Heads: []string{"bought", "raw", "raw weight"}},
	{Key: "trimmed", Heads: []string{"trimmed", "trimmed weight", "weight"}}, {Key: "thickness", Heads: []string{"thickness", "thick"}}, {Key: "length",
		Heads: []string{"length"}},
}

func pasteCuts(ctx context.Context, a *barn.Act, in *barn.With[Pasted]) (PasteReport, error) {
	t, err := a.Store.Trial(ctx, in.ID)
	if err != nil {
		return PasteReport{}, err
	}
	return each(ctx, a, in.Body, cutColumns, func(ctx context.Context, row barn.Act, r sheet.Row) (string, error) {
		cut := match.CutInput{Name: r.Cells["name"], Pair: r.Cells["pair"], Animal: r.Cells["animal"], Side: r.Cells["side"], Lot: r.Cells["lot"],
			Grade: r.Cells["grade"], Bone: strings.ToLower(r.Cells["bone"])}
		if tag := r.Cells["arm"]; tag != "" {
			i := slices.IndexFunc(t.Ask.Arms, func(x trial.Arm) bool { return strings.EqualFold(x.Tag, tag) })
			if i < 0 {
				return "", fault.New("arm", fmt.Sprintf("there is no arm %.20q", tag), "use the tag of an arm, or leave it empty for the draw")
			}
			cut.ArmID = &t.Ask.Arms[i].ID
		}
		if text := r.Cells["price"]; text != "" {
			v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
			if err != nil || v < 0 || v > 10_000 {
				return "", fault.New("price", fmt.Sprintf("%.20q is not a price", text), "give it as 41.50")
			}
			cents := int(v*100 + 0.5)
			cut.PriceCents = &cents
		}
		if len([]rune(cut.Name)) > 20 || cut.Bone != "" && cut.Bone != "in" && cut.Bone != "out" {
			return "", fault.New("name", fmt.Sprintf("%.30q with bone %.10q does not do", cut.Name, cut.Bone), "20 letters for a name; in, out or nothing for the bone")
		}
		if _, err := match.AddCut.Make(ctx, &row, &barn.With[match.CutInput]{ByID: in.ByID, Body: cut}); err != nil {
			return "", err
		}
		id, err := cutNamed(ctx, &row, cut.Name)
		if err != nil {
			return "", err
		}
		for _, stage := range []yield.Stage{yield.Bought, yield.Trimmed} {
			if err := weigh(ctx, &row, id, stage, r.Cells[string(stage)], in.Body); err != nil {
				return "", err
			}
		}
		for _, kind := range []string{"thickness", "length"} {
			if text := r.Cells[kind]; text != "" {
				d := &barn.With[match.DimensionInput]{ByID: barn.ByID{ID: id}, Body: match.DimensionInput{Kind: kind, Typed: text}}
				if _, err := match.SetDimension.Make(ctx, &row, d); err != nil {
					return "", err
				}
			}
		}
		return cut.Name, nil
	})
}

var stages = []yield.Stage{yield.Bought, yield.Trimmed, yield.Prepped, yield.Off, yield.Rested, yield.Edible}

func weightColumns() []sheet.Column {
	out := []sheet.Column{{Key: "name", Heads: []string{"cut", "name", "piece"}, Needed: true}, {Key: "stage", Heads: []string{"stage"}},
		{Key: "weight", Heads: []string{"weight"}},
		{Key: "resolution", Heads: []string{"resolution", "step", "scale step"}}}
	for _, s := range stages {
		out = append(out, sheet.Column{Key: string(s), Heads: []string{string(s), string(s) + " weight"}})
	}
	return out
}

func pasteWeights(ctx context.Context, a *barn.Act, in *barn.With[Pasted]) (PasteReport, error) {
	return each(ctx, a, in.Body, weightColumns(), func(ctx context.Context, row barn.Act, r sheet.Row) (string, error) {
		id, err := cutNamed(ctx, &row, r.Cells["name"])
		if err != nil {
			return "", err
		}
		if stage := strings.ToLower(r.Cells["stage"]); stage != "" {
			if !slices.Contains(stages, yield.Stage(stage)) {
				return "", fault.New("stage", fmt.Sprintf("%.20q is not a stage", stage), "use bought, trimmed, prepped, off, rested or edible")
			}
			r.Cells[stage] = r.Cells["weight"]
		}
		var said []string
		for _, stage := range stages {
			text := r.Cells[string(stage)]
			if text == "" {
				continue
			}
			body := in.Body
			if err := weighAt(ctx, &row, id, stage, text, r.Cells["resolution"], body); err != nil {
				return "", err
			}
			said = append(said, string(stage)+" "+text)
		}
		if len(said) == 0 {
			return "", fault.New("weight", "no weight stands in the row", "give a column bought, trimmed, prepped, off, rested or edible")
		}
		return r.Cells["name"] + ": " + strings.Join(said, ", "), nil
	})
}

func weigh(ctx context.Context, a *barn.Act, id int64, stage yield.Stage, text string, in Pasted) error {
	if text == "" {
		return nil
	}
	return weighAt(ctx, a, id, stage, text, "", in)
}

// usualStep is the step of a scale that nobody named.
const usualStep = "1/4 oz"

func weighAt(ctx context.Context, a *barn.Act, id int64, stage yield.Stage, text, step string, in Pasted) error {
	if _, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64); err == nil && in.Unit != "" {
		text += " " + in.Unit
	}
	if step == "" {
		step = usualStep
	}
	if _, err := units.ParseMass(text); err != nil {
		return fault.In(string(stage), err)
	}
	_, err := rest.Weigh.Make(ctx, a, &barn.With[rest.WeighingInput]{ByID: barn.ByID{ID: id}, Body: rest.WeighingInput{Stage: stage, Weight: text,
		Resolution: step, Why: in.Why}})
	return err
}

func cutNamed(ctx context.Context, a *barn.Act, name string) (int64, error) {
	cuts, err := a.Store.Cuts(ctx, a.TrialID)
	if err != nil {
		return 0, err
	}
	i := slices.IndexFunc(cuts, func(c store.Cut) bool { return strings.EqualFold(c.Name, strings.TrimSpace(name)) })
	if i < 0 {
		return 0, fault.New("name", fmt.Sprintf("there is no cut %.20q", name), "name it as on the rail, or hang it first")
	}
	return cuts[i].ID, nil
}

func pasteScores(ctx context.Context, a *barn.Act, in *barn.With[Pasted]) (PasteReport, error) {
	tasters, err := a.Store.Tasters(ctx, a.TrialID)
	if err != nil {
		return PasteReport{}, err
	}
	columns := []sheet.Column{{Key: "taster", Heads: []string{"taster", "name", "who"}, Needed: true}, {Key: "code",
		Heads: []string{"code", "sample", "sample code"}, Needed: true}}
	for _, d := range trial.Catalogue {
		if d.Kind == trial.FromPanel {
			columns = append(columns, sheet.Column{Key: "score " + string(d.Key), Heads: []string{strings.ToLower(d.Name), strings.ReplaceAll(string(d.Key), "_", " ")}})
		}
	}
	// A ballot is typed in whole: the rows of a taster are taken together, at the last of them.
	ballots := map[string]*table.PaperInput{}
	last := map[string]int{}
	read, err := sheet.Read(in.Body.Text, columns)
	if err != nil {
		return PasteReport{}, err
	}
	for _, r := range read.Rows {
		last[strings.ToLower(r.Cells["taster"])] = r.Line
	}
	return each(ctx, a, in.Body, columns, func(ctx context.Context, row barn.Act, r sheet.Row) (string, error) {
		name := strings.ToLower(r.Cells["taster"])
		i := slices.IndexFunc(tasters, func(t store.Taster) bool { return strings.EqualFold(t.Name, name) })
		if i < 0 {
			return "", fault.New("taster", fmt.Sprintf("nobody at this table is called %.30q", r.Cells["taster"]), "name tasters as they were seated")
		}
		b := ballots[name]
		if b == nil {
			b = &table.PaperInput{TasterID: tasters[i].ID, Samples: map[string]table.PaperMarks{}}
			ballots[name] = b
		}
		marks := table.PaperMarks{Scores: map[string]int{}, Faults: []string{}}
		for key, text := range r.Cells {
			attribute, ok := strings.CutPrefix(key, "score ")
			if !ok {
				continue
			}
			v, err := strconv.Atoi(text)
			if err != nil {
				return "", fault.New(attribute, fmt.Sprintf("%.20q is not a score", text), "give whole points")
			}
			marks.Scores[attribute] = v
		}
		marks.Excused = len(marks.Scores) == 0
		b.Samples[r.Cells["code"]] = marks
		said := fmt.Sprintf("%s, %s", tasters[i].Name, r.Cells["code"])
		if last[name] != r.Line {
			return said, nil
		}
		out, err := table.TypeBallot.Make(ctx, &row, &barn.With[table.PaperInput]{ByID: in.ByID, Body: *b})
		if err == nil && len(out.Differs) > 0 {
			err = fault.New("code", "the ballot reads otherwise on "+strings.Join(out.Differs, ", "), "compare it with the paper; what is sealed stays")
		}
		return said, err
	})
}

// each takes the rows one by one, each by itself: one that is refused leaves nothing.
func each(ctx context.Context, a *barn.Act, in Pasted, columns []sheet.Column, take func(context.Context, barn.Act, sheet.Row) (string,
	error)) (PasteReport, error) {
	if in.Unit != "" && !slices.Contains([]string{"lb", "oz", "kg", "g"}, in.Unit) {
		return PasteReport{}, fault.New("unit", fmt.Sprintf("%.10q is not a unit of weight", in.Unit), "use lb, oz, kg or g")
	}
	t, err := sheet.Read(in.Text, columns)
	if err != nil {
		return PasteReport{}, err
	}
	out := PasteReport{Columns: []string{}, Unknown: []string{}, Rows: []RowSaid{}}
	known := map[string]bool{}
	for _, c := range columns {
		known[c.Key] = true
	}
	for _, r := range t.Rows {
		for key := range r.Cells {
			switch {
			case known[key] && !slices.Contains(out.Columns, strings.TrimPrefix(key, "score ")):
				out.Columns = append(out.Columns, strings.TrimPrefix(key, "score "))
			case !known[key] && !slices.Contains(out.Unknown, key):
				out.Unknown = append(out.Unknown, key)
			}
		}
		said := RowSaid{Line: r.Line}
		err := a.Store.InTx(ctx, func(tx *store.Store) (err error) {
			row := *a
			row.Store = tx
			said.Says, err = take(ctx, row, r)
			return err
		})
		if err != nil {
			if said.Problem, said.Remedy, err = worded(err); err != nil {
				return out, err
			}
			out.Bad++
		} else {
			out.Good++
		}
		out.Rows = append(out.Rows, said)
	}
	slices.Sort(out.Columns)
	slices.Sort(out.Unknown)
	out.Kept = in.Keep && out.Good > 0 && !(in.All && out.Bad > 0)
	if !out.Kept {
		return out, notKept{out}
	}
	return out, nil
}

// worded is a refusal in words; what is no refusal is an error.
func worded(err error) (problem, remedy string, _ error) {
	var one *fault.Error
	var many fault.List
	var refused *barn.Refusal
	switch {
	case errors.As(err, &refused):
		return refused.Title, refused.Remedy, nil
	case errors.As(err, &many) && len(many) > 0:
		return many[0].Field + ": " + many[0].Problem, many[0].Remedy, nil
	case errors.As(err, &one):
		return one.Field + ": " + one.Problem, one.Remedy, nil
	}
	return "", "", err
}
