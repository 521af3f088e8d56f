package match

import (
	"context"
	"crypto/rand"
	"encoding/binary"
	"fmt"
	"slices"
	"strings"

	"whitebarn/core/design"
	"whitebarn/core/evidence"
	"whitebarn/core/fault"
	"whitebarn/core/yield"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/store"
)

// ArmsInput moves cuts into arms by hand.
type ArmsInput struct {
	Moves []design.Move `json:"moves" binding:"required,max=500"`
	Why   string        `json:"why" binding:"max=200"` // under the fire
}

// DrawInput asks for a draw; Why is needed under the fire.
type DrawInput struct {
	Why string `json:"why" binding:"max=200"`
}

type drawOf = barn.With[DrawInput]

// BackInput names a draw that the arms go back to.
type BackInput struct {
	DrawID int64 `json:"draw_id" binding:"required"`
}

// PositionsInput puts cuts into places of pit runs.
type PositionsInput struct {
	Positions []design.GratePosition `json:"positions" binding:"required,max=500"`
	Why       string                 `json:"why" binding:"max=200"` // under the fire
}

// mayMove reads an open trial none of whose given cuts is on the table.
func mayMove(ctx context.Context, a *barn.Act, cuts []int64) (trials.Look, error) {
	l, err := trials.LookAt(ctx, a.Store, a.TrialID)
	if err != nil {
		return l, err
	}
	served, err := a.Store.ServedCuts(ctx, a.TrialID)
	if err != nil {
		return l, err
	}
	for _, id := range cuts {
		cut, ok := l.Trial.Cut(id)
		if !ok {
			return l, fault.New("cut_id", fmt.Sprintf("cut %d is not of this trial", id), "choose one of its cuts")
		}
		if slices.Contains(served, id) {
			return l, barn.Refuse(cut.Name+" is on the table and cannot be moved.", "Take its flight back first, while nothing of it is sealed.")
		}
	}
	return l, nil
}

// newSeed is a number that a browser can show whole.
func newSeed() (int64, error) {
	var b [8]byte
	if _, err := rand.Read(b[:]); err != nil {
		return 0, err
	}
	return int64(binary.LittleEndian.Uint64(b[:]) >> 12), nil
}

// mayMoveAll reads an open trial none of whose cuts is on the table.
func mayMoveAll(ctx context.Context, a *barn.Act) (trials.Look, error) {
	cuts, err := a.Store.Cuts(ctx, a.TrialID)
	if err != nil {
		return trials.Look{}, err
	}
	ids := make([]int64, len(cuts))
	for i, cut := range cuts {
		ids[i] = cut.ID
	}
	return mayMove(ctx, a, ids)
}

func drawArms(ctx context.Context, a *barn.Act, in *drawOf) error {
	l, err := mayMoveAll(ctx, a)
	if err != nil {
		return err
	}
	arms, cuts := len(l.Trial.Ask.Arms), len(l.Trial.Cuts)
	switch {
	case arms < 2:
		return fault.New("arms", "one arm leaves nothing to draw", "add a second arm in Ask")
	case cuts < arms:
		return fault.New("cuts", fmt.Sprintf("%d cuts for %d arms", cuts, arms), "hang at least one for each arm")
	}
	pieces := l.Trial.Pieces(l.Trial.Ask)
	seed, err := newSeed()
	if err != nil {
		return err
	}
	d := design.DrawArms(pieces, arms, seed)
	draw := store.AllotmentOf(d, seed)
	for i, p := range pieces {
		draw.Arms[p.ID] = l.Trial.Ask.Arms[d.Arms[i]].ID
	}
	if err := a.Store.Allot(ctx, a.Who.ID, in.ID, draw); err != nil {
		return err
	}
	return placesAfter(ctx, a, in.ID, l)
}

// placesAfter draws the places anew after the arms, where cuts lie on runs already that
// carry levels of their own.
func placesAfter(ctx context.Context, a *barn.Act, trialID int64, l trials.Look) error {
	lies := slices.ContainsFunc(l.Trial.Cuts, func(c evidence.Cut) bool { _, ok := c.Lies(); return ok })
	if !lies || !design.SetOnPits(l.Trial.Ask) {
		return nil
	}
	return drawPositions(ctx, a, &drawOf{ByID: barn.ByID{ID: trialID}})
}

