package book

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"whitebarn/core/fault"
	"whitebarn/core/prep"
	"whitebarn/core/process"
	"whitebarn/core/thermal"
	"whitebarn/core/trial"
	"whitebarn/core/words"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/cost"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// WriteInput writes a version from an arm of a settled trial: of a card that there is, or of a
// new one.
type WriteInput struct {
	TrialID   int64  `json:"trial_id"`
	ArmID     int64  `json:"arm_id"`
	ProcessID int64  `json:"process_id"` // 0: a new card
	Name      string `json:"name" binding:"max=80"`
	Changed   string `json:"changed" binding:"max=200"` // the one thing, of a later version
	Why       string `json:"why" binding:"max=300"`
}

// Written names what was written.
type Written struct {
	ProcessID int64 `json:"process_id"`
	VersionID int64 `json:"version_id"`
	Number    int   `json:"number"`
}

// Write writes a version of a card from what an arm delivered.
func (d *Desk) Write(ctx context.Context, a *barn.Act, in *barn.Of[WriteInput]) (Written, error) {
	return d.within(a.Store).write(ctx, a, in.Body)
}

// within is the desk in a transaction.
func (d *Desk) within(s *store.Store) *Desk { return &Desk{s, d.desk.Within(s), d.planner.Within(s)} }

func (d *Desk) write(ctx context.Context, a *barn.Act, in WriteInput) (out Written, err error) {
	body, arm, err := d.body(ctx, in)
	if err != nil {
		return out, err
	}
	v := store.ProcessVersion{Number: 1, Body: body, TrialID: &in.TrialID, ArmID: &in.ArmID, Title: title(body, arm), Changed: strings.TrimSpace(in.Changed),
		Why: strings.TrimSpace(in.Why)}
	if in.ProcessID == 0 {
		name := strings.TrimSpace(in.Name)
		if name == "" {
			return out, fault.New("name", "the card has no name", "say what it cooks and how, for instance Lamb shoulder, paper at 165")
		}
		if v.ProcessID, err = d.store.CreateProcess(ctx, a.Who.ID, name, body.ProductID); err != nil {
			return out, err
		}
	} else if err := d.next(ctx, in.ProcessID, &v); err != nil {
		return out, err
	}
	out = Written{ProcessID: v.ProcessID, Number: v.Number}
	out.VersionID, err = d.store.AddVersion(ctx, a.Who.ID, v)
	if errors.Is(err, store.ErrConflict) {
		return out, barn.Refuse("Somebody wrote another version meanwhile.", "Look at theirs, then write again.")
	}
	return out, err
}

// next puts a version behind the last of its card: it says the one thing that it changes, and
// why.
func (d *Desk) next(ctx context.Context, processID int64, v *store.ProcessVersion) error {
	if err := d.store.LockProcess(ctx, processID); err != nil {
		return err
	}
	versions, err := d.store.ProcessVersions(ctx, processID)
	if err != nil {
		return err
	}
	var wrong fault.List
	if v.Changed == "" {
		wrong.Add("changed", "a new version says what it changes", "name the one thing")
	}
	if v.Why == "" {
		wrong.Add("why", "a new version says why", "say what was wanting")
	}
	if err := wrong.Err(); err != nil {
		return err
	}
	v.ProcessID, v.Number = processID, 1
	if n := len(versions); n > 0 {
		last := versions[n-1]
		v.Number, v.ParentID = last.Number+1, &last.ID
	}
	return nil
}

// title is what a version does, in a line: how it ends.
func title(b process.CardBody, arm string) string {
	_, to := fire(b)
	if to == 0 {
		return arm
	}
	return process.Said(b.Steps[to-1].Phase)
}

// Body writes what a version from an arm of a settled trial would say; nothing is kept.
func (d *Desk) Body(ctx context.Context, trialID, armID int64) (process.CardBody, error) {
	b, _, err := d.body(ctx, WriteInput{TrialID: trialID, ArmID: armID})
	return b, err
}

