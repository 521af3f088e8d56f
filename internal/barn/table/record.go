package table

import (
	"context"

	"whitebarn/core/panel"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// TasterRecord is how somebody tasted in each trial whose codes are open, the latest first.
type TasterRecord struct {
	Trials []RecordOfTrial `json:"trials"`
}

// RecordOfTrial is one of them.
type RecordOfTrial struct {
	store.TastedTrial
	panel.RecordLine
}

// RecordOf is the record of somebody of the crew: theirs and the pitmaster's.
func RecordOf(ctx context.Context, b *barn.Barn, who store.Person, id int64) (TasterRecord, error) {
	if who.ID != id && who.Role != store.Pitmaster {
		return TasterRecord{}, barn.RefuseAs(barn.NotYours, "How somebody tastes is theirs and the pitmaster's.", "Ask them.")
	}
	if _, err := b.Store.Person(ctx, id); err != nil {
		return TasterRecord{}, err
	}
	return recordOf(ctx, b, &id, nil)
}

// GuestRecord is the record of a guest who is known again; of another it is empty.
func GuestRecord(ctx context.Context, b *barn.Barn, t store.Taster) (TasterRecord, error) {
	if t.GuestID == nil {
		return TasterRecord{Trials: []RecordOfTrial{}}, nil
	}
	return recordOf(ctx, b, nil, t.GuestID)
}

func recordOf(ctx context.Context, b *barn.Barn, person, guest *int64) (TasterRecord, error) {
	out := TasterRecord{Trials: []RecordOfTrial{}}
	tasted, err := b.Store.TastedBy(ctx, person, guest)
	if err != nil || len(tasted) == 0 {
		return out, err
	}
	ids := make([]int64, len(tasted))
	for i, t := range tasted {
		ids[i] = t.TrialID
	}
	all, err := b.Store.Scores(ctx, ids...)
	if err != nil {
		return out, err
	}
	known, err := b.Store.Trials(ctx, ids)
	if err != nil {
		return out, err
	}
	for i, t := range tasted {
		if line, ok := panel.RecordOf(all[t.TrialID][sumsUp(known[i].Ask)], t.Taster); ok {
			out.Trials = append(out.Trials, RecordOfTrial{t, line})
		}
	}
	return out, nil
}
