package table

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/trial"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Attribute is a rule of nine cells on the ballot.
type Attribute struct {
	Key  trial.OutcomeKey `json:"key"`
	Name string           `json:"name"`
	Low  string           `json:"low"`
	High string           `json:"high"`
}

// PlateSample is one sample of a plate: its code and whether it is closed.
type PlateSample struct {
	Code    string `json:"code"`
	Sealed  bool   `json:"sealed"`
	Excused bool   `json:"excused"`
	Struck  bool   `json:"struck"` // do not eat
}

// PlateView is one flight as its taster sees it.
type PlateView struct {
	Flight      int           `json:"flight"`
	Samples     []PlateSample `json:"samples"`
	Advised     bool          `json:"advised"`     // some of it is below the usual minimum
	Told        bool          `json:"told"`        // and the taster knows
	Susceptible bool          `json:"susceptible"` // and it is not for them
}

// TasteView is all a taster is sent. There is nothing in it that differs
// between arms: no cut, no arm, no hand, nobody else's scores.
type TasteView struct {
	Taster     string      `json:"taster"`
	Product    string      `json:"product"`
	Allergens  []string    `json:"allergens"` // of all samples together
	Attributes []Attribute `json:"attributes"`
	Faults     []string    `json:"faults"`
	Plates     []PlateView `json:"plates"`
	Closed     bool        `json:"closed"` // the codes are open, tasting is over
}

// SealInput closes one sample: a score for every attribute, or an excuse.
type SealInput struct {
	Flight  int            `json:"flight"`
	Scores  map[string]int `json:"scores" binding:"max=100"`
	Faults  []string       `json:"faults" binding:"max=100"`
	Excused bool           `json:"excused"`
}

// ToldInput says that a taster was told of meat below its usual minimum on a plate, and
// whether they are of those who should not eat it.
type ToldInput struct {
	Flight      int  `json:"flight"`
	Susceptible bool `json:"susceptible"`
}

// faults are what a taster can tick.
var faults = []string{"sour", "bitter", "too salty", "greasy"}

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
	_, v, err := plate(ctx, b.Store, t)
	return v, err
}

// Seal closes one sample of a taster's plate.
func Seal(ctx context.Context, b *barn.Barn, t store.Taster, code string, in SealInput) (TasteView, error) {
	return atPlate(ctx, b, t, func(tx *store.Store) error { return seal(ctx, tx, t, code, in) })
}

// Tell keeps that a taster was told of meat below its usual minimum.
func Tell(ctx context.Context, b *barn.Barn, t store.Taster, in ToldInput) (TasteView, error) {
	return atPlate(ctx, b, t, func(tx *store.Store) error {
		plates, _, err := plate(ctx, tx, t)
		for _, p := range plates {
			if p.Flight == in.Flight {
				err = errors.Join(err, tx.Tell(ctx, p.BallotID, in.Susceptible))
			}
		}
		return err
	})
}

// atPlate makes a change of a taster's own plate: tasters of a trial follow each other.
func atPlate(ctx context.Context, b *barn.Barn, t store.Taster, write func(*store.Store) error) (TasteView, error) {
	c := barn.Change{TrialID: t.TrialID, Kind: barn.Design}
	if err := barn.Within(ctx, b.Store, c, func(tx *store.Store, _ barn.State) error { return write(tx) }); err != nil {
		return TasteView{}, err
	}
	return Plate(ctx, b, t)
}

