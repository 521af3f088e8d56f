package table

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// PlateSample is one sample of a plate: its code and whether it is closed.
type PlateSample struct {
	Code    string `json:"code"`
	Sealed  bool   `json:"sealed"`
	Excused bool   `json:"excused"`
	Struck  bool   `json:"struck"` // do not eat
	WarmUp  bool   `json:"warm_up"`
	Is      string `json:"is"` // what it is, for a taster who knows the codes anyhow; else empty
}

// PlateView is one flight as its taster sees it.
type PlateView struct {
	Flight      int           `json:"flight"`
	Sheet       panel.Sheet   `json:"sheet"`
	Samples     []PlateSample `json:"samples"`
	Open        bool          `json:"open"`        // its taster knows the codes
	Ended       bool          `json:"ended"`       // nothing more is asked
	Paused      bool          `json:"paused"`      // the host has everybody wait
	Advised     bool          `json:"advised"`     // some of it is below the usual minimum
	Told        bool          `json:"told"`        // and the taster knows
	Susceptible bool          `json:"susceptible"` // and it is not for them
}

// TasteView is all a taster is sent. There is nothing in it that differs between arms for
// whoever tastes blind: no cut, no arm, no hand, nobody else's scores.
type TasteView struct {
	Taster    string      `json:"taster"`
	Product   string      `json:"product"`
	Allergens []string    `json:"allergens"` // of all samples together
	Plates    []PlateView `json:"plates"`
	Closed    bool        `json:"closed"` // the codes are open, tasting is over
	Was       []WasSample `json:"was"`    // then, if the host shares it: what they tasted
}

// WasSample is what one sample was, and what its taster gave it.
type WasSample struct {
	Flight int        `json:"flight"`
	Code   string     `json:"code"`
	Cut    string     `json:"cut"`
	Arm    string     `json:"arm"`
	Gave   []GaveLine `json:"gave"`
}

// GaveLine is what was given on one attribute.
type GaveLine struct {
	Name  string `json:"name"`
	Value int    `json:"value"`
	Most  int    `json:"most"`
}

// SealInput closes one sample: a score for every attribute, or an excuse.
type SealInput struct {
	Flight  int            `json:"flight"`
	Scores  map[string]int `json:"scores" binding:"max=100"`
	Faults  []string       `json:"faults" binding:"max=100"`
	Excused bool           `json:"excused"`
}

// AnswerInput ends a plate with what is said of it as one.
type AnswerInput struct {
	Flight int `json:"flight"`
	panel.Answer
}

// ToldInput says that a taster was told of meat below its usual minimum on a plate, and
// whether they are of those who should not eat it.
type ToldInput struct {
	Flight      int  `json:"flight"`
	Susceptible bool `json:"susceptible"`
}

// TasterOf finds the taster behind a link. A link that this barn did not sign is no
// taster's; whoever tries many of them is to be slowed down.
func TasterOf(ctx context.Context, b *barn.Barn, token string) (t store.Taster, signed bool, err error) {
	unknown := barn.RefuseAs(barn.NotThere, "This link leads to no plate.", "Scan the code on your place card again.")
	house, err := b.Store.Barn(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return t, true, unknown
	}
	if err != nil {
		return t, true, err
	}
	id, ok := auth.TasterOf(house.Secret, token)
	if !ok {
		return t, false, unknown
	}
	t, err = b.Store.Taster(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		err = unknown
	}
	return t, true, err
}

// Plate is all that a taster is sent.
func Plate(ctx context.Context, b *barn.Barn, t store.Taster) (TasteView, error) {
	tr, err := b.Store.AtTable(ctx, t.TrialID)
	if err != nil {
		return TasteView{}, err
	}
	_, v, err := seat{b.Store, tr, t}.plate(ctx)
	return v, err
}

// seat is a taster at the table of a trial.
type seat struct {
	*store.Store
	trial  store.Trial
	taster store.Taster
}

// Seal closes one sample of a taster's plate, from their phone.
func Seal(ctx context.Context, b *barn.Barn, t store.Taster, phone int64, code string, in SealInput) (TasteView, error) {
	return atPlate(ctx, b, t, func(at seat) error { return at.seal(ctx, store.Origin{PhoneID: &phone}, code, in) })
}

// Answer ends a taster's plate with what they say of it as one.
func Answer(ctx context.Context, b *barn.Barn, t store.Taster, phone int64, in AnswerInput) (TasteView, error) {
	return atPlate(ctx, b, t, func(at seat) error { return at.answer(ctx, store.Origin{PhoneID: &phone}, in) })
}

