package table

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/core/panel"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// PlateInput gives a taster who came late a plate of a flight that is served.
type PlateInput struct {
	TasterID int64 `json:"taster_id"`
	Open     bool  `json:"open"` // they know the codes
}

// addPlate serves a flight to one more, in the order that leaves it most even.
func addPlate(ctx context.Context, a *barn.Act, in *barn.With[PlateInput]) error {
	f, err := a.Store.Flight(ctx, in.ID)
	if err != nil {
		return err
	}
	t, err := a.Store.Taster(ctx, in.Body.TasterID)
	switch {
	case errors.Is(err, store.ErrNotFound) || err == nil && t.TrialID != a.TrialID:
		return fault.New("taster_id", "that taster is not at this table", "add them first")
	case err != nil:
		return err
	case f.Closed || f.Opened:
		return barn.Refuse("This flight is closed.", "Serve another flight.")
	case f.Shuffled:
		return barn.Refuse("These cups were shuffled by one taster alone.", "Serve another flight, with somebody who carves.")
	}
	served, err := a.Store.FlightPlates(ctx, in.ID)
	if err != nil {
		return err
	}
	key, err := a.Store.Key(ctx, in.ID)
	if err != nil {
		return err
	}
	r, err := newRand()
	if err != nil {
		return err
	}
	ids, warm := inPairs(key, f.Format)
	at := map[int64]int{}
	for i, id := range ids {
		at[id] = i
	}
	var orders [][]int
	for _, p := range served {
		var order []int
		for _, v := range p.Servings {
			if i, ok := at[v.SampleID]; ok {
				order = append(order, i)
			}
		}
		orders = append(orders, order)
	}
	plate := warm
	for _, i := range (panel.Serving{Format: f.Format}).LateOrder(r, len(ids), orders) {
		plate = append(plate, ids[i])
	}
	open := in.Body.Open || t.PersonID != nil && f.CarverID != nil && *t.PersonID == *f.CarverID
	if f.CarverID == nil && !open {
		return fault.New("open", "everybody at this table knows the codes", "mark this taster as knowing them too")
	}
	err = a.Store.AddBallot(ctx, in.ID, t.ID, open, plate)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse(t.Name+" has a plate of this flight.", "Load the page again.")
	}
	return err
}

// inPairs are the samples of a flight by number, and its warm-up apart. Those of a test of
// three come in pairs of one piece, as its rows count them.
func inPairs(key []store.KeyLine, f panel.Format) (ids, warm []int64) {
	if _, ok := f.Method(); ok {
		key = slices.Clone(key)
		slices.SortStableFunc(key, func(a, b store.KeyLine) int {
			return cmp.Or(cmp.Compare(a.CutID, b.CutID), cmp.Compare(a.Place, b.Place))
		})
	}
	for _, k := range key {
		if k.WarmUp {
			warm = append(warm, k.SampleID)
		} else {
			ids = append(ids, k.SampleID)
		}
	}
	return ids, warm
}

// LeftOutInput leaves samples out that are still open, with a reason: all of a taster who
// leaves, one code of a plate that was dropped, or a code for everybody.
type LeftOutInput struct {
	TasterID *int64 `json:"taster_id"`
	Code     string `json:"code" binding:"max=3"`
	Why      string `json:"why" binding:"required,max=200,reason"`
}

func leaveOut(ctx context.Context, a *barn.Act, in *barn.With[LeftOutInput]) error {
	if in.Body.TasterID == nil && in.Body.Code == "" {
		return fault.New("taster_id", "it is not said what is left out", "name a taster, a code, or both; or close the flight")
	}
	n, err := a.Store.LeaveOut(ctx, a.Who.ID, store.LeftOut{FlightID: in.ID, TasterID: in.Body.TasterID, Code: in.Body.Code, Why: in.Body.Why})
	if err == nil && n == 0 {
		return barn.Refuse("Nothing of that is still open.", "What is sealed stays sealed.")
	}
	return err
}

// PaceInput has the tasters of a flight wait or go on, and says how long water takes from now.
type PaceInput struct {
	Paused bool `json:"paused"`
	WaterS int  `json:"water_s"`
}

func setPace(ctx context.Context, a *barn.Act, in *barn.With[PaceInput]) error {
	if in.Body.WaterS < 0 || in.Body.WaterS > mostWaterS {
		return fault.New(wrongWater(in.Body.WaterS))
	}
	return a.Store.SetPace(ctx, in.ID, in.Body.Paused, in.Body.WaterS)
}

func wrongWater(s int) (field, problem, remedy string) {
	return "water_s", fmt.Sprintf("%d seconds of water", s), fmt.Sprintf("say 0 to %d", mostWaterS)
}

// closeFlight closes a flight before every ballot is locked: what is open is left out.
func closeFlight(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	plates, err := a.Store.FlightPlates(ctx, in.ID)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(plates, func(p store.Plate) bool { return !p.Ended }) {
		return barn.Refuse("Every ballot of this flight is locked.", "There is nothing to close.")
	}
	if err := a.Store.CloseFlight(ctx, a.Who.ID, in.ID, in.Body.Why); err != nil {
		if errors.Is(err, store.ErrConflict) {
			return barn.Refuse("This flight is closed already.", "Load the page again.")
		}
		return err
	}
	_, err = a.Store.LeaveOut(ctx, a.Who.ID, store.LeftOut{FlightID: in.ID, Why: in.Body.Why})
	return err
}

