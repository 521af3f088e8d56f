package barn

import (
	"context"
	"encoding/json"
	"fmt"

	"whitebarn/internal/store"
)

type numberKey struct{}

// Numbered is a context of a request that has a number: sent again, it changes nothing and is
// answered as it was.
func Numbered(ctx context.Context, number string) context.Context {
	return context.WithValue(ctx, numberKey{}, number)
}

// Secret is an answer that is shown once and kept nowhere: what makes one anew has no number.
type Secret interface{ ShownOnce() }

// once makes a change in a transaction, unless the request of that number made it before.
func once[Out any](ctx context.Context, s *store.Store, who store.Person, trialID int64, f func(*store.Store) (Out, error)) (of int64, out Out, err error) {
	number, _ := ctx.Value(numberKey{}).(string)
	if _, secret := any(out).(Secret); number == "" || secret {
		out, err = f(s)
		return trialID, out, err
	}
	err = s.InTx(ctx, func(tx *store.Store) error {
		was, answer, done, err := tx.Answered(ctx, who.ID, number)
		switch {
		case err != nil:
			return err
		case done:
			of = was
			return json.Unmarshal(answer, &out)
		}
		if out, err = f(tx); err != nil {
			return err
		}
		of = trialID
		text, err := json.Marshal(out)
		if err != nil {
			return fmt.Errorf("keep an answer: %w", err)
		}
		return tx.KeepAnswer(ctx, who.ID, number, trialID, text)
	})
	return of, out, err
}
