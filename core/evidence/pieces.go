package evidence

import (
	"fmt"
	"slices"

	"whitebarn/core/design"
	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// Pieces are the cuts as the design of a trial sees them, under an ask that may be
// another than was kept: arms it no longer has leave their cuts without one.
func (t Trial) Pieces(ask trial.Ask) []design.Piece {
	roots := map[int64]string{}
	for _, d := range t.Divided {
		roots[d.ID] = d.Name
	}
	t.Ask = ask
	out := make([]design.Piece, len(t.Cuts))
	for i, c := range t.Cuts {
		p := design.Piece{ID: c.ID, Name: c.Name, Root: c.Name, Together: c.Together, Block: c.Block, Arm: t.Arm(c.ArmID), ThicknessM: c.Dimension("thickness"), FatCapM: c.Dimension("fat_cap"),
			Traits: c.Traits, Units: map[trial.UnitKind]string{}}
		if kg, ok := c.Kg(yield.Trimmed); ok {
			p.Kg = &kg
		}
		if root := roots[c.ParentID]; root != "" {
			p.Root = root
		}
		if c.Batch != "" {
			p.Units[trial.UnitBatch] = "batch " + c.Batch
		}
		if run := c.Holder(); run != 0 {
			p.Units[trial.UnitHolderRun] = fmt.Sprintf("holder run %d", run)
			if at := slices.IndexFunc(t.Holders, func(h HolderRun) bool { return h.ID == run }); at >= 0 {
				p.Holder = t.Holders[at].Holder
			}
		}
		if s, ok := c.Lies(); ok {
			run, _ := t.Run(s.PitRunID)
			p.Cook, p.Pit, p.PitRunID, p.Position = fmt.Sprintf("day %d", t.Day(s.CookID)), run.Pit, s.PitRunID, s.Position
			p.OffC = run.Used.At(s.Position)
			p.Units[trial.UnitPitRun] = fmt.Sprintf("pit run %d", s.PitRunID)
		}
		out[i] = p
	}
	return out
}
