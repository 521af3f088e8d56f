package settle

import (
	"context"

	"gonum.org/v1/gonum/stat"

	"whitebarn/core/evidence"
	"whitebarn/core/process"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/store"
)

// keepCooks keeps what the cooks of trials by a card came to, now that they are over. Of a
// trial by no card there is none.
func (d *Desk) keepCooks(ctx context.Context, ids ...int64) error {
	cards, err := d.store.CardsOf(ctx, ids...)
	if err != nil {
		return err
	}
	for id, version := range cards {
		if err := d.keepCooksOf(ctx, id, version); err != nil {
			return err
		}
	}
	return nil
}

func (d *Desk) keepCooksOf(ctx context.Context, trialID, version int64) error {
	known, judged, err := d.Case(ctx, trialID)
	if err != nil {
		return err
	}
	cooks, err := d.store.Cooks(ctx, trialID)
	if err != nil {
		return err
	}
	devices, err := d.store.ProbeNames(ctx, trialID)
	if err != nil {
		return err
	}
	// What is checked, though the trial did not ask for it.
	judged.Ask.Outcomes = nil
	for _, c := range process.Checked {
		if _, ok := trial.DefaultOf(c.Key); ok {
			judged.Ask.Outcomes = append(judged.Ask.Outcomes, trial.Chosen{Key: c.Key, SmallestDifference: 1})
		}
	}
	var all []store.ProcessCook
	for _, k := range cooks {
		of := judged
		of.Cuts = nil
		for _, c := range judged.Cuts {
			if c.Cook == dayName(known, k.ID) {
				of.Cuts = append(of.Cuts, c)
			}
		}
		if cooked, ok := cookedOf(of); ok {
			cooked.Things["pit probe"] = devices[k.ID]
			all = append(all, store.ProcessCook{CookID: k.ID, VersionID: version, ServedAt: k.ServeAt, Cooked: cooked})
		}
	}
	return d.store.KeepProcessCooks(ctx, all)
}

// dayName is what the pieces of a cook call it.
func dayName(t evidence.Trial, cookID int64) string {
	for i, p := range t.Pieces(t.Ask) {
		if lay, ok := t.Cuts[i].Lies(); ok && lay.CookID == cookID {
			return p.Cook
		}
	}
	return ""
}

// cookedOf is what one cook came to; ok is false where nothing of it counts.
func cookedOf(t settle.Trial) (process.Cooked, bool) {
	out := process.Cooked{Values: map[trial.OutcomeKey]float64{}, Facts: map[settle.Fact]float64{}, Things: map[string]string{}}
	for _, o := range t.Ask.Outcomes {
		if values := t.ArmValues(o.Key, 0); len(values) > 0 {
			out.Values[o.Key] = stat.Mean(values, nil)
		}
	}
	facts := map[settle.Fact][]float64{}
	var kg []float64
	for _, c := range t.Cuts {
		if !c.MayCount {
			continue
		}
		for f, v := range c.Facts {
			facts[f] = append(facts[f], v)
		}
		if c.Kg != nil {
			kg = append(kg, *c.Kg)
		}
		out.Things["pit"] = c.Pit
		if lot := c.Traits["lot"]; lot != "" {
			out.Things["lot"] = lot
		}
	}
	for f, v := range facts {
		out.Facts[f] = stat.Mean(v, nil)
	}
	if held, ok := out.Facts[settle.HoldHours]; ok && held > 0 {
		out.Values[process.Hold] = held
	}
	if len(kg) > 0 {
		out.Kg = stat.Mean(kg, nil)
	}
	return out, len(out.Values) > 0
}
