package plan

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"whitebarn/core/fault"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/exchange"
	"whitebarn/internal/store"
)

// CalendarToken is what a calendar program shows to read a cook's tasks.
func CalendarToken(ctx context.Context, b *barn.Barn, cookID int64) (string, error) {
	if _, err := b.Store.Cook(ctx, cookID); err != nil {
		return "", err
	}
	house, err := b.Store.Barn(ctx)
	return auth.CalendarToken(house.Secret, cookID), err
}

// Calendar are a cook's tasks for whoever has its token: a calendar program cannot
// sign in. address is how this barn was reached.
func (p *Planner) Calendar(ctx context.Context, b *barn.Barn, token, address string) ([]byte, error) {
	house, err := p.store.Barn(ctx)
	if err != nil {
		return nil, err
	}
	id, ok := auth.CalendarOf(house.Secret, token)
	if !ok {
		return nil, store.ErrNotFound
	}
	k, err := p.store.Cook(ctx, id)
	if err != nil {
		return nil, err
	}
	t, err := p.store.Trial(ctx, k.TrialID)
	if err != nil {
		return nil, err
	}
	cook, err := p.CookPlan(ctx, t, k)
	if err != nil {
		return nil, err
	}
	v, err := p.View(ctx, t, id, cook, k.Clock.Now(b.Now()))
	if err != nil && !errors.As(err, new(fault.List)) {
		return nil, err
	}
	if err != nil { // nothing to plan yet: the table alone
		v.Serve = k.ServeAt
	}
	var out bytes.Buffer
	err = exchange.WriteCalendar(&out, exchange.Calendar{
		Name: t.Ask.Question, CookID: id, Link: fmt.Sprintf("%s/trials/%d/plan", address, t.ID), Stamped: cook.Outline.KeptAt,
		Plan: v.Plan, People: v.People, Pits: v.Names,
	})
	return out.Bytes(), err
}
