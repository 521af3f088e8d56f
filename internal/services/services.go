// Package services puts the use cases of a barn together over its record.
package services

import (
	"time"

	core "whitebarn/core/plan"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/book"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/prep"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/live"
	"whitebarn/internal/rehearse"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

// Services are what answers for a barn.
type Services struct {
	Barn    *barn.Barn
	People  *people.Desk
	Trials  *trials.Reader
	Planner *plan.Planner
	Prep    *prep.Desk
	Gate    *gate.Keeper
	Desk    *settle.Desk
	Book    *book.Desk
	Watcher *watch.Watcher
	Monitor *watch.Monitor
	Hub     *live.Hub
	Ingest  live.Ingest
	Player  *rehearse.Player
}

// New puts them together; now is the true time, passwords are hashed at a cost, and how long
// planned cuts take is remembered in plans.
func New(s *store.Store, now func() time.Time, cost auth.Cost, plans *core.Memory) *Services {
	v := &Services{Barn: &barn.Barn{Store: s, Now: now}, Planner: plan.New(s, plans), Desk: settle.New(s, now), Gate: gate.New(s, now),
		Hub: live.NewHub(s)}
	v.Barn.Judge = v.Desk.Anew
	v.Book = book.New(s, v.Desk, v.Planner)
	v.People = people.New(v.Barn, cost)
	v.Trials = trials.NewReader(v.Barn, v.Planner, v.Desk)
	v.Prep = prep.New(v.Barn, v.Planner)
	v.Watcher = watch.New(s, v.Planner)
	v.Monitor = watch.NewMonitor(v.Watcher, v.Gate, now)
	v.Ingest = live.Ingest{Store: s, Now: now, Hub: v.Hub}
	v.Player = rehearse.NewPlayer(v.Ingest)
	return v
}
