package table

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// KeyLine is a row of the record.
type KeyLine = store.KeyLine

// Key is for the flight's carver alone, pitmaster or not, until the codes are open. Where
// everybody at the table knows them, it is anybody's of the crew.
func Key(ctx context.Context, b *barn.Barn, who store.Person, flightID int64) ([]store.KeyLine, error) {
	f, err := b.Store.Flight(ctx, flightID)
	if err != nil {
		return nil, err
	}
	trialID, err := b.Store.TrialOf(ctx, "flight", flightID)
	if err != nil {
		return nil, err
	}
	t, err := b.Store.Trial(ctx, trialID)
	if err != nil {
		return nil, err
	}
	if t.RevealedAt == nil && !f.Opened {
		may, err := knowsKey(ctx, b.Store, who, f)
		if err != nil {
			return nil, err
		}
		if !may {
			remedy := "Turn the cups over once all is sealed."
			if f.Carver != "" {
				remedy = "Ask " + f.Carver + " to carve."
			}
			return nil, barn.RefuseAs(barn.NotYours, "Only the carver sees this key before the codes are opened.", remedy)
		}
	}
	return b.Store.Key(ctx, flightID)
}

func knowsKey(ctx context.Context, s *store.Store, who store.Person, f store.Flight) (bool, error) {
	if f.CarverID != nil {
		return *f.CarverID == who.ID, nil
	}
	if f.Shuffled {
		return false, nil
	}
	plates, err := s.FlightPlates(ctx, f.ID)
	return err == nil && !slices.ContainsFunc(plates, func(p store.Plate) bool { return !p.Open }), err
}

// PlatedInput marks a sample as plated, or not yet.
type PlatedInput struct {
	Code   string `json:"code" binding:"len=3"`
	Plated bool   `json:"plated"`
}

// plated keeps what the carver has plated.
func plated(ctx context.Context, a *barn.Act, in *barn.With[PlatedInput]) ([]store.KeyLine, error) {
	f, err := a.Store.Flight(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	may, err := knowsKey(ctx, a.Store, a.Who, f)
	if err != nil {
		return nil, err
	}
	if !may {
		return nil, barn.RefuseAs(barn.NotYours, "Only the carver plates.", "Ask "+f.Carver+".")
	}
	key, err := a.Store.Key(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(key, func(k store.KeyLine) bool { return k.Code == in.Body.Code })
	if i < 0 {
		return nil, fault.New("code", in.Body.Code+" is not in this flight", "take one of its codes")
	}
	if err := a.Store.MarkPlated(ctx, key[i].SampleID, in.Body.Plated); err != nil {
		return nil, err
	}
	return a.Store.Key(ctx, in.ID)
}

// TurnedInput says which cut lay in each cup, by code.
type TurnedInput struct {
	Cups map[string]int64 `json:"cups" binding:"max=20"`
}

// turnCups takes which cut lay in which cup, once all is sealed: each cut as often as it was
// filled in.
func turnCups(ctx context.Context, a *barn.Act, in *barn.With[TurnedInput]) error {
	f, err := a.Store.Flight(ctx, in.ID)
	if err != nil {
		return err
	}
	plates, err := a.Store.FlightPlates(ctx, in.ID)
	if err != nil {
		return err
	}
	switch {
	case !f.Shuffled:
		return barn.Refuse("The cups of this flight were not shuffled.", "Its carver knows the key.")
	case slices.ContainsFunc(plates, func(p store.Plate) bool { return !p.Ended }):
		return barn.Refuse("Not all of it is sealed.", "Seal every cup before you look under one.")
	}
	key, err := a.Store.Key(ctx, in.ID)
	if err != nil {
		return err
	}
	filled, found := map[int64]int{}, map[int64]int{}
	names := map[int64]string{}
	var wrong fault.List
	for _, k := range key {
		filled[k.CutID]++
		names[k.CutID] = k.Cut
		cut, ok := in.Body.Cups[k.Code]
		if !ok {
			wrong.Add("cups."+k.Code, "nothing is said of cup "+k.Code, "look under it")
		}
		found[cut]++
	}
	for cut, n := range found {
		if wrong.Err() == nil && n != filled[cut] {
			wrong.Add("cups", fmt.Sprintf("%d cups of %s, and %d were filled", n, orNumber(names[cut], cut), filled[cut]), "look under each again")
		}
	}
	if err := wrong.Err(); err != nil {
		return err
	}
	err = a.Store.TurnCups(ctx, in.ID, in.Body.Cups)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("The cups were turned over before.", "What was entered stands.")
	}
	return err
}

func orNumber(name string, cut int64) string {
	if name != "" {
		return name
	}
	return fmt.Sprintf("cut %d", cut)
}
