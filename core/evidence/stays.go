package evidence

import "whitebarn/core/logbook"

// Follow works out where a cut lay from where it was planned to lie and from what was
// logged of it: put on or moved to another place or pit, or into a holder. What was
// planned holds until then; a planned holder until another is said.
func Follow(planned []Stay, acts []Act) []Stay {
	var out []Stay
	var holder Stay // as planned
	for _, s := range planned {
		if s.HolderRunID != 0 {
			holder = s
		} else {
			out = append(out, s)
		}
	}
	held := false
	for _, a := range acts {
		i := lastPit(out)
		if i < 0 {
			break
		}
		next := Stay{CookID: out[i].CookID, PitRunID: out[i].PitRunID, Position: out[i].Position, From: a.At}
		switch a.Act {
		case logbook.On, logbook.Move:
			if a.Detail.RunID == 0 && a.Detail.To == "" {
				continue
			}
			if id := a.Detail.RunID; id != 0 && id != next.PitRunID {
				next.PitRunID, next.Position = id, ""
			}
			if a.Detail.To != "" {
				next.Position = a.Detail.To
			}
			out[i].To = a.At
		case logbook.Hold:
			run := holder.HolderRunID
			if a.Detail.HolderRunID != 0 {
				run = a.Detail.HolderRunID
			}
			if run == 0 {
				continue
			}
			held, next = true, Stay{CookID: next.CookID, HolderRunID: run, From: a.At}
		default:
			continue
		}
		for j := range out { // it left the holder it was in
			if out[j].HolderRunID != 0 && out[j].To.IsZero() {
				out[j].To = a.At
			}
		}
		out = append(out, next)
	}
	if holder.HolderRunID != 0 && !held {
		out = append(out, holder)
	}
	return out
}

func lastPit(stays []Stay) int {
	for i := len(stays) - 1; i >= 0; i-- {
		if stays[i].PitRunID != 0 {
			return i
		}
	}
	return -1
}
