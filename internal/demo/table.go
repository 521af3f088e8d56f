package demo

import (
	"cmp"
	"math"
	"slices"
	"time"

	"whitebarn/core/panel"
	"whitebarn/core/trial"
	"whitebarn/internal/store"
)

// justRight is how smoky a sample is to a taster who gave it so much overall: PAPER keeps a
// little smoke off, and who misses it likes it less.
func (d *seeder) justRight(arm, overall int) int {
	off := 0.55 * d.tables.NormFloat64()
	if arm == 0 {
		off -= 0.45
	}
	if overall >= 8 {
		off /= 3
	}
	return int(math.Max(1, math.Min(5, math.Round(panel.JustRight+off))))
}

// afterTheSupper serves what is left of the second day in other ways: ranked, as a triangle,
// and in the kitchen by the two who knew what it was, blade and shank of one pair.
func (d *seeder) afterTheSupper(trialID int64, cuts []tasted, at time.Time) {
	var guests []store.Taster
	d.do(func() (err error) {
		guests, err = d.store.Tasters(d.ctx, trialID)
		return err
	})
	tove := d.people["Tove"]
	four := d.flight(trialID, panel.Serving{Format: panel.ByRanks, Pieces: 4, Tasters: len(guests)}, cuts[:4], "middle of the blade", guests, &tove, at)
	d.answerAll(four, guests, func(_ int, p store.Plate, of map[string]tasted) panel.Answer {
		return panel.Answer{Ranks: d.ranked(p, of)}
	})
	pair := []tasted{cuts[0], cuts[slices.IndexFunc(cuts, func(c tasted) bool { return c.arm != cuts[0].arm })]}
	odd := d.flight(trialID, panel.Serving{Format: panel.ByTriangle, Pieces: 2, Tasters: len(guests)}, pair, "middle of the blade", guests, &tove,
		at.Add(15*time.Minute))
	d.answerAll(odd, guests, func(i int, p store.Plate, of map[string]tasted) panel.Answer {
		lone := slices.IndexFunc(p.Servings, func(v store.Serving) bool {
			n := 0
			for _, o := range p.Servings {
				if of[o.Code].arm == of[v.Code].arm {
					n++
				}
			}
			return n == 1
		})
		if i == 1 { // one of them is wrong
			return panel.Answer{Picked: p.Servings[(lone+1)%3].Code}
		}
		return panel.Answer{Picked: p.Servings[lone].Code, Reason: []string{"softer crust", "", "drier", "more chew", "the pale one"}[i%5]}
	})
	d.kitchenTable(trialID, pair, at.Add(30*time.Minute))
}

// kitchenTable is tasted in the open by the two who cooked and carved.
func (d *seeder) kitchenTable(trialID int64, pair []tasted, at time.Time) {
	var knew []store.Taster
	for _, name := range []string{"Odalys", "Tove"} {
		d.seat(trialID, name)
	}
	d.do(func() (err error) {
		all, err := d.store.Tasters(d.ctx, trialID)
		knew = all[max(0, len(all)-2):]
		return err
	})
	flight := store.NewFlight{TrialID: trialID, Format: panel.ByScores, At: at, Bites: 2, WaterS: 60}
	var pieces []tasted
	for _, place := range []string{"blade", "shank"} {
		for _, c := range pair {
			flight.Samples = append(flight.Samples, store.NewSample{CutID: c.id, Place: place})
			pieces = append(pieces, c)
		}
	}
	orders := panel.Orders(d.tables, len(flight.Samples), len(knew))
	for i, t := range knew {
		flight.Ballots = append(flight.Ballots, store.NewBallot{TasterID: t.ID, Open: true, Order: orders[i]})
	}
	of := d.serve(flight, pieces)
	for i, t := range knew {
		d.do(func() error { return d.fillBallot(t.ID, float64(i)-0.5, of, d.tables) })
	}
}

// flight serves pieces in a format, and says what each code is.
func (d *seeder) flight(trialID int64, how panel.Serving, pieces []tasted, place string, tasters []store.Taster, carver *int64, at time.Time) map[string]tasted {
	laid := how.Lay(d.tables)
	f := store.NewFlight{TrialID: trialID, Format: how.Format, CarverID: carver, At: at, Bites: 2, WaterS: 60}
	var of []tasted
	for _, p := range laid.Samples {
		f.Samples = append(f.Samples, store.NewSample{CutID: pieces[p].id, Place: place})
		of = append(of, pieces[p])
	}
	for i, t := range tasters {
		f.Ballots = append(f.Ballots, store.NewBallot{TasterID: t.ID, Order: laid.Orders[i]})
	}
	return d.serve(f, of)
}

// serve draws the codes of a flight and serves it; of is what each sample is.
func (d *seeder) serve(f store.NewFlight, of []tasted) map[string]tasted {
	byCode := map[string]tasted{}
	d.do(func() error {
		used, err := d.store.UsedCodes(d.ctx, f.TrialID)
		if err != nil {
			return err
		}
		codes, err := panel.DrawCodes(d.tables, len(f.Samples), used)
		if err != nil {
			return err
		}
		for i, code := range codes {
			f.Samples[i].Code = code
			byCode[code] = of[i]
		}
		_, err = d.store.Serve(d.ctx, d.people["Odalys"], f)
		return err
	})
	return byCode
}

// answerAll has every taster answer the plate that holds these codes.
func (d *seeder) answerAll(of map[string]tasted, tasters []store.Taster, say func(int, store.Plate, map[string]tasted) panel.Answer) {
	for i, t := range tasters {
		d.do(func() error {
			plates, err := d.store.Plates(d.ctx, t.ID)
			if err != nil {
				return err
			}
			for _, p := range plates {
				if _, ours := of[p.Servings[0].Code]; ours {
					return d.store.Answer(d.ctx, p, say(i, p, of), store.Origin{})
				}
			}
			return nil
		})
	}
}

// ranked puts a plate in order by how well its samples are liked.
func (d *seeder) ranked(p store.Plate, of map[string]tasted) map[string]int {
	liked := map[string]float64{}
	var codes []string
	e := effects[trial.Overall]
	for _, v := range p.Servings {
		c := of[v.Code]
		liked[v.Code] = c.luck + 0.8*d.tables.NormFloat64()
		if c.arm == 0 {
			liked[v.Code] += e.paper
		}
		codes = append(codes, v.Code)
	}
	slices.SortFunc(codes, func(a, b string) int { return cmp.Compare(liked[b], liked[a]) })
	ranks := map[string]int{}
	for i, code := range codes {
		ranks[code] = i + 1
	}
	return ranks
}