// Tell keeps that a taster was told of meat below its usual minimum.
func Tell(ctx context.Context, b *barn.Barn, t store.Taster, in ToldInput) (TasteView, error) {
	return atPlate(ctx, b, t, func(at seat) error {
		p, _, err := at.plateOf(ctx, in.Flight)
		if err != nil {
			return err
		}
		return at.Tell(ctx, p.BallotID, in.Susceptible)
	})
}

// Consent keeps that a taster read what is in the samples, and wants to taste.
func Consent(ctx context.Context, b *barn.Barn, t store.Taster) (TasteView, error) {
	return atPlate(ctx, b, t, func(at seat) error { return at.Consent(ctx, t.ID) })
}

// atPlate makes a change of a taster's own plate, beside those of others, and reads it after.
func atPlate(ctx context.Context, b *barn.Barn, t store.Taster, write func(seat) error) (v TasteView, err error) {
	c := barn.Change{TrialID: t.TrialID, Kind: barn.Design, Beside: true}
	err = barn.Within(ctx, b.Store, c, func(tx *store.Store, _ barn.State) error {
		tr, err := tx.AtTable(ctx, t.TrialID)
		if err != nil {
			return err
		}
		at := seat{tx, tr, t}
		if err := write(at); err != nil {
			return err
		}
		_, v, err = at.plate(ctx)
		return err
	})
	return v, err
}

// plate reads the plates of a taster, and what of them they may see.
func (at seat) plate(ctx context.Context) ([]store.Plate, TasteView, error) {
	ask := at.trial.Ask
	v := TasteView{Taster: at.taster.Name, Product: ask.Product, Allergens: ask.Allergens, Plates: []PlateView{}, Closed: at.trial.RevealedAt != nil,
		Was: []WasSample{}}
	plates, err := at.Plates(ctx, at.taster.ID)
	if err != nil {
		return nil, v, err
	}
	for _, p := range plates {
		var is map[string]string
		if p.Open {
			if is, err = whatItIs(ctx, at.Store, ask, p.FlightID); err != nil {
				return nil, v, err
			}
		}
		v.Plates = append(v.Plates, viewOf(ask, p, is))
	}
	if v.Closed {
		v.Was, err = wasOf(ctx, at.Store, at.taster, ask)
	}
	return plates, v, err
}

// viewOf is a plate as its taster sees it; is says what a code is to those who know.
func viewOf(a trial.Ask, p store.Plate, is map[string]string) PlateView {
	v := PlateView{Flight: p.Flight, Sheet: sheetOf(a, p), Samples: []PlateSample{}, Open: p.Open, Ended: p.Ended, Paused: p.Paused,
		Told: p.Told, Susceptible: p.Susceptible}
	for _, x := range p.Servings {
		v.Samples = append(v.Samples, PlateSample{Code: x.Code, Sealed: x.Sealed, Excused: x.Excused, Struck: x.Struck, WarmUp: x.WarmUp, Is: is[x.Code]})
		v.Advised = v.Advised || x.Advised
	}
	return v
}

// whatItIs says of each code what it is, for whoever knows the codes.
func whatItIs(ctx context.Context, s *store.Store, a trial.Ask, flightID int64) (map[string]string, error) {
	key, err := s.Key(ctx, flightID)
	if err != nil {
		return nil, err
	}
	arms, err := s.ArmsOfCuts(ctx, flightID)
	out := map[string]string{}
	for _, k := range key {
		out[k.Code] = strings.TrimSpace(a.TagOf(arms[k.CutID]) + " " + k.Cut)
	}
	return out, err
}

// wasOf is what a taster's samples were and what they gave them, once the codes are open and
// if the host shares it.
func wasOf(ctx context.Context, s *store.Store, t store.Taster, a trial.Ask) ([]WasSample, error) {
	shared, err := s.Shared(ctx, t.TrialID)
	if err != nil || !shared {
		return []WasSample{}, err
	}
	rows, err := s.GivenBy(ctx, t.ID)
	out := []WasSample{}
	known := map[string]panel.Attribute{"rank": {Name: "Place", Most: panel.MostSamples}, "picked": {Name: "Picked", Most: 1}}
	for _, x := range attributes(a) {
		known[x.Key] = x
	}
	for _, r := range rows {
		if n := len(out); n == 0 || out[n-1].Code != r.Code {
			out = append(out, WasSample{Flight: r.Flight, Code: r.Code, Cut: r.Cut, Arm: a.TagOf(r.Arm), Gave: []GaveLine{}})
		}
		w := &out[len(out)-1]
		if x, ok := known[r.Attribute]; ok {
			w.Gave = append(w.Gave, GaveLine{x.Name, r.Value, x.Most})
		}
	}
	return out, err
}

