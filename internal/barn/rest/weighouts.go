package rest

import (
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/units"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// WeighOutInput is the weight of one thing a cut came apart into.
type WeighOutInput struct {
	Share      yield.Share `json:"share"`
	Weight     string      `json:"weight"`
	Resolution string      `json:"resolution"`
	Thrown     string      `json:"thrown,omitempty" binding:"max=60"` // why it was thrown away
	Why        string      `json:"why,omitempty" binding:"max=200"`   // of another weight once the codes are open
}

func weighOut(ctx context.Context, a *barn.Act, in *barn.With[WeighOutInput]) error {
	b := in.Body
	weight, resolution, err := onScale(b.Weight, b.Resolution)
	if err != nil {
		return err
	}
	outs, err := a.Store.WeighOutsOf(ctx, in.ID)
	if err != nil {
		return err
	}
	weighed, err := a.Store.WeighingsOf(ctx, in.ID)
	if err != nil {
		return err
	}
	var others []yield.Out
	for _, o := range outs {
		if o.Share == b.Share {
			if err := a.State.MayCorrect(b.Why); err != nil {
				return err
			}
			continue
		}
		others = append(others, yield.Out{Share: o.Share, Kg: o.Kg, ResolutionKg: o.ResolutionKg})
	}
	if err := yield.CheckOut(yield.Out{Share: b.Share, Kg: weight.Kg, ResolutionKg: resolution.Kg}, weighingsOf(weighed), others); err != nil {
		return err
	}
	err = a.Store.WeighOut(ctx, a.Who.ID, store.WeighOut{CutID: in.ID, Share: b.Share, Kg: weight.Kg, Typed: weight.Typed,
		ResolutionKg:    resolution.Kg,
		ResolutionTyped: resolution.Typed, Why: strings.TrimSpace(b.Thrown), At: a.Now()})
	if err != nil {
		return err
	}
	return edible(ctx, a, in.ID)
}

func voidWeighOut(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	cut, err := a.Store.VoidWeighOut(ctx, a.Who.ID, in.ID, in.Body.Why)
	if err != nil {
		return err
	}
	return edible(ctx, a, cut)
}

// edible keeps what is to eat of a cut as its weighing of that stage: the sum of its
// shares, unsure by all their steps together.
func edible(ctx context.Context, a *barn.Act, cutID int64) error {
	outs, err := a.Store.WeighOutsOf(ctx, cutID)
	if err != nil {
		return err
	}
	var shares []yield.Out
	var last store.WeighOut
	for _, o := range outs {
		shares = append(shares, yield.Out{Share: o.Share, Kg: o.Kg, ResolutionKg: o.ResolutionKg})
		last = o
	}
	apart := yield.ApartOf(nil, shares)
	weighed, err := a.Store.WeighingsOf(ctx, cutID)
	if err != nil {
		return err
	}
	if apart.EatenKg == 0 {
		for _, w := range weighed {
			if w.Stage == yield.Edible && len(outs) == 0 {
				return a.Store.VoidWeighing(ctx, a.Who.ID, w.ID, "its shares were taken back")
			}
		}
		return nil
	}
	return a.Store.Weigh(ctx, a.Who.ID, store.Weighing{CutID: cutID, Stage: yield.Edible, Kg: apart.EatenKg,
		Typed:        typedLike(last.Typed, apart.EatenKg),
		ResolutionKg: math.Max(apart.StepKg, last.ResolutionKg), ResolutionTyped: last.ResolutionTyped, At: a.Now()})
}

// typedLike writes a weight in the unit another was typed in.
func typedLike(other string, kg float64) string {
	if other := strings.ToLower(other); strings.Contains(other, "lb") || strings.Contains(other, "oz") {
		return units.ToPoundsOunces(1000 * kg).String()
	}
	return strconv.FormatFloat(math.Round(kg*1000), 'f', -1, 64) + " g"
}

// LeftInput is what was left in a pit: by weight, by volume, or as a share of full.
type LeftInput struct {
	PitRunID int64      `json:"pit_run_id"`
	What     store.Left `json:"what" binding:"oneof=fuel wood water pan"`
	Amount   string     `json:"amount" binding:"max=40"` // empty takes it back
	State    string     `json:"state" binding:"max=60"`
}

func leave(ctx context.Context, a *barn.Act, in *barn.With[LeftInput]) error {
	b := in.Body
	runs, err := a.Store.PitRuns(ctx, a.TrialID)
	if err != nil {
		return err
	}
	mine := false
	for _, r := range runs {
		mine = mine || r.ID == b.PitRunID && r.CookID == in.ID
	}
	if !mine {
		return fault.New("pit_run_id", fmt.Sprintf("pit run %d is not in this cook", b.PitRunID), "choose a pit of this cook")
	}
	l := store.Leftover{PitRunID: b.PitRunID, What: b.What, Typed: strings.Join(strings.Fields(b.Amount), " "),
		State: strings.TrimSpace(b.State)}
	if l.Typed != "" {
		if err := amountLeft(&l); err != nil {
			return err
		}
	}
	return a.Store.Leave(ctx, a.Who.ID, l)
}

// amountLeft reads "1.5 l", "2 lb" or "40 %".
func amountLeft(l *store.Leftover) error {
	if text, ok := strings.CutSuffix(l.Typed, "%"); ok {
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(text), ",", ".", 1), 64)
		if err != nil || !(v >= 0 && v <= 100) {
			return fault.New("amount", fmt.Sprintf("%q is no share of full", l.Typed), "give 0 to 100 %")
		}
		v /= 100
		l.Share = &v
		return nil
	}
	if l.What == "water" || l.What == "pan" {
		if v, err := units.ParseVolume(l.Typed); err == nil {
			l.ML = &v.ML
			return nil
		}
	}
	m, err := units.ParseMass(l.Typed)
	if err != nil {
		return fault.New("amount", fmt.Sprintf("%q is no amount", l.Typed), `write it like "1.5 l", "2 lb" or "40 %"`)
	}
	l.Kg = &m.Kg
	return nil
}
