package store

import (
	"context"
	"maps"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/trial"
	"whitebarn/core/yield"
)

// Rehearse copies a trial with the cuts and pits of one of its cooks, to be
// played on a clock of its own. Nothing done there touches the trial itself.
func (s *Store) Rehearse(ctx context.Context, who int64, k Cook, c trial.Clock) (trialID, cookID int64, err error) {
	err = s.InTx(ctx, func(s *Store) error {
		from, err := s.Trial(ctx, k.TrialID)
		if err != nil {
			return err
		}
		if trialID, err = s.CreateTrial(ctx, who, from.Ask.Copy()); err != nil {
			return err
		}
		if _, err := s.pool.Exec(ctx, "update trials set rehearses_id = $2 where id = $1", trialID, k.TrialID); err != nil {
			return err
		}
		plan, err := s.copyPlan(ctx, who, k, trialID)
		if err != nil {
			return err
		}
		plan.ServeAt = k.ServeAt
		if cookID, err = s.CreateCook(ctx, who, trialID, plan, c); err != nil {
			return err
		}
		return s.Play(ctx, cookID, true)
	})
	return trialID, cookID, err
}

// copyPlan copies the cuts of a cook into another trial and plans them there.
func (s *Store) copyPlan(ctx context.Context, who int64, k Cook, trialID int64) (p CookPlan, err error) {
	from, err := s.Trial(ctx, k.TrialID)
	if err != nil {
		return p, err
	}
	to, err := s.Trial(ctx, trialID)
	if err != nil {
		return p, err
	}
	arms := map[int64]int64{}
	for i, a := range from.Ask.Arms {
		arms[a.ID] = to.Ask.Arms[i].ID
	}
	runs, err := s.PitRuns(ctx, k.TrialID)
	if err != nil {
		return p, err
	}
	place := map[int64]int{}
	for _, r := range runs {
		if r.CookID == k.ID {
			place[r.ID] = len(p.Runs)
			r.ID = 0
			if r.ArmID != nil {
				arm := arms[*r.ArmID]
				r.ArmID = &arm
			}
			p.Runs = append(p.Runs, r)
		}
	}
	cuts, err := s.Cuts(ctx, k.TrialID)
	if err != nil {
		return p, err
	}
	weights, err := s.Weighings(ctx, k.TrialID)
	if err != nil {
		return p, err
	}
	placed, err := s.Placements(ctx, k.TrialID)
	if err != nil {
		return p, err
	}
	standing := map[int64]Placement{}
	for _, l := range placed {
		if l.CookID == k.ID && l.PitRunID != nil {
			standing[l.CutID] = l
		}
	}
	for _, c := range cuts {
		l, here := standing[c.ID]
		if !here {
			continue
		}
		old := c.ID
		if c.ArmID != nil {
			arm := arms[*c.ArmID]
			c.ArmID = &arm
		}
		c.ParentID = nil
		id, err := s.AddCut(ctx, who, trialID, c)
		if err != nil {
			return p, err
		}
		for _, w := range weights {
			if w.CutID == old && w.Stage == yield.Trimmed {
				w.CutID = id
				if err := s.Weigh(ctx, who, w); err != nil {
					return p, err
				}
			}
		}
		p.Placements = append(p.Placements, PlannedPlacement{CutID: id, Run: place[*l.PitRunID], Position: l.Position})
	}
	o, err := s.Outline(ctx, k.TrialID)
	if err == ErrNotFound {
		return p, nil
	}
	for i := range o.Arms {
		o.Arms[i].ArmID = arms[o.Arms[i].ArmID]
	}
	p.Outline = &o
	return p, err
}

// Play says whether a cook's devices are simulated by the server.
func (s *Store) Play(ctx context.Context, cookID int64, on bool) error {
	_, err := s.pool.Exec(ctx, "update cooks set played = $2, day_start = coalesce(day_start, clock_origin), rehearsal = (select rehearses_id is not null from trials t where t.id = trial_id) where id = $1", cookID, on)
	return err
}