// backToDraw puts the cuts into the arms of an earlier draw; it stands on record as
// a draw of the same seed. It takes no reason, so the guard refuses it under the fire.
func backToDraw(ctx context.Context, a *barn.Act, in *barn.With[BackInput]) error {
	l, err := mayMoveAll(ctx, a)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(l.Rows.Draws, func(d store.Allotment) bool { return d.ID == in.Body.DrawID })
	if i < 0 {
		return fault.New("draw_id", fmt.Sprintf("%d is no draw of this trial", in.Body.DrawID), "choose one of those on record")
	}
	draw, arms := l.Rows.Draws[i], l.Trial.Ask.ArmPlaces()
	fits := len(draw.Arms) == len(l.Trial.Cuts)
	for _, cut := range l.Trial.Cuts {
		_, stands := arms[draw.Arms[cut.ID]]
		fits = fits && stands
	}
	if !fits {
		return barn.Refuse("The cuts or arms are others than at that draw.", "Draw again.")
	}
	if err := a.Store.Allot(ctx, a.Who.ID, in.ID, draw); err != nil {
		return err
	}
	return placesAfter(ctx, a, in.ID, l)
}

func setArms(ctx context.Context, a *barn.Act, in *barn.With[ArmsInput]) error {
	ids, arms := make([]int64, len(in.Body.Moves)), map[int64]int64{}
	for i, m := range in.Body.Moves {
		ids[i], arms[m.CutID] = m.CutID, m.ArmID
		if err := checkArm(ctx, a, &m.ArmID); err != nil {
			return err
		}
	}
	if _, err := mayMove(ctx, a, ids); err != nil {
		return err
	}
	return a.Store.SetArms(ctx, a.Who.ID, arms, "moved by hand")
}

// pairUp puts cuts that have no block into blocks of alike ones, as many in
// each as there are arms.
func pairUp(ctx context.Context, a *barn.Act, in *drawOf) error {
	l, err := mayMove(ctx, a, nil)
	if err != nil {
		return err
	}
	taken := map[string]bool{}
	var alone []evidence.Cut
	for _, cut := range l.Trial.Cuts {
		if cut.Block == "" {
			alone = append(alone, cut)
		}
		taken[strings.ToLower(cut.Block)] = true
	}
	size := len(l.Trial.Ask.Arms)
	if len(alone) < size || size < 2 {
		return fault.New("cuts", fmt.Sprintf("%d cuts without a block for %d arms", len(alone), size), "hang more, or clear the blocks of some")
	}
	kg, thick := make([]*float64, len(alone)), make([]*float64, len(alone))
	for i, cut := range alone {
		if v, ok := cut.Kg(yield.Trimmed); ok {
			kg[i] = &v
		}
		thick[i] = cut.Dimension("thickness")
	}
	variables := [][]*float64{kg}
	if slices.ContainsFunc(thick, func(v *float64) bool { return v != nil }) {
		variables = append(variables, thick)
	}
	names, next := map[int]string{}, 0
	blocks := map[int64]string{}
	for i, set := range design.PairUp(variables, len(alone), size) {
		if set < 0 {
			continue
		}
		for names[set] == "" {
			if next++; !taken[fmt.Sprint(next)] {
				names[set] = fmt.Sprint(next)
			}
		}
		blocks[alone[i].ID] = names[set]
	}
	return a.Store.SetBlocks(ctx, a.Who.ID, blocks, "matched by weight and thickness")
}

func setPositions(ctx context.Context, a *barn.Act, in *barn.With[PositionsInput]) error {
	ids := make([]int64, len(in.Body.Positions))
	for i, p := range in.Body.Positions {
		ids[i] = p.CutID
	}
	l, err := mayMove(ctx, a, ids)
	if err != nil {
		return err
	}
	placed, err := placementsOf(l.Trial, in.Body.Positions)
	if err != nil {
		return err
	}
	return a.Store.PutCuts(ctx, a.Who.ID, placed)
}

