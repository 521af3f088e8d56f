package demo

import (
	"time"

	"whitebarn/internal/barn"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/live"
	"whitebarn/internal/rehearse"
	"whitebarn/internal/standin"
	"whitebarn/internal/store"
)

// night of the pan: how long before now it went into the Warm Box, and for how long.
const (
	panBefore = 24 * 24 * time.Hour
	panFor    = 8 * time.Hour
)

// calibrate reads the Warm Box by a lent logger in a pan of water overnight; the holds
// since rely on it.
func (d *seeder) calibrate(now time.Time) {
	in := now.Add(-panBefore)
	out := in.Add(panFor)
	by := store.Person{ID: d.people["Tove"], Name: "Tove", Role: store.Crew}
	d.do(func() error {
		logger, token, err := d.store.NewDevice(d.ctx, d.people["Odalys"], "Lent logger", nil)
		if err != nil {
			return err
		}
		day, err := standin.New(standin.Script{Name: "the pan", Seed: 40, Every: standin.Duration(time.Minute),
			Holders: []standin.Holder{{Name: "Warm Box", Low: "62 C", High: "69 C", Period: standin.Duration(25 * time.Minute)}},
			Pans:    []standin.Pan{{Holder: "Warm Box", Water: "8 lb", Fill: "60 F", Channel: "pan", Probe: standin.Probe{Noise: 0.1}}},
		}, in)
		if err != nil {
			return err
		}
		sender := standin.NewSender(rehearse.Deliver(live.Ingest{Store: d.store, Now: func() time.Time { return out }}, token))
		if err := day.Advance(out, sender.Queue); err != nil {
			return err
		}
		if err := sender.Flush(d.ctx); err != nil {
			return err
		}
		probes, err := d.store.Probes(d.ctx, 0)
		if err != nil {
			return err
		}
		act := &barn.Act{Store: d.store, Who: by, Now: func() time.Time { return out }}
		var put barn.With[pits.PanInput]
		put.ID = d.box
		put.Body = pits.PanInput{Dial: "153 F", Target: "150 F", PutIn: &in, Months: 6}
		for _, p := range probes {
			if p.DeviceID == logger.ID {
				put.Body.ProbeID = p.ID
			}
		}
		v, err := pits.PutPanIn(d.ctx, act, &put)
		if err != nil {
			return err
		}
		if _, err := pits.SavePan(d.ctx, act, &barn.ByID{ID: v.Calibrations[0].ID}); err != nil {
			return err
		}
		return d.store.Retire(d.ctx, logger.ID)
	})
}
