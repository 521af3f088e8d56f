package plan

import (
	"cmp"
	"context"
	"strings"

	"whitebarn/core/pit"
	"whitebarn/core/plan"
	"whitebarn/core/trial"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

func cookersOf(pits []store.Pit) (out []plan.Pit) {
	for _, p := range pits {
		out = append(out, plan.Pit{ID: p.ID, Name: p.Name, Surroundings: store.PitRun{Kind: p.Kind}.Surroundings(),
			Positions: p.GrateColumns * p.GrateRows})
	}
	return out
}

func (p *Planner) pits(ctx context.Context, in *plan.Input, ask trial.Ask, cook store.CookPlan) error {
	pits, err := p.store.Pits(ctx)
	if err != nil {
		return err
	}
	in.Cookers = cookersOf(pits)
	records, err := p.store.PitRecords(ctx)
	if err != nil {
		return err
	}
	for _, r := range cook.Runs {
		out := plan.Pit{ID: r.PitID, SetC: r.SetPointC}
		for _, p := range pits {
			if p.ID != r.PitID {
				continue
			}
			r.Kind = p.Kind
			burn := used(p.Burn, p.Used)
			for _, rec := range records { // what the log shows stands for what was not typed
				if rec.PitID != p.ID {
					continue
				}
				if burn.WarmS == 0 && rec.WarmS != nil {
					burn.WarmS = *rec.WarmS
				}
				if burn.WoodEveryS == 0 && rec.WoodEveryS != nil {
					burn.WoodEveryS = *rec.WoodEveryS
				}
			}
			burn, known := burn.Usual(r.Surroundings().Key)
			out.Name, out.Positions, out.Known = p.Name, takes(p, ask, r.Setup), known
			out.Used = p.Used
			out.WarmS, out.Fuel, out.FuelKgH, out.LightingKg, out.WoodEveryS, out.WaterKgH = burn.WarmS, burn.Fuel, burn.FuelKgH, burn.LightingKg,
				burn.WoodEveryS, burn.WaterKgH
		}
		out.Surroundings = r.Surroundings()
		in.Pits = append(in.Pits, out)
	}
	holders, err := p.store.Holders(ctx)
	if err != nil {
		return err
	}
	read, err := p.store.Calibrations(ctx, 0)
	if err != nil {
		return err
	}
	house, err := reader.ReadGatehouse(ctx, p.store)
	if err != nil {
		return err
	}
	floor := house.At(in.Now).HoldC
	for _, h := range holders {
		out := plan.Holder{ID: h.ID, Name: h.Name, Known: store.Known(read, h.ID), FloorC: floor}
		if h.Capacity != nil {
			out.Capacity = *h.Capacity
		}
		in.Holders = append(in.Holders, out)
	}
	return err
}

// takes is how many of what is cooked a pit takes at once, loaded as it is set up; where
// nobody said, it has as many places as its grate.
func takes(p store.Pit, ask trial.Ask, setup string) int {
	most, asLoaded := 0, 0
	for _, l := range p.Capacity {
		if !strings.EqualFold(l.Piece, ask.Product) && !strings.EqualFold(l.Piece, ask.Cut) {
			continue
		}
		most = max(most, l.Number)
		if l.Way != "" && strings.Contains(strings.ToLower(setup), strings.ToLower(l.Way)) {
			asLoaded = max(asLoaded, l.Number)
		}
	}
	return cmp.Or(asLoaded, most, p.GrateColumns*p.GrateRows)
}

// used fills in, of what nobody typed, what the burns of a pit told as it is used.
func used(b plan.Burn, by *pit.InUse) plan.Burn {
	if by == nil {
		return b
	}
	for _, f := range []struct {
		to   *float64
		of   *float64
		unit float64
	}{{&b.WarmS, by.LeadMin, 60}, {&b.FuelKgH, by.FuelKgH, 1}, {&b.WaterKgH, by.WaterKgH, 1}} {
		if *f.to == 0 && f.of != nil {
			*f.to = *f.of * f.unit
		}
	}
	return b
}
