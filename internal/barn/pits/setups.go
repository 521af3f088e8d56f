package pits

import (
	"context"
	"slices"
	"time"

	"whitebarn/core/pit"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// SetUpsView is a trial of set-ups as its burns tell it so far.
type SetUpsView struct {
	TrialID int64            `json:"trial_id"`
	Pit     *store.Pit       `json:"pit"` // nil while none is burned
	SetUps  []SetUpView      `json:"set_ups"`
	Pairs   []pit.Comparison `json:"pairs"` // the first that burned beside each other one
	InUse   *int64           `json:"in_use"`
}

// SetUpView is one set-up: its burns, and what they tell of it by itself.
type SetUpView struct {
	ArmID     int64       `json:"arm_id"`
	Tag       string      `json:"tag"`
	Name      string      `json:"name"`
	Burns     []BurnLine  `json:"burns"`
	Judged    *pit.Judged `json:"judged"`
	Sentence  string      `json:"sentence"`
	Map       []pit.Spot  `json:"map"`
	LeadMin   *float64    `json:"lead_min"`
	RefuelMin *float64    `json:"refuel_min"`
	Alike     int         `json:"places_within_5_f"`
}

// BurnLine is one burn with its traces, as a picture shows them.
type BurnLine struct {
	store.PitRun
	Lit     *time.Time  `json:"lit"` // nil: not yet
	AirC    *float64    `json:"air_c"`
	Wind    string      `json:"wind"`
	Told    *pit.Told   `json:"told"`
	Missing string      `json:"missing"`
	Traces  []BurnTrace `json:"traces"`
}

// BurnTrace is what one point of a pit read, smoothed and thinned for a picture.
type BurnTrace struct {
	Point    string        `json:"point"`
	Place    pit.Place     `json:"place"`
	Readings []pit.Elapsed `json:"readings"`
}

// SetUpsInput asks for a trial of set-ups, read by a band of so much to either side of the set
// point; 0 is the usual 15 F.
type SetUpsInput struct {
	barn.ByID
	BandC float64 `form:"band_c" binding:"min=0,max=50"`
}

// SetUps reads a trial of set-ups.
func SetUps(ctx context.Context, b *barn.Barn, in *SetUpsInput) (SetUpsView, error) {
	v := SetUpsView{TrialID: in.ID, SetUps: []SetUpView{}, Pairs: []pit.Comparison{}}
	t, err := b.Store.Trial(ctx, in.ID)
	if err != nil {
		return v, err
	}
	if t.Ask.Kind != trial.OfSetUps {
		return v, store.ErrNotFound
	}
	read, err := ReadSetUps(ctx, b.Store, t)
	if err != nil {
		return v, err
	}
	for i := range read.read {
		read.read[i].BandC = in.BandC
	}
	v.Pit = read.Pit
	if v.Pit != nil && v.Pit.Used != nil {
		v.InUse = &v.Pit.Used.ArmID
	}
	for _, a := range t.Ask.Arms {
		v.SetUps = append(v.SetUps, read.view(a))
	}
	if all := read.Burned(t.Ask); len(all) > 1 {
		for _, other := range all[1:] {
			if c, err := pit.Compare(all[0], other); err == nil {
				v.Pairs = append(v.Pairs, c)
			}
		}
	}
	return v, nil
}

// SetUpRows is what the record holds of a trial of set-ups.
type SetUpRows struct {
	Pit    *store.Pit
	runs   []store.PitRun
	burns  []store.PitBurn
	read   []pit.Burn // of burns
	events []store.Event
}

// ReadSetUps reads them with the same few queries for any number of burns.
func ReadSetUps(ctx context.Context, s *store.Store, t store.Trial) (r SetUpRows, err error) {
	var arms []int64
	for _, a := range t.Ask.Arms {
		arms = append(arms, a.ID)
	}
	if r.runs, err = s.PitRuns(ctx, t.ID); err != nil {
		return r, err
	}
	if r.burns, err = s.BurnsOfArms(ctx, arms...); err != nil {
		return r, err
	}
	if r.read, err = readBurns(ctx, s, r.burns); err != nil {
		return r, err
	}
	if r.events, err = s.Events(ctx, t.ID); err != nil || len(r.runs) == 0 {
		return r, err
	}
	pits, err := s.Pits(ctx)
	i := slices.IndexFunc(pits, func(p store.Pit) bool { return p.ID == r.runs[0].PitID })
	if err == nil && i >= 0 {
		r.Pit = &pits[i]
	}
	return r, err
}

// Burned are the set-ups of which a burn tells something, in the order of the arms.
func (r SetUpRows) Burned(a trial.Ask) (out []pit.SetUp) {
	for _, arm := range a.Arms {
		if s := r.of(arm); len(s.Burns) > 0 {
			out = append(out, s)
		}
	}
	return out
}

func (r SetUpRows) of(arm trial.Arm) pit.SetUp {
	s := pit.SetUp{Tag: arm.Tag}
	for i, b := range r.burns {
		if _, why := tell(r.read[i]); *b.ArmID == arm.ID && why == "" {
			s.Burns = append(s.Burns, r.read[i])
		}
	}
	return s
}

func (r SetUpRows) view(arm trial.Arm) SetUpView {
	v := SetUpView{ArmID: arm.ID, Tag: arm.Tag, Name: arm.Name(), Burns: []BurnLine{}, Map: []pit.Spot{}}
	for _, run := range r.runs {
		if run.ArmID != nil && *run.ArmID == arm.ID {
			v.Burns = append(v.Burns, r.line(run))
		}
	}
	s := r.of(arm)
	if len(s.Burns) == 0 {
		return v
	}
	judged, err := pit.Alone(s)
	if err != nil {
		return v // each of them tells, but not over the time they share
	}
	v.Judged, v.Sentence = &judged, judged.Sentence()
	v.LeadMin, v.RefuelMin = pit.Lead(judged.Told), pit.Refuel(judged.Told)
	v.Map = pit.MapOf(judged.Told, r.Pit.GrateColumns, r.Pit.GrateRows)
	for _, spot := range v.Map {
		if spot.Near {
			v.Alike++
		}
	}
	return v
}

func (r SetUpRows) line(run store.PitRun) BurnLine {
	l := BurnLine{PitRun: run, Missing: "Not lit yet.", Traces: []BurnTrace{}}
	for _, e := range r.events {
		if e.CookID != nil && *e.CookID == run.CookID && e.Detail.AirC != nil && l.AirC == nil {
			l.AirC, l.Wind = e.Detail.AirC, string(e.Detail.Wind)
		}
	}
	i := slices.IndexFunc(r.burns, func(b store.PitBurn) bool { return b.RunID == run.ID })
	if i < 0 {
		return l
	}
	l.Lit = &r.burns[i].Lit
	l.Told, l.Missing = tell(r.read[i])
	l.Traces = tracesOf(r.read[i])
	return l
}

// UseInput says with which set-up a pit is used from now on; 0 is none in particular.
type UseInput struct {
	ArmID int64 `json:"arm_id"`
}

// Use makes a set-up that was burned the one that a pit is used as: Plan and Match go by
// what its burns told.
func Use(ctx context.Context, a *barn.Act, in *barn.With[UseInput]) ([]store.Pit, error) {
	if in.Body.ArmID == 0 {
		return setPit(ctx, a, in.ID, func(p *store.Pit) { p.Used = nil })
	}
	id, err := a.Store.TrialOf(ctx, "arm", in.Body.ArmID)
	if err != nil {
		return nil, err
	}
	t, err := a.Store.Trial(ctx, id)
	if err != nil {
		return nil, err
	}
	read, err := ReadSetUps(ctx, a.Store, t)
	if err != nil {
		return nil, err
	}
	place, ok := t.Ask.ArmPlaces()[in.Body.ArmID]
	if !ok || read.Pit == nil || read.Pit.ID != in.ID {
		return nil, barn.Refuse("That set-up was not burned in this pit.", "Burn it here first, with a probe on the grate.")
	}
	arm := t.Ask.Arms[place]
	judged, err := pit.Alone(read.of(arm))
	if err != nil {
		return nil, barn.Refuse(arm.Tag+" has no burn that tells something.", "Burn it first, with a probe on the grate.")
	}
	used := pit.Used(judged, read.Pit.GrateColumns, read.Pit.GrateRows)
	used.TrialID, used.ArmID, used.Name = id, arm.ID, arm.Name()
	for _, b := range read.burns {
		if *b.ArmID == arm.ID && b.Lit.After(used.Last) {
			used.Last = b.Lit
		}
	}
	return setPit(ctx, a, in.ID, func(p *store.Pit) { p.Used = &used })
}