func (d *Desk) body(ctx context.Context, in WriteInput) (b process.CardBody, tag string, err error) {
	t, result, err := d.desk.Kept(ctx, in.TrialID, true)
	if err != nil {
		return b, "", err
	}
	if t.RehearsesID != nil {
		return b, "", barn.Refuse("This is a rehearsal.", "A card is written from what was cooked.")
	}
	arm, ok := t.Ask.ArmPlaces()[in.ArmID]
	if !ok {
		return b, "", fault.New("arm_id", "there is no such arm in that trial", "choose one of its arms")
	}
	known, judged, err := d.desk.Case(ctx, in.TrialID)
	if err != nil {
		return b, "", err
	}
	o, err := d.planner.Outline(ctx, t)
	if err != nil {
		return b, "", err
	}
	own := o.Of(in.ArmID)
	w := process.Written{Trial: known, Settle: judged, Arm: arm, Phases: own.Phases, Doses: own.Doses, Result: result,
		Setups: map[int64]string{}, Recipes: map[int64][]prep.Line{}}
	runs, err := d.store.PitRuns(ctx, in.TrialID)
	if err != nil {
		return b, "", err
	}
	pits, err := d.store.Pits(ctx)
	if err != nil {
		return b, "", err
	}
	for _, r := range runs {
		w.Setups[r.ID] = r.Setup
		for _, p := range pits {
			if p.ID == r.PitID && w.Fuel == "" {
				w.Fuel = p.Burn.Fuel
			}
		}
	}
	house, err := reader.ReadGatehouse(ctx, d.store)
	if err != nil {
		return b, "", err
	}
	w.Lines = house.Latest()
	if err := d.recipes(ctx, w.Recipes); err != nil {
		return b, "", err
	}
	return process.Write(w), t.Ask.TagOf(arm), nil
}

func (d *Desk) recipes(ctx context.Context, into map[int64][]prep.Line) error {
	all, err := d.store.Recipes(ctx)
	if err != nil {
		return err
	}
	ingredients, err := d.store.Ingredients(ctx)
	if err != nil {
		return err
	}
	for _, r := range all {
		into[r.ID] = cost.LinesOf(r, ingredients)
	}
	return nil
}

// FailInput says that a version failed.
type FailInput struct {
	Fault string `json:"fault" binding:"required,max=60"`
	Why   string `json:"why" binding:"required,max=300,reason"`
}

// Fail says that a version failed, with its fault; what the cook model ranks first against it is
// kept beside it.
func (d *Desk) Fail(ctx context.Context, a *barn.Act, in *barn.With[FailInput]) (barn.None, error) {
	v, err := a.Store.ProcessVersion(ctx, in.ID)
	if err != nil {
		return barn.None{}, err
	}
	lever := ""
	levers, err := d.within(a.Store).Levers(ctx, v.Body, in.Body.Fault)
	if err != nil {
		return barn.None{}, err
	}
	if len(levers) > 0 {
		lever = levers[0].Says
	}
	err = a.Store.FailVersion(ctx, a.Who.ID, in.ID, strings.TrimSpace(in.Body.Fault), strings.TrimSpace(in.Body.Why), lever)
	if errors.Is(err, store.ErrConflict) {
		return barn.None{}, barn.Refuse("That it failed is written already.", "Write the next version from what mends it.")
	}
	return barn.None{}, err
}

