// Package gate keeps the gate before the table: it judges the cuts of trials, guards
// what meat they are said to be, and stops at once what was served and should not be.
package gate

import (
	"context"
	"errors"
	"slices"
	"time"

	"whitebarn/core/evidence"
	"whitebarn/core/gate"
	"whitebarn/core/logbook"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
)

// Keeper keeps the gate of a barn.
type Keeper struct {
	store *store.Store
	now   func() time.Time
}

// New returns the keeper of a barn's gate.
func New(s *store.Store, now func() time.Time) *Keeper { return &Keeper{s, now} }

// GateView is what the gate says of a trial.
type GateView struct {
	Meat      store.TrialMeat       `json:"meat"`
	Confirmed bool                  `json:"confirmed"` // somebody said outright what meat it is
	Why       string                `json:"why"`       // a pitmaster's reason for what the words of the product do not say
	Asked     []safety.Hint         `json:"asked"`     // words that say otherwise
	Locked    bool                  `json:"locked"`    // a cut is, or was, on the fire: it only gets stricter
	Changes   []store.MeatChange    `json:"changes"`
	Arms      []ArmMeat             `json:"arms"`
	Lines     safety.Lines          `json:"lines"`
	Cuts      []CutGate             `json:"cuts"`
	Struck    []store.Struck        `json:"struck"`
	Pending   []store.PendingChange `json:"pending"`
	Source    string                `json:"source"`
}

// ArmMeat is what meat an arm is, and its minimum; nil while it is not said.
type ArmMeat struct {
	ArmID   int64           `json:"arm_id"`
	Meat    safety.Meat     `json:"meat"`
	Minimum *safety.Minimum `json:"minimum"`
}

// CutGate is what the gate says of one cut.
type CutGate struct {
	CutID int64 `json:"cut_id"`
	gate.Ruling
}

// Of reads what the gate says of a trial.
func (k *Keeper) Of(ctx context.Context, trialID int64) (GateView, error) {
	return k.view(ctx, trialID, nil)
}

// OfServed reads what the gate says of a trial whose cuts are put on the table at some moment.
func (k *Keeper) OfServed(ctx context.Context, trialID int64, at time.Time, cuts ...int64) (GateView, error) {
	return k.view(ctx, trialID, func(c *evidence.Cut) {
		if slices.Contains(cuts, c.ID) && at.After(c.Served) {
			c.Served = at
		}
	})
}

func (k *Keeper) view(ctx context.Context, trialID int64, suppose func(*evidence.Cut)) (GateView, error) {
	t, err := k.judgedAs(ctx, trialID, suppose)
	if err != nil {
		return GateView{}, err
	}
	lines, err := k.Lines(ctx)
	if err != nil {
		return GateView{}, err
	}
	v := GateView{Meat: store.TrialMeat{Meat: t.Ask.Meat(), WholeBird: t.Ask.WholeBird}, Confirmed: t.Ask.MeatConfirmed, Why: t.Ask.MeatWhy,
		Asked: t.Ask.Otherwise(), Locked: lit(t),
		Arms: []ArmMeat{}, Lines: lines.Lines, Cuts: []CutGate{}, Source: gate.Source}
	for _, a := range t.Ask.Arms {
		arm := ArmMeat{ArmID: a.ID, Meat: t.ArmMeat(a)}
		if m, err := v.Lines.Minimum(arm.Meat); err == nil {
			arm.Minimum = &m
		}
		v.Arms = append(v.Arms, arm)
	}
	for _, c := range t.Cuts {
		v.Cuts = append(v.Cuts, CutGate{c.ID, t.Gates[c.ID]})
	}
	if v.Changes, err = k.store.MeatChanges(ctx, trialID); err != nil {
		return v, err
	}
	if v.Struck, err = k.store.StruckOf(ctx, trialID); err != nil {
		return v, err
	}
	v.Pending, err = k.store.PendingChanges(ctx, trialID)
	return v, err
}

// judged reads a trial with its gates.
func (k *Keeper) judged(ctx context.Context, trialID int64) (evidence.Trial, error) {
	return k.judgedAs(ctx, trialID, nil)
}

