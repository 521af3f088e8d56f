// Package rehearse plays the devices of a cook inside the server: a rehearsal
// of a planned trial, or the cook of the demo barn. What people log at the
// fire happens to the simulated cuts.
package rehearse

import (
	"context"
	"fmt"
	"strings"
	"time"

	"whitebarn/core/logbook"
	"whitebarn/core/thermal"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// day is a cook brought into the form of a script.
type day struct {
	script   standin.Script
	channels map[string]store.Measured
	trialID  int64
	cuts     map[int64]store.Cut
	runs     map[int64]store.PitRun
	wraps    map[int64]string // of each cut, as its arm has it
}

// longestDay is how long a simulated day goes on.
const longestDay = 36 * time.Hour

// byHand is when a cut goes on that waits for a person.
const byHand = standin.Duration(-time.Hour)

// dayOf reads a cook as it is planned.
func dayOf(ctx context.Context, s *store.Store, k store.Cook) (day, error) {
	d := day{
		trialID: k.TrialID, channels: map[string]store.Measured{}, cuts: map[int64]store.Cut{}, runs: map[int64]store.PitRun{}, wraps: map[int64]string{},
		script: standin.Script{Name: fmt.Sprintf("cook %d", k.ID), Seed: uint64(k.ID) + 2026, Every: standin.Duration(20 * time.Second), Length: standin.Duration(longestDay)},
	}
	t, err := s.Trial(ctx, k.TrialID)
	if err != nil {
		return d, err
	}
	runs, err := s.PitRuns(ctx, k.TrialID)
	if err != nil {
		return d, err
	}
	for _, r := range runs {
		if r.CookID != k.ID {
			continue
		}
		d.runs[r.ID] = r
		channel := "pit " + r.Pit
		d.script.Pits = append(d.script.Pits, standin.Pit{
			Name: r.Pit, Kind: r.Surroundings().Key, SetPoint: r.SetPointTyped, Control: "fan", Fuel: "16 kg", Channel: channel,
			Probe: standin.Probe{Noise: 0.4, Dropout: 0.01},
		})
		d.channels[channel] = store.Measured{PitRunID: &r.ID}
	}
	if err := d.warmBox(ctx, s, k.ID); err != nil {
		return d, err
	}
	family, err := s.FamilyOf(ctx, t.Ask.Product+" "+t.Ask.Cut)
	if err != nil {
		return d, err
	}
	weights, err := s.Weighings(ctx, k.TrialID)
	if err != nil {
		return d, err
	}
	sizes, err := s.Dimensions(ctx, k.TrialID)
	if err != nil {
		return d, err
	}
	cuts, err := s.Cuts(ctx, k.TrialID)
	if err != nil {
		return d, err
	}
	placed, err := s.Placements(ctx, k.TrialID)
	if err != nil {
		return d, err
	}
	for _, c := range cuts {
		for _, l := range placed {
			if l.CutID == c.ID && l.CookID == k.ID && l.PitRunID != nil {
				d.add(c, d.runs[*l.PitRunID], family, weightOf(weights, c.ID, family.Mass), thicknessOf(sizes, c.ID))
			}
		}
		if c.ArmID != nil {
			for _, a := range t.Ask.Arms {
				if a.ID == *c.ArmID {
					d.wraps[c.ID] = thermal.WrapFor(strings.Join(a.Levels, " ")).Key
				}
			}
		}
	}
	return d, nil
}

// warmBox heats the barn's first holder for the cook, where it has one.
func (d *day) warmBox(ctx context.Context, s *store.Store, cookID int64) error {
	holders, err := s.Holders(ctx)
	if err != nil || len(holders) == 0 {
		return err
	}
	run, err := s.HolderRunFor(ctx, cookID, holders[0].ID)
	if err != nil {
		return err
	}
	channel := "holder " + holders[0].Name
	d.script.Holders = []standin.Holder{{Name: holders[0].Name, Low: "145 F", High: "157 F", Period: standin.Duration(25 * time.Minute), Channel: channel}}
	d.channels[channel] = store.Measured{HolderRunID: &run}
	return nil
}

func (d *day) add(c store.Cut, r store.PitRun, family thermal.Family, kg float64, thick string) {
	channel := "core " + c.Name
	d.cuts[c.ID] = c
	d.script.Cuts = append(d.script.Cuts, standin.Cut{
		Name: c.Name, Own: &family, Weight: fmt.Sprintf("%g kg", kg), Thick: thick, Pit: r.Pit, On: byHand, Channel: channel,
		Probe: standin.Probe{Noise: 0.15, Lag: standin.Duration(15 * time.Second), Dropout: 0.01},
	})
	d.channels[channel] = store.Measured{CutID: &c.ID}
}

func weightOf(weights []store.Weighing, cut int64, usual float64) float64 {
	kg := usual
	for _, w := range weights {
		if w.CutID == cut && w.Stage == "trimmed" {
			kg = w.Kg
		}
	}
	return kg
}

func thicknessOf(sizes []store.Dimension, cut int64) string {
	for _, d := range sizes {
		if d.CutID == cut && d.Kind == "thickness" {
			return fmt.Sprintf("%g mm", 1000*d.Value)
		}
	}
	return ""
}

// happened turns what people logged into what happens to the simulated barn.
func (d *day) happened(b *standin.Barn, rows []store.Event) []standin.Event {
	var out []standin.Event
	for _, e := range rows {
		act := standin.Event{At: b.At(e.At), With: strings.TrimSpace(e.Said + " " + e.Note)}
		if e.CutID != nil {
			c, here := d.cuts[*e.CutID]
			if !here {
				continue
			}
			act.Cut = c.Name
			if w := d.wraps[c.ID]; w != "" && w != "none" && thermal.WrapFor(act.With).Key == "none" {
				act.With = w
			} else {
				act.With = thermal.WrapFor(act.With).Key
			}
		}
		if e.PitRunID != nil {
			r, here := d.runs[*e.PitRunID]
			if !here {
				continue
			}
			act.Pit = r.Pit
		}
		if act.Do = doing[e.Act]; act.Do != "" && act.Cut+act.Pit != "" {
			out = append(out, act)
		}
	}
	return out
}

// doing are the acts that change the simulated barn.
var doing = map[logbook.Act]string{
	logbook.On: "on", logbook.Wrap: "wrap", logbook.Unwrap: "unwrap", logbook.Spritz: "spritz", logbook.Pull: "pull", logbook.Hold: "hold",
	logbook.Lid: "lid", logbook.Fuel: "fuel",
}
