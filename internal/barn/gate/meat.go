package gate

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/plan"
	"whitebarn/core/prep"
	"whitebarn/core/safety"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// SetMeat says what meat a trial is of. Anybody makes it stricter, or confirms it;
// looser, and otherwise than the words of the product say, only the pitmaster with a
// reason, and never once a cut was on the fire.
func (k *Keeper) SetMeat(ctx context.Context, who store.Person, trialID int64, m store.TrialMeat, why string) error {
	t, err := reader.One(ctx, k.store, trialID)
	if err != nil {
		return err
	}
	if t.RevealedAt != nil {
		return barn.Refuse("The codes are open, so what meat it is stays as it was judged.", "Follow on from it with a new question.")
	}
	ask := t.Ask
	ask.Species, ask.Handling, ask.WholeBird = m.Species, m.Handling, m.WholeBird
	if !m.Said() {
		_, err := safety.MinimumOf(m.Meat)
		return err
	}
	if m.WholeBird && m.Species != safety.Poultry {
		return fault.New("whole_bird", "a whole bird is said to be "+string(m.Species), "say poultry, or that it is no whole bird")
	}
	looser, words := ask.LooserThan(t.Ask), ask.Otherwise()
	if looser && lit(t) {
		return barn.Refuse("A cut of this trial was on the fire: what meat it is only gets stricter.", "If it never went on, take that entry back first.")
	}
	if !looser && len(words) == 0 {
		return k.set(ctx, who, t, m, strings.TrimSpace(why))
	}
	what := fmt.Sprintf("%s is looser than %s", m, store.TrialMeat{Meat: t.Ask.Meat(), WholeBird: t.Ask.WholeBird})
	if !looser {
		what = fmt.Sprintf("the product says “%s”, and the meat is said to be %s", words[0].Word, m)
	}
	if who.Role != store.Pitmaster {
		return barn.Refuse(strings.ToUpper(what[:1])+what[1:]+".", "Only the pitmaster can say so, with a reason.")
	}
	if safety.CheckReason(why) != nil {
		return fault.New("why", what, "say why in words, three letters or more")
	}
	return k.set(ctx, who, t, m, strings.TrimSpace(why))
}

func (k *Keeper) set(ctx context.Context, who store.Person, t evidence.Trial, m store.TrialMeat, why string) error {
	err := k.store.SetMeat(ctx, who.ID, t.ID, m, true, why)
	if errors.Is(err, store.ErrConflict) {
		return barn.Refuse("The codes are open, so what meat it is stays as it was judged.", "Follow on from it with a new question.")
	}
	if err != nil {
		return err
	}
	return k.after(ctx, t.ID)
}

// CheckAsk refuses an ask that would do less to the meat of an arm once a cut was on the
// fire. What meat it is as a whole is not changed by an ask.
func (k *Keeper) CheckAsk(ctx context.Context, trialID int64, next trial.Ask) error {
	t, err := reader.One(ctx, k.store, trialID)
	if err != nil {
		return err
	}
	if tag := next.DoesLess(t.Ask); tag != "" && lit(t) {
		return fault.New("arms", fmt.Sprintf("a cut was on the fire, and %s would be handled less than it was", tag),
			"leave its injection, tenderising and shape as they were")
	}
	return nil
}

// CheckOutline refuses a plan that takes the needle away from an arm once a cut was on
// the fire.
func (k *Keeper) CheckOutline(ctx context.Context, trialID int64, next plan.Outline) error {
	t, err := reader.One(ctx, k.store, trialID)
	if err != nil || !lit(t) {
		return err
	}
	list := []evidence.Trial{t}
	if err := reader.Doses(ctx, k.store, list); err != nil {
		return err
	}
	before, after := list[0], list[0]
	after.Doses = map[int64][]prep.Dose{}
	for _, a := range next.Arms {
		after.Doses[a.ArmID] = a.Doses
	}
	for _, arm := range t.Ask.Arms {
		if after.ArmMeat(arm).LooserThan(before.ArmMeat(arm)) && !neverIn(t, arm, after.ArmMeat(arm)) {
			return fault.New("arms", "a cut was on the fire, and "+arm.Tag+" would no longer be injected", "leave its doses as they were")
		}
	}
	return nil
}

// neverIn says whether what is taken out of an arm's plan never was in its cuts: all were pulled
// before it was planned, and went on the fire as no stricter than what is left.
func neverIn(t evidence.Trial, arm trial.Arm, left safety.Meat) bool {
	return !slices.ContainsFunc(t.Cuts, func(c evidence.Cut) bool {
		_, pulled := c.Pulled()
		return c.ArmID == arm.ID && !(pulled && c.OnAs.Said() && !left.LooserThan(c.OnAs))
	})
}