// placementsOf checks places against the runs of a trial: no two cuts in one.
func placementsOf(t evidence.Trial, places []design.GratePosition) ([]store.Placement, error) {
	stands, names := map[int64]string{}, map[int64]string{}
	key := func(run int64, position string) string { return fmt.Sprint(run, " ", strings.ToUpper(position)) }
	for _, cut := range t.Cuts {
		names[cut.ID] = cut.Name
		if lies, ok := cut.Lies(); ok && lies.Position != "" {
			stands[cut.ID] = key(lies.PitRunID, lies.Position)
		}
	}
	var out []store.Placement
	for i, p := range places {
		position := strings.ToUpper(strings.TrimSpace(p.Position))
		run, ok := t.Run(p.PitRunID)
		if !ok {
			return nil, fault.New(fmt.Sprintf("positions[%d].pit_run_id", i), "there is no such pit in this trial's cooks", "choose one of its pits")
		}
		if len(position) > 20 {
			return nil, fault.New(fmt.Sprintf("positions[%d].position", i), "the place has a long name", "keep it to 20 letters, for instance A1")
		}
		delete(stands, p.CutID)
		if position != "" {
			stands[p.CutID] = key(p.PitRunID, position)
		}
		out = append(out, store.Placement{CutID: p.CutID, CookID: run.CookID, PitRunID: &p.PitRunID, Position: position})
	}
	in := map[string]int64{}
	for cut, place := range stands {
		if other, taken := in[place]; taken {
			return nil, fault.New("position", fmt.Sprintf("%s and %s are both at %s", names[min(cut, other)], names[max(cut, other)],
				place[strings.LastIndex(place, " ")+1:]), "give each cut a place of its own")
		}
		in[place] = cut
	}
	return out, nil
}

func drawPositions(ctx context.Context, a *barn.Act, in *drawOf) error {
	l, err := mayMove(ctx, a, nil)
	if err != nil {
		return err
	}
	var runs []design.Run
	for i, k := range l.Trial.Cooks {
		for _, r := range l.Trial.Runs {
			if r.CookID == k.ID {
				runs = append(runs, design.Run{CookID: k.ID, Cook: fmt.Sprintf("day %d", i+1), PitRunID: r.ID, Pit: r.Pit,
					Columns: r.Columns, Rows: r.Rows, SetPoint: r.SetC, Alike: r.Used.Alike()})
			}
		}
	}
	if len(runs) == 0 {
		return fault.New("cooks", "there is no cook day with a pit yet", "add one below or in Plan")
	}
	pieces := l.Trial.Pieces(l.Trial.Ask)
	if slices.ContainsFunc(pieces, func(p design.Piece) bool { return p.Arm < 0 }) {
		return fault.New("cuts", "some cuts have no arm yet", "draw the arms first")
	}
	seed, err := newSeed()
	if err != nil {
		return err
	}
	places, ok := design.DrawPositions(len(l.Trial.Ask.Arms), pieces, runs, design.DealingOf(l.Trial.Ask), design.Shuffle(seed))
	if !ok {
		return fault.New("positions", fmt.Sprintf("%d cuts do not fit the grates of the cook days", len(pieces)),
			"add a cook day or a pit, so that every level set on pits has a run, or more places to a pit's grate")
	}
	placed, err := placementsOf(l.Trial, places)
	if err != nil {
		return err
	}
	return a.Store.PutCuts(ctx, a.Who.ID, placed)
}

// SwapInput names two pit runs of one cook.
type SwapInput struct {
	Runs []int64 `json:"runs" binding:"required,len=2"`
	Why  string  `json:"why" binding:"max=200"` // under the fire
}

// swapSetups lets two runs of a cook change pits. Levels, cuts and places go with the run.
func swapSetups(ctx context.Context, a *barn.Act, in *barn.With[SwapInput]) error {
	if a.State.Lit {
		return barn.Refuse("A cut is on the fire, so pits keep their set-ups.", "Cross them over on the next cook day.")
	}
	l, err := trials.LookAt(ctx, a.Store, a.TrialID)
	if err != nil {
		return err
	}
	first, ok := l.Trial.Run(in.Body.Runs[0])
	second, too := l.Trial.Run(in.Body.Runs[1])
	switch {
	case !ok || !too || first.CookID != second.CookID || first.ID == second.ID:
		return fault.New("runs", "these are not two pits of one cook of this trial", "choose two pits of one cook day")
	case first.Columns != second.Columns || first.Rows != second.Rows:
		return barn.Refuse(fmt.Sprintf("The grates of %s and %s have other places.", first.Pit, second.Pit),
			"Make them alike on the Pits page, or lay the cuts in Plan.")
	}
	return a.Store.SwapPits(ctx, a.Who.ID, first.ID, second.ID)
}