// Levers ranks what moves a fault of a version.
func (d *Desk) Levers(ctx context.Context, b process.CardBody, word string) ([]process.Lever, error) {
	fault, ok := process.FaultOf(word)
	if !ok {
		return nil, nil
	}
	family, err := d.store.Family(ctx, b.Family)
	if err != nil {
		return nil, err
	}
	barn, err := d.store.Barn(ctx)
	if err != nil {
		return nil, err
	}
	pit := thermal.AllSurroundings[0]
	pits, err := d.store.Pits(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range pits {
		if p.ID == b.PitID {
			pit = store.PitRun{Kind: p.Kind}.Surroundings()
		}
	}
	kg := 0.0
	if b.Kg != nil {
		kg = b.Kg.Middle
	}
	return process.Levers(fault, b.Phases(), family, pit, thermal.PressureAt(barn.ElevationM), kg, 0)
}

// Sign puts the hand of who asks under a version. It needs a reach that was shown, or says none.
func (d *Desk) Sign(ctx context.Context, a *barn.Act, in *barn.ByID) (barn.None, error) {
	v, err := a.Store.ProcessVersion(ctx, in.ID)
	switch {
	case err != nil:
		return barn.None{}, err
	case v.FailedAt != nil:
		return barn.None{}, barn.Refuse("This version failed.", "Sign the one that mends it.")
	}
	if err := a.Store.SignVersion(ctx, a.Who.ID, in.ID); !errors.Is(err, store.ErrConflict) {
		return barn.None{}, err
	}
	return barn.None{}, barn.Refuse("Your hand is under it already.", "It wants another one's, where there are two.")
}

// Unsign opens a signed version again, with a reason.
func (d *Desk) Unsign(ctx context.Context, a *barn.Act, in *barn.With[barn.Why]) (barn.None, error) {
	err := a.Store.UnsignVersion(ctx, a.Who.ID, in.ID, strings.TrimSpace(in.Body.Why))
	if errors.Is(err, store.ErrNotFound) {
		err = barn.Refuse("Nobody has signed it.", "There is nothing to open again.")
	}
	return barn.None{}, err
}

// CookInput plans a cook from a version.
type CookInput struct {
	Question string `json:"question" binding:"max=140"` // empty: named by the card
}

// Cooking names the trial that a card became.
type Cooking struct {
	TrialID int64 `json:"trial_id"`
}

// Cook makes a cook by a card: one arm, with its phases and doses planned. It is checked
// against the card once it is over.
func (d *Desk) Cook(ctx context.Context, a *barn.Act, in *barn.With[CookInput]) (Cooking, error) {
	d = d.within(a.Store)
	v, err := a.Store.ProcessVersion(ctx, in.ID)
	if err != nil {
		return Cooking{}, err
	}
	p, err := a.Store.Process(ctx, v.ProcessID)
	if err != nil {
		return Cooking{}, err
	}
	if v.FailedAt != nil {
		return Cooking{}, barn.Refuse("This version failed.", "Cook the one that mends it.")
	}
	ask := d.alone(ctx, p, v)
	if q := strings.TrimSpace(in.Body.Question); q != "" {
		ask.Question = q
	}
	id, err := d.make(ctx, a, ask)
	if err != nil {
		return Cooking{}, err
	}
	if err := a.Store.CookByCard(ctx, id, v.ID); err != nil {
		return Cooking{}, err
	}
	return Cooking{id}, d.carry(ctx, a, id, v)
}

// alone is the ask of a cook by a card: nothing is compared.
func (d *Desk) alone(ctx context.Context, p store.Process, v store.ProcessVersion) trial.Ask {
	b := v.Body
	ask := trial.Ask{Question: words.Short(fmt.Sprintf("%s, by version %d", p.Name, v.Number), trial.MostQuestion),
		Product: b.Product, ProductID: b.ProductID, Family: b.Family, Cut: b.Cut,
		Held: b.Held, Allergens: b.Allergens, Hand: trial.Hand{Blocks: 4, BlockSize: 1, Pits: 1, Positions: 12, CookDays: 1},
		Factors: []trial.Factor{{Name: "process", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:    []trial.Arm{{Tag: "CARD", Levels: trial.Levels(fmt.Sprintf("%s, version %d", p.Name, v.Number)), Control: true}}}
	for _, key := range []trial.OutcomeKey{trial.Overall, trial.EdibleYield, trial.CookedYield, trial.CookTime} {
		row, _ := trial.DefaultOf(key)
		ask.Outcomes = append(ask.Outcomes, trial.Chosen{Key: key, SmallestDifference: row.SmallestDifference, Source: "the barn's usual"})
	}
	ask.FollowsID = v.TrialID
	d.meat(ctx, &ask, v)
	return ask
}

// carry plans a trial by a card: its phases and doses for every arm.
func (d *Desk) carry(ctx context.Context, a *barn.Act, trialID int64, v store.ProcessVersion) error {
	t, err := a.Store.Trial(ctx, trialID)
	if err != nil {
		return err
	}
	o, err := d.planner.Outline(ctx, t)
	if err != nil {
		return err
	}
	for i := range o.Arms {
		o.Arms[i].Phases, o.Arms[i].Doses = v.Body.Phases(), v.Body.Doses
	}
	if err := o.Resolve(); err != nil {
		return err
	}
	return a.Store.SetOutline(ctx, a.Who.ID, trialID, o)
}