// PaperInput is a paper ballot as it is typed in: samples by code, and the answer about the
// plate where its format asks for one.
type PaperInput struct {
	TasterID int64                 `json:"taster_id"`
	Samples  map[string]PaperMarks `json:"samples" binding:"max=20"`
	Answer   *panel.Answer         `json:"answer"`
}

// PaperMarks are what stands on paper of one sample.
type PaperMarks struct {
	Scores  map[string]int `json:"scores" binding:"max=100"`
	Faults  []string       `json:"faults" binding:"max=100"`
	Excused bool           `json:"excused"`
}

// PaperCheck says how a ballot that was typed in stands.
type PaperCheck struct {
	Again   bool     `json:"again"`   // it was typed before, and is compared
	Differs []string `json:"differs"` // codes that do not read as before; nothing was changed
}

// typeBallot keeps a paper ballot. Typed a second time it is compared with the first, and
// nothing changes.
func typeBallot(ctx context.Context, a *barn.Act, in *barn.With[PaperInput]) (out PaperCheck, err error) {
	out.Differs = []string{}
	t, err := a.Store.Taster(ctx, in.Body.TasterID)
	if errors.Is(err, store.ErrNotFound) || err == nil && t.TrialID != a.TrialID {
		return out, fault.New("taster_id", "that taster is not at this table", "choose whose ballot it is")
	}
	if err != nil {
		return out, err
	}
	f, err := a.Store.Flight(ctx, in.ID)
	if err != nil {
		return out, err
	}
	tr, err := a.Store.AtTable(ctx, a.TrialID)
	if err != nil {
		return out, err
	}
	p, v, err := seat{a.Store, tr, t}.plateOf(ctx, f.Number)
	if err != nil {
		return out, err
	}
	out.Again = p.Ended
	if err := in.Body.check(p, v); err != nil {
		return out, err
	}
	from := store.Origin{TypedBy: &a.Who.ID}
	for _, x := range p.Servings {
		m, ok := in.Body.Samples[x.Code]
		if !ok || x.Struck && !x.Sealed {
			continue
		}
		err := a.Store.Seal(ctx, p.BallotID, x.SampleID, store.Sealed{Scores: m.Scores, Faults: m.Faults, Excused: m.Excused, Origin: from})
		if errors.Is(err, store.ErrConflict) {
			out.Differs = append(out.Differs, x.Code)
			err = nil
		}
		if err != nil {
			return out, err
		}
	}
	if in.Body.Answer != nil && len(out.Differs) == 0 {
		err := a.Store.Answer(ctx, p, *in.Body.Answer, from)
		if errors.Is(err, store.ErrConflict) {
			out.Differs = append(out.Differs, "the answer")
			err = nil
		}
		if err != nil {
			return out, err
		}
	}
	if len(out.Differs) > 0 {
		return out, nil
	}
	return out, a.Store.MarkPaper(ctx, a.Who.ID, p.BallotID)
}

// check refuses what the sheet does not ask or lacks, code by code.
func (in PaperInput) check(p store.Plate, v PlateView) error {
	var wrong fault.List
	known := map[string]bool{}
	var codes []string
	for _, x := range p.Servings {
		known[x.Code] = true
		if !x.Struck && !x.WarmUp && !in.Samples[x.Code].Excused && (!x.Excused || p.Ended) {
			codes = append(codes, x.Code)
		}
		if v.Sheet.Whole() || x.Struck || x.Excused {
			continue
		}
		m, ok := in.Samples[x.Code]
		if !ok {
			wrong.Add("samples."+x.Code, "nothing is said of "+x.Code, "type its row, or mark it as left out")
			continue
		}
		wrong.Take("samples."+x.Code, v.Sheet.CheckMarks(panel.Marks{Scores: m.Scores, Faults: m.Faults, Excused: m.Excused}))
	}
	for code := range in.Samples {
		if !known[code] {
			wrong.Add("samples."+code, code+" is not on this plate", "check the code on the paper")
		}
	}
	switch {
	case v.Sheet.EndedByTaster() && in.Answer == nil:
		wrong.Add("answer", "the answer about the plate is missing", fmt.Sprintf("%s Type what stands on the paper", v.Sheet.Asks))
	case v.Sheet.EndedByTaster():
		wrong.Take("answer", v.Sheet.CheckAnswer(codes, *in.Answer))
	case in.Answer != nil:
		wrong.Add("answer", "this ballot asks for none", "leave it out")
	}
	return wrong.Err()
}

// PaperSheet is a ballot of a flight for paper: a taster's plate and what it asks.
type PaperSheet struct {
	TasterID int64     `json:"taster_id"`
	Taster   string    `json:"taster"`
	Seat     int       `json:"seat"`
	Plate    PlateView `json:"plate"`
}

// Papers are the ballots of a flight, to print and to type in. What open tasters know is not
// printed.
func Papers(ctx context.Context, b *barn.Barn, flightID int64) ([]PaperSheet, error) {
	trialID, err := b.Store.TrialOf(ctx, "flight", flightID)
	if err != nil {
		return nil, err
	}
	t, err := b.Store.AtTable(ctx, trialID)
	if err != nil {
		return nil, err
	}
	tasters, err := b.Store.Tasters(ctx, trialID)
	if err != nil {
		return nil, err
	}
	plates, err := b.Store.FlightPlates(ctx, flightID)
	if err != nil {
		return nil, err
	}
	out := []PaperSheet{}
	for _, who := range tasters {
		for _, p := range plates {
			if p.TasterID == who.ID {
				p.Told, p.Susceptible = false, false // theirs alone
				out = append(out, PaperSheet{who.ID, who.Name, who.Seat, viewOf(t.Ask, p, nil)})
			}
		}
	}
	return out, nil
}
