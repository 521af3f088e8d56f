package evidence

import (
	"slices"

	"whitebarn/core/logbook"
	"whitebarn/core/pit"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// Progress is what is known of the trial for its eight steps; what stands beside
// its cuts and its log is the caller's to add.
func (t Trial) Progress() trial.Progress {
	p := trial.Progress{Outcomes: len(t.Ask.Outcomes), Cuts: len(t.Cuts), Arms: len(t.Ask.Arms), Cooks: len(t.Cooks), Revealed: t.RevealedAt != nil}
	arms, probed := map[int64]bool{}, map[int64]bool{}
	for _, probe := range t.Probes {
		probed[probe.CutID] = true
	}
	for _, c := range t.Cuts {
		count := func(n *int, yes bool) {
			if yes {
				*n++
			}
		}
		weighed := func(s yield.Stage) bool { _, ok := c.Kg(s); return ok }
		_, on := c.On()
		_, pulled := c.Pulled()
		_, lies := c.Lies()
		count(&p.Placed, c.ArmID != 0)
		count(&p.Weighed, weighed(yield.Trimmed))
		count(&p.Planned, lies)
		count(&p.Prepped, weighed(yield.Prepped))
		count(&p.On, on)
		count(&p.Pulled, pulled)
		count(&p.Off, weighed(yield.Off))
		count(&p.Read, c.Read() || probed[c.ID])
		if c.ArmID != 0 {
			arms[c.ArmID] = true
		}
	}
	p.ArmsWithCuts = len(arms)
	if p.Kind = t.Ask.Kind; p.Kind == trial.OfSetUps {
		t.burns(&p)
	}
	return p
}

// burns counts the burns of a trial of set-ups.
func (t Trial) burns(p *trial.Progress) {
	arms := map[int64]bool{}
	for _, r := range t.Runs {
		if r.ArmID == 0 {
			continue
		}
		p.Burns++
		arms[r.ArmID] = true
		if slices.ContainsFunc(t.Acts, func(a Act) bool { return a.Act == logbook.Lit && a.PitRunID == r.ID }) {
			p.BurnsLit++
		}
		if slices.ContainsFunc(t.Probes, func(x Probe) bool { return x.PitRunID == r.ID && pit.PlaceOf(x.Point) == pit.Grate }) {
			p.BurnsRead++
		}
	}
	p.ArmsBurning = len(arms)
}