// plate reads the plate of a taster, and what of it they may see.
func plate(ctx context.Context, s *store.Store, t store.Taster) ([]store.Plate, TasteView, error) {
	var v TasteView
	tr, err := s.Trial(ctx, t.TrialID)
	if err != nil {
		return nil, v, err
	}
	plates, err := s.Plates(ctx, t.ID)
	if err != nil {
		return nil, v, err
	}
	v = TasteView{Taster: t.Name, Product: tr.Ask.Product, Allergens: tr.Ask.Allergens, Attributes: attributes(tr.Ask), Faults: faults,
		Plates: []PlateView{}, Closed: tr.RevealedAt != nil}
	for _, p := range plates {
		pv := PlateView{Flight: p.Flight, Samples: []PlateSample{}, Told: p.Told, Susceptible: p.Susceptible}
		for _, x := range p.Servings {
			pv.Samples = append(pv.Samples, PlateSample{Code: x.Code, Sealed: x.Sealed, Excused: x.Excused, Struck: x.Struck})
			pv.Advised = pv.Advised || x.Advised
		}
		v.Plates = append(v.Plates, pv)
	}
	return plates, v, nil
}

// attributes are the tasted outcomes of a trial, overall last.
func attributes(a trial.Ask) []Attribute {
	out := []Attribute{}
	for _, overall := range []bool{false, true} {
		for _, o := range a.Outcomes {
			d, ok := trial.DefaultOf(o.Key)
			if ok && d.Kind == trial.FromPanel && (d.Key == trial.Overall) == overall {
				out = append(out, Attribute{Key: d.Key, Name: d.Name, Low: d.Low, High: d.High})
			}
		}
	}
	return out
}

// seal seals one sample, or leaves it out.
func seal(ctx context.Context, s *store.Store, t store.Taster, code string, in SealInput) error {
	plates, v, err := plate(ctx, s, t)
	if err != nil {
		return err
	}
	var found *store.Serving
	for i, p := range plates {
		if p.Flight == in.Flight && v.Plates[i].Advised && !in.Excused && (!p.Told || p.Susceptible) {
			return barn.Refuse("This plate holds meat below the usual minimum.",
				"Read the advice on your page first; leave the sample out if it is not for you.")
		}
		for i, x := range p.Servings {
			if p.Flight == in.Flight && x.Code == code {
				found = &p.Servings[i]
			}
		}
	}
	if found == nil {
		return barn.RefuseAs(barn.NotThere, "There is no "+code+" on your plate.", "Check the code on the cup.")
	}
	flight, err := s.Flight(ctx, found.FlightID)
	if err != nil {
		return err
	}
	if flight.Opened {
		return barn.Refuse("The codes of this flight are open, so its tasting is over.", "Thank you all the same.")
	}
	sealed := store.Sealed{Scores: in.Scores, Faults: in.Faults, Excused: in.Excused}
	if err := checkSeal(v.Attributes, sealed); err != nil {
		return err
	}
	err = s.Seal(ctx, found.BallotID, found.SampleID, sealed)
	switch {
	case errors.Is(err, store.ErrStruck):
		return barn.Refuse("Do not eat "+code+": it was stopped.", "Set the cup aside and tell the carver.")
	case errors.Is(err, store.ErrConflict):
		return barn.Refuse(code+" is sealed with other scores.", "Sealed scores stay shut.")
	}
	return err
}

func checkSeal(attributes []Attribute, v store.Sealed) error {
	var wrong fault.List
	if v.Excused && len(v.Scores) > 0 {
		wrong.Add("scores", "an excused sample has scores", "send either")
	}
	known := map[string]bool{}
	for _, a := range attributes {
		known[string(a.Key)] = true
		value, given := v.Scores[string(a.Key)]
		switch {
		case !given && !v.Excused:
			wrong.Add("scores."+string(a.Key), a.Name+" is unanswered", "tap a number from 1 to 9")
		case given && (value < 1 || value > 9):
			wrong.Add("scores."+string(a.Key), fmt.Sprintf("%d is not on the rule", value), "tap a number from 1 to 9")
		}
	}
	for key := range v.Scores {
		if !known[key] {
			wrong.Add("scores."+key, "that is not asked", "leave it out")
		}
	}
	for _, f := range v.Faults {
		if !slices.Contains(faults, f) {
			wrong.Add("faults", fmt.Sprintf("%q is not on the list", f), "tick one of the list")
		}
	}
	return wrong.Err()
}
