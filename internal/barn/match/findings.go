package match

import (
	"context"
	"slices"
	"strings"
	"whitebarn/core/design"
	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// AcceptInput is the word with which a finding is kept.
type AcceptInput struct {
	Key string `json:"key" binding:"required"`
	Why string `json:"why" binding:"max=200"`
}

func acceptFinding(ctx context.Context, a *barn.Act, in *barn.With[AcceptInput]) error {
	l, err := trials.LookAt(ctx, a.Store, in.ID)
	if err != nil {
		return err
	}
	v, err := trials.CutsOf(ctx, a.Store, l)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(v.Findings, func(f design.Finding) bool { return f.Key == in.Body.Key })
	why := strings.TrimSpace(in.Body.Why)
	switch {
	case at < 0:
		return fault.New("key", "that does not stand in the way any more", "load the page again")
	case why == "":
		return fault.New("why", "nothing is written", "say why it is run like this, for instance only one pit is free")
	}
	return a.Store.AcceptFinding(ctx, a.Who.ID, in.ID, store.AcceptedFinding{Key: in.Body.Key, Text: v.Findings[at].Text, Why: why})
}

func voidAccepted(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) error {
	return a.Store.VoidAccepted(ctx, a.Who.ID, in.ID, in.Body.Why)
}
