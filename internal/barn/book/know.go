package book

import (
	"context"
	"slices"
	"strings"
	"time"

	"whitebarn/core/know"
	"whitebarn/core/trial"
	"whitebarn/core/verdict"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// MapCell is one factor of one product on the open map.
type MapCell struct {
	ProductID int64         `json:"product_id"`
	FactorID  int64         `json:"factor_id"`
	Settled   int           `json:"settled"`
	Open      int           `json:"open"`
	Levels    []string      `json:"levels"` // of the last trial
	Says      string        `json:"says"`   // what is settled, or asked
	Series    []SeriesTrial `json:"series"` // its trials, the first first
}

// SeriesTrial is one trial of a series.
type SeriesTrial struct {
	TrialID   int64  `json:"trial_id"`
	Question  string `json:"question"`
	Settled   bool   `json:"settled"`
	Headline  string `json:"headline"`
	FollowsID *int64 `json:"follows_id"`
}

// MapChoice is something that can be asked of.
type MapChoice struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// MapView is what was tried, what is settled, and what never was.
type MapView struct {
	Products []MapChoice `json:"products"`
	Factors  []MapChoice `json:"factors"`
	Cells    []MapCell   `json:"cells"`
	Settled  int         `json:"settled"`
	Open     int         `json:"open"`
	Never    int         `json:"never"`
}

// Map reads the open map: factors down, products across.
func (d *Desk) Map(ctx context.Context, _ *barn.Barn) (MapView, error) {
	out := MapView{Products: []MapChoice{}, Factors: []MapChoice{}, Cells: []MapCell{}}
	rows, err := d.store.Map(ctx)
	if err != nil {
		return out, err
	}
	catalogue, err := d.store.Catalogue(ctx)
	if err != nil {
		return out, err
	}
	at := map[[2]int64]*MapCell{}
	for _, r := range rows {
		out.Products, out.Factors = choose(out.Products, r.ProductID, r.Product), choose(out.Factors, r.FactorID, r.Factor)
		key := [2]int64{r.ProductID, r.FactorID}
		c := at[key]
		if c == nil {
			c = &MapCell{ProductID: r.ProductID, FactorID: r.FactorID, Levels: r.Levels, Series: []SeriesTrial{}}
			at[key] = c
		}
		c.add(r)
	}
	for _, f := range catalogue { // what the barn could vary, and never did
		if len(out.Factors) < leastRows && !f.Retired && !slices.ContainsFunc(out.Factors, func(c MapChoice) bool { return c.ID == f.ID }) {
			out.Factors = append(out.Factors, MapChoice{f.ID, f.Name})
		}
	}
	for _, f := range out.Factors {
		for _, p := range out.Products {
			c := at[[2]int64{p.ID, f.ID}]
			if c == nil {
				out.Never++
				continue
			}
			slices.Reverse(c.Series)
			out.Settled += c.Settled
			out.Open += c.Open
			out.Cells = append(out.Cells, *c)
		}
	}
	return out, nil
}

// leastRows of the map, filled with what was never tried.
const leastRows = 8

func choose(all []MapChoice, id int64, name string) []MapChoice {
	if slices.ContainsFunc(all, func(c MapChoice) bool { return c.ID == id }) {
		return all
	}
	return append(all, MapChoice{id, name})
}

// add counts a trial, the newest first: one that ended without a word stays open.
func (c *MapCell) add(r store.MapRow) {
	s := SeriesTrial{TrialID: r.TrialID, Question: r.Question, FollowsID: r.FollowsID}
	if r.Headline != nil {
		s.Headline = *r.Headline
	}
	told := r.Word != nil && *r.Word != "" && *r.Word != verdict.CannotTell
	if r.RevealedAt != nil && told {
		c.Settled++
		s.Settled = true
		if c.Says == "" {
			c.Says = strings.Join(r.Levels, " or ") + ": " + string(*r.Word)
		}
	} else {
		c.Open++
	}
	c.Series = append(c.Series, s)
	if c.Says == "" {
		c.Says = strings.Join(r.Levels, " or ")
	}
}

// KnowQuery asks what is known: in words, or by what was chosen.
type KnowQuery struct {
	Text      string           `form:"text" binding:"max=200"`
	ProductID int64            `form:"product"`
	FactorID  int64            `form:"factor"`
	First     int64            `form:"first"`
	Second    int64            `form:"second"`
	Outcome   trial.OutcomeKey `form:"outcome" binding:"max=60"`
}

// Known is what the house knows, and what else can be asked.
type Known struct {
	Answer   *know.KnowAnswer       `json:"answer"` // nil where the words name nothing that was tried
	Query    KnowChosen             `json:"query"`
	Products []MapChoice            `json:"products"`
	Factors  []MapChoice            `json:"factors"`
	Levels   []MapChoice            `json:"levels"`
	Outcomes []trial.OutcomeDefault `json:"outcomes"`
	Says     string                 `json:"says"` // where there is no answer
}

// KnowChosen is what a question came to.
type KnowChosen struct {
	ProductID int64            `json:"product_id"`
	FactorID  int64            `json:"factor_id"`
	First     int64            `json:"first"`
	Second    int64            `json:"second"`
	Outcome   trial.OutcomeKey `json:"outcome"`
}

// Know answers what the house knows of two levels of a factor, for a product and an outcome.
func (d *Desk) Know(ctx context.Context, b *barn.Barn, in *KnowQuery) (Known, error) {
	out := Known{Levels: []MapChoice{}, Outcomes: []trial.OutcomeDefault{}}
	m, err := d.Map(ctx, b)
	if err != nil {
		return out, err
	}
	out.Products = m.Products
	catalogue, err := d.store.Catalogue(ctx)
	if err != nil {
		return out, err
	}
	tried := map[int64]bool{}
	for _, c := range m.Cells {
		tried[c.FactorID] = true
	}
	out.Factors = slices.DeleteFunc(slices.Clone(m.Factors), func(c MapChoice) bool { return !tried[c.ID] })
	q := KnowChosen{in.ProductID, in.FactorID, in.First, in.Second, in.Outcome}
	words := tokens(in.Text)
	if q.ProductID == 0 {
		q.ProductID = match(words, out.Products)
	}
	if q.FactorID == 0 {
		q.FactorID = factorIn(words, out.Factors, catalogue)
	}
	q.fallback(m)
	out.Query = q
	if q.ProductID == 0 || q.FactorID == 0 {
		out.Says = "Nothing is known yet. The first settled trial is the first thing the house knows."
		return out, nil
	}
	effects, err := d.store.KnownEffects(ctx, q.ProductID, q.FactorID)
	if err != nil {
		return out, err
	}
	return out, d.answer(ctx, &out, effects, catalogue, words)
}

// fallback is the cell that knows most, where the words name none.
func (q *KnowChosen) fallback(m MapView) {
	best := -1
	for i, c := range m.Cells {
		if (q.ProductID == 0 || c.ProductID == q.ProductID) && (q.FactorID == 0 || c.FactorID == q.FactorID) && (best < 0 || c.Settled > m.Cells[best].Settled) {
			best = i
		}
	}
	if best >= 0 {
		q.ProductID, q.FactorID = m.Cells[best].ProductID, m.Cells[best].FactorID
	}
}

// answer pools what the trials of a factor showed of two of its levels.
func (d *Desk) answer(ctx context.Context, out *Known, effects []store.KnownEffect, catalogue []store.CatalogueFactor, words []string) error {
	factor, product := "", ""
	for _, f := range catalogue {
		if f.ID != out.Query.FactorID {
			continue
		}
		factor = f.Name
		for _, l := range f.Levels {
			if slices.ContainsFunc(effects, func(e store.KnownEffect) bool { return e.First == l.ID || e.Second == l.ID }) {
				out.Levels = append(out.Levels, MapChoice{l.ID, strings.TrimSpace(l.Value + " " + f.Unit)})
			}
		}
	}
	for _, p := range out.Products {
		if p.ID == out.Query.ProductID {
			product = p.Name
		}
	}
	if len(effects) == 0 {
		out.Says = "Nothing is settled yet of " + factor + " for " + product + "."
		return nil
	}
	q := &out.Query
	q.pair(effects, named(words, q.FactorID, catalogue))
	ids := []int64{}
	for _, e := range effects {
		ids = append(ids, e.TrialID)
		if between(e, *q) && !slices.ContainsFunc(out.Outcomes, func(o trial.OutcomeDefault) bool { return o.Key == e.Key }) {
			out.Outcomes = append(out.Outcomes, outcomeOf(e.Key))
		}
	}
	q.outcome(words, out.Outcomes)
	var shown []know.ShownBy
	smallest := 0.0
	for _, e := range effects {
		if !between(e, *q) || e.Key != q.Outcome {
			continue
		}
		shown = append(shown, turned(e, q.First))
		smallest = max(smallest, e.Smallest)
	}
	cooks, err := d.cooks(ctx, *q)
	if err != nil {
		return err
	}
	a := know.Pool(shown, cooks, outcomeOf(q.Outcome), smallest)
	a.Factor, a.Product = factor, product
	for i, id := range []int64{q.First, q.Second} {
		for _, l := range out.Levels {
			if l.ID == id {
				a.Levels[i] = l.Name
			}
		}
	}
	a.Others = out.Outcomes
	a.Say()
	out.Answer = &a
	return d.trend(ctx, &a, ids, q.Outcome)
}

// trend adds the newest trend of the factor that a trial had.
func (d *Desk) trend(ctx context.Context, a *know.KnowAnswer, ids []int64, key trial.OutcomeKey) error {
	results, err := d.store.LastResults(ctx, ids...)
	if err != nil {
		return err
	}
	for _, id := range ids {
		for _, row := range results[id].Rows {
			if row.Outcome.Key == key && row.Trend != nil && a.Trend == nil {
				a.Trend, a.TrendOf = row.Trend, id
			}
		}
	}
	return nil
}

// cooks are the differences of all cooks of the house of two levels, first less second.
func (d *Desk) cooks(ctx context.Context, q KnowChosen) (out []float64, err error) {
	all, err := d.store.Contrasts(ctx, q.ProductID)
	for _, c := range all {
		switch {
		case c.Key != q.Outcome:
		case c.First == q.First && c.Second == q.Second:
			out = append(out, c.Difference)
		case c.First == q.Second && c.Second == q.First:
			out = append(out, -c.Difference)
		}
	}
	return out, err
}

// between says whether an effect is of the two levels.
func between(e store.KnownEffect, q KnowChosen) bool {
	return e.First == q.First && e.Second == q.Second || e.First == q.Second && e.Second == q.First
}

// turned is an effect as first less second.
func turned(e store.KnownEffect, first int64) know.ShownBy {
	s := know.ShownBy{TrialID: e.TrialID, Question: e.Question, At: day(e.At), Estimate: e.Estimate, SE: e.SE, DF: e.DF, Units: e.Units, Word: e.Word,
		Reach: e.Reach, Limited: e.Limited, Setting: e.Setting}
	if e.First != first {
		s.Estimate = -s.Estimate
		s.Setting.Tags = [2]string{e.Setting.Tags[1], e.Setting.Tags[0]}
		s.Setting.Means = [2]*float64{e.Setting.Means[1], e.Setting.Means[0]}
	}
	return s
}

// outcomeOf is the catalogue's row of a key, or a bare one of the team's own.
func outcomeOf(key trial.OutcomeKey) trial.OutcomeDefault {
	if d, ok := trial.DefaultOf(key); ok {
		return d
	}
	return trial.OutcomeDefault{Key: key, Name: strings.TrimPrefix(string(key), "own "), Better: trial.Up}
}

// day is a moment's day.
func day(t time.Time) string { return t.UTC().Format(time.RFC3339) }