// judgedAs reads a trial with its gates, as if something were so of each cut.
func (k *Keeper) judgedAs(ctx context.Context, trialID int64, suppose func(*evidence.Cut)) (evidence.Trial, error) {
	t, err := reader.One(ctx, k.store, trialID)
	if err != nil {
		return t, err
	}
	for i := range t.Cuts {
		if suppose != nil {
			suppose(&t.Cuts[i])
		}
	}
	list := []evidence.Trial{t}
	err = reader.Gates(ctx, k.store, list, k.now())
	return list[0], err
}

// Lines are the barn's lines that stand.
func (k *Keeper) Lines(ctx context.Context) (store.BarnLines, error) {
	all, err := k.store.Lines(ctx)
	if err != nil || len(all) == 0 {
		return store.BarnLines{Lines: safety.Usual}, err
	}
	return all[0], nil
}

// BarnLines are the lines that stand in a barn.
func BarnLines(ctx context.Context, b *barn.Barn) (store.BarnLines, error) {
	return New(b.Store, b.Now).Lines(ctx)
}

// SetLines sets the barn's own lines, with the reason.
func (k *Keeper) SetLines(ctx context.Context, who store.Person, l safety.Lines, why string) error {
	if err := l.Check(); err != nil {
		return err
	}
	return k.store.SetLines(ctx, who.ID, l, why)
}

// lit says whether a cut of the trial is, or was, on the fire.
func lit(t evidence.Trial) bool {
	return slices.ContainsFunc(t.Cuts, func(c evidence.Cut) bool { _, on := c.On(); return on })
}

// Stamp keeps what cuts go on the fire as.
func (k *Keeper) Stamp(ctx context.Context, trialID int64, cuts []int64) error {
	t, err := reader.One(ctx, k.store, trialID)
	if err != nil {
		return err
	}
	list := []evidence.Trial{t}
	if err := reader.Doses(ctx, k.store, list); err != nil {
		return err
	}
	meats := map[int64]safety.Meat{}
	for _, id := range cuts {
		c, ok := t.Cut(id)
		if !ok {
			continue
		}
		c.OnAs = safety.Meat{} // what it went on as before was taken back
		if m := list[0].MeatOf(c); m.Said() {
			meats[id] = m
		}
	}
	return k.store.StampMeat(ctx, meats)
}

// Recheck looks at what is on the table of trials, and strikes what the gate has shut
// since. It says whether anything was struck.
func (k *Keeper) Recheck(ctx context.Context, trialIDs ...int64) (struck bool, err error) {
	served, err := k.store.ServedAt(ctx, trialIDs...)
	if err != nil || len(served) == 0 {
		return false, err
	}
	for _, id := range trialIDs {
		t, err := reader.One(ctx, k.store, id)
		if err != nil {
			return struck, err
		}
		if t.RevealedAt != nil || !slices.ContainsFunc(t.Cuts, func(c evidence.Cut) bool { return !c.Served.IsZero() }) {
			continue
		}
		list := []evidence.Trial{t}
		if err := reader.Gates(ctx, k.store, list, k.now()); err != nil {
			return struck, err
		}
		for _, c := range list[0].Cuts {
			stop, shut := list[0].Gates[c.ID].Shut()
			if c.Served.IsZero() || !shut {
				continue
			}
			n, err := k.store.Strike(ctx, c.ID, stop.Words)
			if err != nil {
				return struck, err
			}
			if n == 0 {
				continue
			}
			struck = true
			if err := k.store.NotifyChange(ctx, id, "gate", "table"); err != nil {
				return struck, err
			}
		}
	}
	return struck, nil
}

// RecheckAll does so for all that is on a table of the barn.
func (k *Keeper) RecheckAll(ctx context.Context) error {
	ids, err := k.store.OnTheTable(ctx)
	if err == nil {
		_, err = k.Recheck(ctx, ids...)
	}
	return err
}

// Change makes a change of the record. One that would open a gate that was shut, or weaken what
// only voiding opens, waits for a second hand, where there is one; it says whether it waits.
func (k *Keeper) Change(ctx context.Context, c store.PendingChange) (waits bool, err error) {
	people, err := k.store.People(ctx)
	if err != nil {
		return false, err
	}
	if len(people) < 2 {
		return false, k.make(ctx, c)
	}
	before, err := k.judged(ctx, c.TrialID)
	if err != nil {
		return false, err
	}
	if len(shutTo(before))+len(throwsAway(before)) == 0 {
		return false, k.make(ctx, c)
	}
	err = k.store.InTx(ctx, func(s *store.Store) error {
		tried := &Keeper{s, k.now}
		if err := s.Make(ctx, c); err != nil {
			return err
		}
		after, err := tried.judged(ctx, c.TrialID)
		if err == nil && (weaker(before, after) || c.Entries == nil && opened(shutTo(before), after)) {
			err = errWaits
		}
		return err
	})
	switch {
	case errors.Is(err, errWaits):
		return true, k.store.AskSecond(ctx, c)
	case err != nil:
		return false, err
	}
	return false, k.after(ctx, c.TrialID)
}