// sheetOf is what a plate asks.
func sheetOf(a trial.Ask, p store.Plate) panel.Sheet {
	rule, _ := p.Format.Rule()
	sheet := panel.Sheet{Format: p.Format, Asks: rule.Asks, Attributes: []panel.Attribute{}, Faults: []string{}, Choice: p.Choice, SecondLook: p.SecondLook,
		Bites: p.Bites, WaterS: p.WaterS}
	if !rule.Whole {
		sheet.Attributes, sheet.Faults = attributes(a), a.FaultWords()
	}
	return sheet
}

// attributes are the tasted outcomes of a trial: looks first, overall last.
func attributes(a trial.Ask) []panel.Attribute {
	out := []panel.Attribute{}
	for _, o := range a.Outcomes {
		if d, ok := o.Outcome(); ok && d.Kind == trial.FromPanel {
			scale := panel.Nine
			if d.Right {
				scale = panel.Right
			}
			out = append(out, panel.Attribute{Key: string(d.Key), Name: d.Name, Low: d.Low, High: d.High, Scale: scale, Most: scale.Most(), Look: d.Look})
		}
	}
	return panel.InOrder(out, string(trial.Overall))
}

// plateOf finds a taster's plate of a flight that still takes something.
func (at seat) plateOf(ctx context.Context, number int) (store.Plate, PlateView, error) {
	plates, v, err := at.plate(ctx)
	if err != nil {
		return store.Plate{}, PlateView{}, err
	}
	i := slices.IndexFunc(plates, func(p store.Plate) bool { return p.Flight == number })
	switch {
	case i < 0:
		err = barn.RefuseAs(barn.NotThere, fmt.Sprintf("There is no flight %d on your plate.", number), "Load the page again.")
	case plates[i].Opened:
		err = barn.Refuse("The codes of this flight are open, so its tasting is over.", "Thank you all the same.")
	default:
		return plates[i], v.Plates[i], nil
	}
	return store.Plate{}, PlateView{}, err
}

// mayEat refuses scores of a plate below the usual minimum from a taster who was not told, or
// for whom it is not.
func mayEat(v PlateView) error {
	if v.Advised && (!v.Told || v.Susceptible) {
		return barn.Refuse("This plate holds meat below the usual minimum.",
			"Read the advice on your page first; leave the sample out if it is not for you.")
	}
	return nil
}

// seal seals one sample, or leaves it out.
func (at seat) seal(ctx context.Context, from store.Origin, code string, in SealInput) error {
	p, v, err := at.plateOf(ctx, in.Flight)
	if err != nil {
		return err
	}
	if !in.Excused {
		if err := mayEat(v); err != nil {
			return err
		}
	}
	i := slices.IndexFunc(p.Servings, func(x store.Serving) bool { return x.Code == code })
	if i < 0 {
		return barn.RefuseAs(barn.NotThere, "There is no "+code+" on your plate.", "Check the code on the cup.")
	}
	marks := panel.Marks{Scores: in.Scores, Faults: in.Faults, Excused: in.Excused}
	if v.Sheet.Whole() && !in.Excused {
		return barn.Refuse("This plate is answered as one.", "Taste all of it, then answer below.")
	}
	if err := v.Sheet.CheckMarks(marks); err != nil {
		return err
	}
	err = at.Seal(ctx, p.BallotID, p.Servings[i].SampleID, store.Sealed{Scores: in.Scores, Faults: in.Faults, Excused: in.Excused, Origin: from})
	switch {
	case errors.Is(err, store.ErrStruck):
		return barn.Refuse("Do not eat "+code+": it was stopped.", "Set the cup aside and tell the carver.")
	case errors.Is(err, store.ErrConflict):
		return barn.Refuse(code+" is sealed with other scores.", "Sealed scores stay shut.")
	}
	return err
}

// answer ends a plate with what is said of it as one.
func (at seat) answer(ctx context.Context, from store.Origin, in AnswerInput) error {
	p, v, err := at.plateOf(ctx, in.Flight)
	if err != nil {
		return err
	}
	if err := mayEat(v); err != nil {
		return err
	}
	var codes []string
	for _, x := range p.Servings {
		switch {
		case x.Excused, x.Struck, x.WarmUp:
			if v.Sheet.Whole() && !x.WarmUp && v.Sheet.Format != panel.ByRanks {
				return barn.Refuse("A sample of this plate is left out or stopped, so it cannot be answered.", "Leave the others out too.")
			}
		case !v.Sheet.Whole() && !x.Sealed:
			return barn.Refuse(x.Code+" is not sealed yet.", "Seal every sample first.")
		default:
			codes = append(codes, x.Code)
		}
	}
	in.Reason = strings.TrimSpace(in.Reason)
	if err := v.Sheet.CheckAnswer(codes, in.Answer); err != nil {
		return err
	}
	err = at.Answer(ctx, p, in.Answer, from)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("This plate is sealed with another answer.", "Sealed answers stay shut.")
	}
	return err
}