// Played lists the cooks whose devices are simulated.
func (s *Store) Played(ctx context.Context) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select id from cooks where played order by id")
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// SetClock makes a cook's clock run otherwise from now on.
func (s *Store) SetClock(ctx context.Context, cookID int64, c trial.Clock) error {
	_, err := s.pool.Exec(ctx, "update cooks set clock_origin = $2, clock_start = $3, clock_rate = $4 where id = $1", cookID, c.Origin, c.Start, c.Rate)
	return err
}

// RehearsalsOf lists the rehearsals of a trial, newest first.
func (s *Store) RehearsalsOf(ctx context.Context, trialID int64) ([]int64, error) {
	rows, err := s.pool.Query(ctx, "select id from trials where rehearses_id = $1 order by id desc", trialID)
	if err != nil {
		return nil, err
	}
	ids, err := pgx.CollectRows(rows, pgx.RowTo[int64])
	if ids == nil {
		ids = []int64{} // JSON says [] for none
	}
	return ids, err
}

// PlayedDevice is the device that plays a cook, made when there is none. Its
// channels are registered and assigned from a moment on.
func (s *Store) PlayedDevice(ctx context.Context, who int64, k Cook, name string, channels map[string]Measured) (d Device, token string, err error) {
	err = s.InTx(ctx, func(s *Store) error {
		err := s.pool.QueryRow(ctx, "select id, last_sequence from devices where cook_id = $1 order by id limit 1", k.ID).Scan(&d.ID, &d.LastSequence)
		if found(err) == ErrNotFound {
			if d, token, err = s.NewDevice(ctx, who, name, &k.ID); err != nil {
				return err
			}
			return s.register(ctx, who, k, d.ID, channels)
		}
		if err != nil {
			return err
		}
		if token, err = s.Renew(ctx, who, d.ID); err != nil {
			return err
		}
		return s.register(ctx, who, k, d.ID, channels)
	})
	return d, token, err
}

// register gives the device of a played cook its channels; those it has stay as they are.
func (s *Store) register(ctx context.Context, who int64, k Cook, device int64, channels map[string]Measured) error {
	for _, channel := range slices.Sorted(maps.Keys(channels)) {
		var probe int64
		if err := s.pool.QueryRow(ctx, `insert into probes (device_id, channel) values ($1, $2) on conflict (device_id,
			channel) do nothing returning id`, device,
			channel).Scan(&probe); found(err) == ErrNotFound {
			continue // it is there since the day began
		} else if err != nil {
			return err
		}
		if err := s.AssignProbe(ctx, who, k.ID, probe, channels[channel], k.Clock.Origin.AddDate(0, 0, -1)); err != nil {
			return err
		}
	}
	return nil
}

// CookMaker is who planned a cook.
func (s *Store) CookMaker(ctx context.Context, cookID int64) (who int64, err error) {
	return who, found(s.pool.QueryRow(ctx, "select created_by from cooks where id = $1", cookID).Scan(&who))
}

// DayStart is when a played cook's day began.
func (s *Store) DayStart(ctx context.Context, cookID int64) (at time.Time, err error) {
	err = s.pool.QueryRow(ctx, "select day_start from cooks where id = $1", cookID).Scan(&at)
	return at, found(err)
}

// Families of advisory locks: who plays a cook, and who watches over all.
const (
	playLock  = 0x77b1
	watchLock = 0x77b2
)

// Hold makes this server the one that plays a cook, until release; ok is
// false while another does.
func (s *Store) Hold(ctx context.Context, cookID int64) (release func(), ok bool, err error) {
	return s.hold(ctx, playLock, cookID)
}

// HoldWatch makes this server the one that watches over all cooks.
func (s *Store) HoldWatch(ctx context.Context) (release func(), ok bool, err error) {
	return s.hold(ctx, watchLock, 0)
}

// hold takes an advisory lock on a connection of its own, which would be
// missing in the pool for hours; when it is lost the lock is free.
func (s *Store) hold(ctx context.Context, family, id int64) (release func(), ok bool, err error) {
	conn, err := pgx.ConnectConfig(ctx, s.root.Config().ConnConfig)
	if err != nil {
		return nil, false, err
	}
	release = func() { _ = conn.Close(context.WithoutCancel(ctx)) }
	if err := conn.QueryRow(ctx, "select pg_try_advisory_lock($1::int, $2::int)", family, id).Scan(&ok); err != nil || !ok {
		release()
		return nil, false, err
	}
	return release, true, nil
}