// Add has many readings added at once. Ones that would weaken what only voiding opens are
// refused: the wrong entry is voided first, by two.
func (k *Keeper) Add(ctx context.Context, trialID int64, add func() error) error {
	before, err := k.judged(ctx, trialID)
	if err != nil {
		return err
	}
	if err := add(); err != nil {
		return err
	}
	if len(throwsAway(before)) > 0 {
		after, err := k.judged(ctx, trialID)
		if err != nil {
			return err
		}
		if weaker(before, after) {
			return barn.Refuse("These readings would take back what shut the gate to meat for good.",
				"If an entry is wrong, void it first; a second hand signs.")
		}
	}
	return k.after(ctx, trialID)
}

// errWaits takes back what was tried.
var errWaits = errors.New("a second hand signs it")

func (k *Keeper) make(ctx context.Context, c store.PendingChange) error {
	if err := k.store.Make(ctx, c); err != nil {
		return err
	}
	return k.after(ctx, c.TrialID)
}

func (k *Keeper) after(ctx context.Context, trialID int64) error {
	_, err := k.Recheck(ctx, trialID)
	return err
}

// Sign makes a change that waits, or refuses it. Who asked for it cannot sign it.
func (k *Keeper) Sign(ctx context.Context, who store.Person, id int64, yes bool) (trialID int64, err error) {
	c, err := k.store.PendingChange(ctx, id)
	if err != nil {
		return 0, err
	}
	if yes && c.ByID == who.ID {
		return 0, barn.Refuse("You asked for this yourself.", "Let somebody else of the crew sign.")
	}
	if err := k.store.Sign(ctx, who.ID, c, yes); err != nil {
		return 0, err
	}
	return c.TrialID, k.after(ctx, c.TrialID)
}

// lostBy is a stop of a cut that only voiding opens.
type lostBy struct {
	cut int64
	key string
}

// throwsAway are the stops of a trial that only voiding opens, with how far over its limit each is, s.
func throwsAway(t evidence.Trial) map[lostBy]float64 {
	out := map[lostBy]float64{}
	for _, c := range t.Cuts {
		r := t.Gates[c.ID]
		for _, s := range r.Stops {
			if s.Opens == gate.ByVoiding {
				out[lostBy{c.ID, s.Key}] = map[string]float64{"after": r.After.UnderS, "come-up": r.ComeUp.ForS, "out": c.Out().Seconds()}[s.Key]
			}
		}
	}
	return out
}

// weaker says whether what only voiding opens went, or got less: by a minute, whatever the gate says after it.
func weaker(before, after evidence.Trial) bool {
	const much = 60.0
	now := throwsAway(after)
	for stop, was := range throwsAway(before) {
		if is, still := now[stop]; !still || is < was-much {
			return true
		}
	}
	return false
}

// shutTo are the pulled cuts to which the gate is shut.
func shutTo(t evidence.Trial) (cuts []int64) {
	for _, cut := range t.Cuts {
		_, pulled := cut.Pulled()
		if _, is := t.Gates[cut.ID].Shut(); is && pulled {
			cuts = append(cuts, cut.ID)
		}
	}
	return cuts
}

// opened says whether the gate is open now to any of some cuts.
func opened(shut []int64, now evidence.Trial) bool {
	return slices.ContainsFunc(shut, func(cut int64) bool {
		_, still := now.Gates[cut].Shut()
		return !still
	})
}

// Plausible refuses a reading that no meat has at the barn's height.
func (k *Keeper) Plausible(ctx context.Context, act logbook.Act, d logbook.Detail) error {
	if act != logbook.Probe || d.C == nil {
		return nil
	}
	house, err := reader.ReadGatehouse(ctx, k.store)
	if err != nil {
		return err
	}
	return gate.Plausible(*d.C, house.BoilsC)
}
