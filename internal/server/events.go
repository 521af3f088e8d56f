package server

import (
	"cmp"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/core/logbook"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// EventInput is one press of a pad: an act on cuts, on pit runs or on the cook.
type EventInput struct {
	Act       logbook.Act    `json:"act"`
	At        *time.Time     `json:"at"` // nil: now, by the cook's clock
	Note      string         `json:"note" binding:"max=400"`
	Detail    logbook.Detail `json:"detail,omitempty"`
	CutIDs    []int64        `json:"cut_ids" binding:"max=500"`
	PitRunIDs []int64        `json:"pit_run_ids" binding:"max=100"`
	Press     string         `json:"press" binding:"required,uuid"`
}

// CorrectionInput is another time, note or detail for an event or a press.
type CorrectionInput struct {
	At     time.Time      `json:"at"`
	Note   string         `json:"note" binding:"max=400"`
	Detail logbook.Detail `json:"detail,omitempty"`
	Press  string         `json:"press" binding:"required,uuid"` // of the correction
	Why    string         `json:"why" binding:"max=200"`         // once the codes are open
}

type pressID struct {
	Press string `uri:"press" binding:"uuid"`
}

func (s *Server) registerEvents(a *api.Routes, crew *gin.RouterGroup) {
	alter(s, a, crew, door{of: "cook", kind: guard.Record, what: "logged an act"}, "POST", "/cooks/:id/events", "logEvent", 201, (*Server).logEvent)
	alter(s, a, crew, door{of: "event", kind: guard.Record, what: "corrected an entry", corrects: true}, "PUT", "/events/:id", "correctEvent",
		200, (*Server).correctEvent)
	alter(s, a, crew, door{of: "press", kind: guard.Record, what: "corrected an entry", corrects: true}, "PUT", "/presses/:press",
		"correctPress", 200, (*Server).correctPress)
	alter(s, a, crew, door{of: "press", kind: guard.Record, what: "took an entry back", corrects: true}, "POST", "/presses/:press/void",
		"voidPress", 200, (*Server).voidPress)
	alter(s, a, crew, door{of: "cook", kind: guard.Record, what: "added a photo"}, "POST", "/cooks/:id/photos", "addPhoto", 201, (*Server).addPhoto)
	crew.GET("/photos/:id", s.photo)
}

func (s *Server) logEvent(c *gin.Context, in *struct {
	byID
	Body EventInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	k, err := s.store.Cook(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	b := in.Body
	at, err := s.eventTime(k, b.At)
	if err != nil {
		return TrialView{}, err
	}
	if row, known := b.Act.Row(); !known || row.Pad == logbook.PadNone {
		return TrialView{}, fault.New("act", fmt.Sprintf("%q is not an act", b.Act), "press one of the pads")
	}
	detail, err := b.Detail.Tidy(b.Act)
	if err != nil {
		return TrialView{}, err
	}
	if err := s.gate.Plausible(c, b.Act, detail); err != nil {
		return TrialView{}, err
	}
	if err := s.checkPhoto(c, trialID, detail.PhotoID); err != nil {
		return TrialView{}, err
	}
	if elsewhere, err := s.store.PressElsewhere(c, trialID, b.Press); err != nil {
		return TrialView{}, err
	} else if elsewhere {
		return TrialView{}, fault.New("press", "this press is of another trial", "press again: every press has a number of its own")
	}
	placed, err := s.store.Placements(c, trialID)
	if err != nil {
		return TrialView{}, err
	}
	events := []store.Event{}
	add := func(e store.Event) {
		e.Act, e.At, e.Note, e.Detail, e.Press = b.Act, at, strings.TrimSpace(b.Note), detail, b.Press
		events = append(events, e)
	}
	if b.Act.OfPit() {
		for _, id := range b.PitRunIDs {
			add(store.Event{PitRunID: &id})
		}
	} else {
		for _, id := range b.CutIDs {
			if err := s.checkCutEvent(c, id, in.ID, placed, logbook.Event{Act: b.Act, At: at}, b.Press); err != nil {
				return TrialView{}, err
			}
			add(store.Event{CutID: &id})
		}
	}
	if len(events) == 0 {
		if b.Act != logbook.Note && b.Act != logbook.Photo {
			return TrialView{}, fault.New("cut_ids", "nothing is picked for this act", "pick an arm or a cut first; its pit goes with it")
		}
		add(store.Event{CookID: &in.ID})
	}
	if b.Act.OfPit() {
		if err := s.checkRuns(c, trialID, in.ID, b.PitRunIDs); err != nil {
			return TrialView{}, err
		}
	}
	if err := s.store.Log(c, who(c).ID, events); err != nil {
		return TrialView{}, err
	}
	if b.Act == logbook.On {
		if err := s.gate.Stamp(c, trialID, b.CutIDs); err != nil {
			return TrialView{}, err
		}
	}
	if _, err := s.gate.Recheck(c, trialID); err != nil {
		return TrialView{}, err
	}
	return s.view(c, trialID)
}

// eventTime is the time of an event, which must not be ahead of the cook's clock.
func (s *Server) eventTime(k store.Cook, at *time.Time) (time.Time, error) {
	now := k.Clock.Now(s.now())
	if at == nil {
		return now, nil
	}
	return *at, logbook.CheckOfCook("at", *at, k.ServeAt, now)
}

func (s *Server) checkCutEvent(c *gin.Context, id, cookID int64, placed []store.Placement, e logbook.Event, press string) error {
	if !stands(placed, id, cookID) {
		return fault.New("cut_ids", fmt.Sprintf("cut %d is not in this cook", id), "give it a pit in Plan first")
	}
	me := who(c).Name
	return s.contradicts(c, id, e, func(other store.Event) bool {
		// A resend does not contradict itself, nor do two hands that logged the same at once: they clash, and a person picks one.
		return other.Press != press && !(other.Act == e.Act && other.By != me && logbook.SameTime(other.At, e.At))
	})
}

func (s *Server) checkRuns(c *gin.Context, trialID, cookID int64, ids []int64) error {
	runs, err := s.store.PitRuns(c, trialID)
	if err != nil {
		return err
	}
	mine := map[int64]bool{}
	for _, r := range runs {
		mine[r.ID] = mine[r.ID] || r.CookID == cookID
	}
	for _, id := range ids {
		if !mine[id] {
			return fault.New("pit_run_ids", fmt.Sprintf("pit run %d is not in this cook", id), "pick a pit of this cook")
		}
	}
	return nil
}

func (s *Server) correctEvent(c *gin.Context, in *struct {
	byID
	Body CorrectionInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	e, err := s.store.Event(c, in.ID)
	if err != nil {
		return TrialView{}, err
	}
	to, err := s.correction(c, trialID, in.Body, []store.Event{e})
	if err != nil {
		return TrialView{}, err
	}
	return s.change(c, store.PendingChange{TrialID: trialID, Press: e.Press, EventID: &e.ID, Correction: &to, Why: "corrected"})
}

// correctPress corrects all that one press wrote. A correction that is sent
// again changes nothing more.
func (s *Server) correctPress(c *gin.Context, in *struct {
	pressID
	Body CorrectionInput
}) (TrialView, error) {
	trialID := s.changing.trialID
	done, err := s.store.EventsOfPress(c, in.Body.Press)
	if err != nil {
		return TrialView{}, err
	}
	if len(done) > 0 {
		return s.view(c, trialID)
	}
	events, err := s.store.EventsOfPress(c, in.Press)
	if err != nil {
		return TrialView{}, err
	}
	to, err := s.correction(c, trialID, in.Body, events)
	if err != nil {
		return TrialView{}, err
	}
	return s.change(c, store.PendingChange{TrialID: trialID, Press: in.Press, Correction: &to, Why: cmp.Or(strings.TrimSpace(in.Body.Why), "corrected")})
}

// change makes a change to what was logged, or lets it wait for a second hand.
func (s *Server) change(c *gin.Context, p store.PendingChange) (TrialView, error) {
	p.ByID = who(c).ID
	if _, err := s.gate.Change(c, p); err != nil {
		return TrialView{}, err
	}
	return s.view(c, p.TrialID)
}

// correction checks what some events are to say instead.
func (s *Server) correction(c *gin.Context, trialID int64, in CorrectionInput, events []store.Event) (to store.Correction, err error) {
	to = store.Correction{At: in.At, Note: strings.TrimSpace(in.Note), Press: in.Press}
	cooks, err := s.store.Cooks(c, trialID)
	if err != nil {
		return to, err
	}
	if err := s.ofSomeCook(cooks, in.At); err != nil {
		return to, err
	}
	for _, e := range events {
		if to.Detail, err = in.Detail.Tidy(e.Act); err != nil {
			return to, err
		}
		if err := s.gate.Plausible(c, e.Act, to.Detail); err != nil {
			return to, err
		}
		if err := s.checkPhoto(c, trialID, to.Detail.PhotoID); err != nil {
			return to, err
		}
		if e.CutID == nil {
			continue
		}
		if err := s.contradicts(c, *e.CutID, logbook.Event{Act: e.Act, At: in.At}, func(other store.Event) bool { return other.ID != e.ID }); err != nil {
			return to, err
		}
	}
	return to, nil
}

// ofSomeCook refuses a time that belongs to none of a trial's cooks.
func (s *Server) ofSomeCook(cooks []store.Cook, at time.Time) (err error) {
	for _, k := range cooks {
		if _, err = s.eventTime(k, &at); err == nil {
			return nil
		}
	}
	return err
}

// checkPhoto refuses a photo of another trial; 0 is none.
func (s *Server) checkPhoto(c *gin.Context, trialID, id int64) error {
	if id == 0 {
		return nil
	}
	p, err := s.store.Photo(c, id)
	if err == nil {
		var of int64
		if of, err = s.store.TrialOf(c, "cook", p.CookID); err == nil && of == trialID {
			return nil
		}
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return fault.New("detail.photo_id", "there is no such photo of this trial", "send the photo first")
}

// contradicts refuses an event that the others of its cut, as far as they
// count, do not allow.
func (s *Server) contradicts(c *gin.Context, cutID int64, e logbook.Event, counts func(store.Event) bool) error {
	rows, err := s.store.EventsOfCut(c, cutID)
	if err != nil {
		return err
	}
	var others []logbook.Event
	for _, r := range rows {
		if counts(r) {
			others = append(others, logbook.Event{Act: r.Act, At: r.At})
		}
	}
	return logbook.CheckEvent(e, others)
}

func (s *Server) voidPress(c *gin.Context, in *struct {
	pressID
	Body Why
}) (TrialView, error) {
	trialID := s.changing.trialID
	return s.change(c, store.PendingChange{TrialID: trialID, Press: in.Press, Why: in.Body.Why})
}
