// Package rehearse plays the devices of a cook inside the server: a rehearsal
// of a planned trial, or the cook of the demo barn. What people log at the
// fire happens to the simulated cuts.
package rehearse

import (
	"context"
	"fmt"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/logbook"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// day is a cook brought into the form of a script.
type day struct {
	script   standin.Script
	channels map[string]store.Measured
	trialID  int64
	cuts     map[int64]evidence.Cut
	runs     map[int64]store.PitRun
	wraps    map[int64]trial.Level // of each cut, as its arm has it
}

// longestDay is how long a simulated day goes on.
const longestDay = 36 * time.Hour

// byHand is when a cut goes on that waits for a person.
const byHand = standin.Duration(-time.Hour)

// dayOf reads a cook as it is planned.
func dayOf(ctx context.Context, s *store.Store, k store.Cook) (day, error) {
	d := day{
		trialID: k.TrialID, channels: map[string]store.Measured{}, cuts: map[int64]evidence.Cut{}, runs: map[int64]store.PitRun{}, wraps: map[int64]trial.Level{},
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
		if r.ArmID != nil {
			d.burns(t, r)
			continue
		}
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
	family, err := s.Family(ctx, t.Ask.Family)
	if err != nil {
		return d, err
	}
	known, err := reader.One(ctx, s, k.TrialID)
	if err != nil {
		return d, err
	}
	for _, c := range known.InCook(k.ID) {
		d.add(c, d.runs[c.Stays[0].PitRunID], family) // moves are replayed
		d.wraps[c.ID] = known.Ask.Said(known.ArmOf(c), trial.Wrap)
	}
	return d, nil
}

// unlit is a fire that waits for a hand.
const unlit = standin.Duration(1000 * time.Hour)

// burns sets a pit up as a trial of set-ups burns it: a fire of splits, with the trough that
// its arm has, and a probe at each named point.
func (d *day) burns(t store.Trial, r store.PitRun) {
	p := standin.Pit{Name: r.Pit, Kind: r.Surroundings().Key, SetPoint: r.SetPointTyped, Control: "splits", Fuel: "16 kg", Light: unlit}
	arm := t.Ask.Arms[t.Ask.ArmPlaces()[*r.ArmID]]
	if !t.Ask.Said(arm, trial.WaterPan).Nothing() {
		p.Trough = "12 lb"
	}
	for _, at := range []string{"fire end", "middle", "far end", "dial", "wet bulb"} {
		p.Points = append(p.Points, standin.Point{At: at, Channel: at, Probe: standin.Probe{Noise: 0.4, Dropout: 0.01}})
		d.channels[at] = store.Measured{PitRunID: &r.ID, Point: at}
	}
	d.script.Pits = append(d.script.Pits, p)
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

func (d *day) add(c evidence.Cut, r store.PitRun, family thermal.Family) {
	channel := "core " + c.Name
	d.cuts[c.ID] = c
	thick := ""
	if v := c.Dimension("thickness"); v != nil {
		thick = fmt.Sprintf("%g mm", 1000**v)
	}
	d.script.Cuts = append(d.script.Cuts, standin.Cut{
		Name: c.Name, Own: &family, Weight: fmt.Sprintf("%g kg", c.AtFireOr(family.Mass)), Thick: thick, Pit: r.Pit, On: byHand, Channel: channel,
		Probe: standin.Probe{Noise: 0.15, Lag: standin.Duration(15 * time.Second), Dropout: 0.01},
	})
	d.channels[channel] = store.Measured{CutID: &c.ID}
}

// happened turns what people logged into what happens to the simulated barn.
func (d *day) happened(b *standin.Barn, rows []store.Event) []standin.Event {
	var out []standin.Event
	for _, e := range rows {
		act := standin.Event{At: b.At(e.At)}
		if e.CutID != nil {
			c, here := d.cuts[*e.CutID]
			if !here {
				continue
			}
			act.Cut = c.Name
			act.With = evidence.Material(e.Detail, d.wraps[c.ID]).Key
		}
		if e.PitRunID != nil {
			r, here := d.runs[*e.PitRunID]
			if !here {
				continue
			}
			act.Pit = r.Pit
		}
		act.SetTo = e.Detail.Set
		if r, here := d.runs[e.Detail.RunID]; here {
			act.To = r.Pit
		}
		if act.Do = doing[e.Act]; act.Do == "move" && act.To == "" {
			continue // to another place on the grate
		}
		if act.Do != "" && act.Cut+act.Pit != "" {
			out = append(out, act)
		}
	}
	return out
}

// doing are the acts that change the simulated barn.
var doing = map[logbook.Act]string{
	logbook.On: "on", logbook.Wrap: "wrap", logbook.Unwrap: "unwrap", logbook.Spritz: "spritz", logbook.Pull: "pull", logbook.Hold: "hold",
	logbook.Lit: "light", logbook.Lid: "lid", logbook.Fuel: "fuel", logbook.Set: "set", logbook.Move: "move", logbook.Fry: "fry",
	logbook.Sear:  "torch",
	logbook.Torch: "torch",
	logbook.Broil: "torch", logbook.Chill: "chill",
}
