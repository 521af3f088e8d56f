package book

import (
	"time"

	"whitebarn/core/phase"
	core "whitebarn/core/plan"
	"whitebarn/core/process"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/store"
)

// fire is the stretch of a card's phases at the fire.
func fire(b process.CardBody) (from, to int) { return phase.Fire(b.Phases()) }

// At is a desk over a record, for use cases that have no other.
func At(s *store.Store, now func() time.Time) *Desk {
	return New(s, settle.New(s, now), plan.New(s, new(core.Memory)))
}
