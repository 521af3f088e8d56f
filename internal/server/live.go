package server

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/internal/api"
	guard "whitebarn/internal/barn"
	"whitebarn/internal/live"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

// DeviceInput names a new device. One for a rehearsal or a back-filled day
// lives by the clock of its cook.
type DeviceInput struct {
	Name   string `json:"name" binding:"required,max=60"`
	CookID *int64 `json:"cook_id"`
}

// NewToken is shown once.
type NewToken struct {
	Device store.Device `json:"device"`
	Token  string       `json:"token"`
}

// ProbeInput says what a probe measures from now on; neither takes it off.
type ProbeInput struct {
	CutID    *int64 `json:"cut_id"`
	PitRunID *int64 `json:"pit_run_id"`
	HolderID *int64 `json:"holder_id"`              // its run for the cook is begun
	Point    string `json:"point" binding:"max=20"` // on a pit: a grate position, the dial; empty is the whole
	Place    string `json:"place" binding:"max=20"` // on a piece; empty is the whole
}

type probeOfCook struct {
	byID
	Probe int64 `uri:"probe" binding:"min=1"`
}

func (s *Server) registerLive(a *api.Routes, engine *gin.Engine, crew, master *gin.RouterGroup) {
	engine.POST("/api/devices/readings", s.receive)
	engine.GET("/api/devices/me", s.deviceSelf)
	crew.GET("/live", s.stream)
	api.Handle(a, crew, "GET", "/devices", "getDevices", 200, func(c *gin.Context, _ *api.None) ([]store.Device, error) { return s.store.Devices(c) })
	api.Handle(a, crew, "GET", "/devices/:id/refusals", "getRefusals", 200, func(c *gin.Context, in *byID) ([]store.Refusal, error) {
		return s.store.Refusals(c, in.ID)
	})
	api.Handle(a, master, "POST", "/devices", "addDevice", 201, s.addDevice)
	api.Handle(a, master, "POST", "/devices/:id/token", "renewDevice", 200, s.renewDevice)
	api.Handle(a, master, "POST", "/devices/:id/retire", "retireDevice", 204, func(c *gin.Context, in *byID) (api.None, error) {
		return api.None{}, s.store.Retire(c, in.ID)
	})
	api.Handle(a, crew, "GET", "/cooks/:id/probes", "getProbes", 200, func(c *gin.Context, in *byID) ([]store.ProbeNow, error) {
		return s.store.Probes(c, in.ID)
	})
	alter(s, a, crew, door{of: "cook", kind: guard.Record, what: "put a probe elsewhere"}, "PUT", "/cooks/:id/probes/:probe", "assignProbe",
		200, (*Server).assignProbe)
	api.Handle(a, crew, "GET", "/cooks/:id/forecast", "getForecast", 200, func(c *gin.Context, in *byID) ([]watch.Outlook, error) {
		return s.watcher.Forecast(c, in.ID, s.now())
	})
	api.Handle(a, crew, "GET", "/cooks/:id/ways", "getWays", 200, func(c *gin.Context, in *byID) ([]watch.WaysOut, error) {
		return s.watcher.Ways(c, in.ID, s.now())
	})
	api.Handle(a, crew, "GET", "/cooks/:id/so-far", "getSoFar", 200, func(c *gin.Context, in *byID) (watch.Delivered, error) {
		return s.watcher.SoFar(c, in.ID, s.now())
	})
	api.Handle(a, crew, "GET", "/burning", "getBurning", 200, func(c *gin.Context, _ *api.None) ([]store.Burning, error) {
		return s.store.Burning(c, s.now())
	})
	api.Handle(a, crew, "GET", "/cooks/:id/clocks", "getClocks", 200, func(c *gin.Context, in *byID) ([]watch.Clock, error) {
		return s.watcher.Clocks(c, in.ID, s.now())
	})
	api.Handle(a, crew, "GET", "/cooks/:id/alarms", "getAlarms", 200, func(c *gin.Context, in *byID) ([]store.Alarm, error) { return s.store.Alarms(c, in.ID) })
	api.Handle(a, crew, "POST", "/alarms/:id/seen", "seeAlarm", 200, s.seeAlarm)
	api.Handle(a, crew, "GET", "/scales", "getScales", 200, func(c *gin.Context, _ *api.None) ([]store.ProbeNow, error) { return s.store.LastWeights(c) })
}

func (s *Server) addDevice(c *gin.Context, in *struct{ Body DeviceInput }) (NewToken, error) {
	name := strings.TrimSpace(in.Body.Name)
	d, token, err := s.store.NewDevice(c, who(c).ID, name, in.Body.CookID)
	if errors.Is(err, store.ErrConflict) {
		return NewToken{}, fault.New("name", fmt.Sprintf("there is a device %q already", name), "give it another name, or renew that one's token")
	}
	return NewToken{d, token}, err
}

func (s *Server) renewDevice(c *gin.Context, in *byID) (NewToken, error) {
	token, err := s.store.Renew(c, who(c).ID, in.ID)
	return NewToken{store.Device{ID: in.ID}, token}, err
}

func (s *Server) assignProbe(c *gin.Context, in *struct {
	probeOfCook
	Body ProbeInput
}) ([]store.ProbeNow, error) {
	trialID := s.changing.trialID
	k, err := s.store.Cook(c, in.ID)
	if err != nil {
		return nil, err
	}
	b := in.Body
	m := store.Measured{CutID: b.CutID, PitRunID: b.PitRunID, Point: b.Point, Place: b.Place}
	of := 0
	for _, id := range []*int64{b.CutID, b.PitRunID, b.HolderID} {
		if id != nil {
			of++
		}
	}
	switch {
	case of > 1:
		return nil, fault.New("cut_id", "a probe cannot be in two places", "choose one of a cut, a pit and a holder")
	case b.PitRunID != nil:
		if err := s.checkRuns(c, trialID, in.ID, []int64{*b.PitRunID}); err != nil {
			return nil, err
		}
	case b.CutID != nil:
		placed, err := s.store.Placements(c, trialID)
		if err != nil {
			return nil, err
		}
		if !stands(placed, *b.CutID, in.ID) {
			return nil, fault.New("cut_id", fmt.Sprintf("cut %d is not in this cook", *b.CutID), "give it a pit in Plan first")
		}
	case b.HolderID != nil:
		run, err := s.store.HolderRunFor(c, in.ID, *b.HolderID)
		if err != nil {
			return nil, err
		}
		m.HolderRunID = &run
	}
	if err := s.store.AssignProbe(c, who(c).ID, in.ID, in.Probe, m, k.Clock.Now(s.now())); err != nil {
		return nil, err
	}
	return s.store.Probes(c, in.ID)
}

func stands(placed []store.Placement, cut, cook int64) bool {
	for _, l := range placed {
		if l.CutID == cut && l.CookID == cook {
			return true
		}
	}
	return false
}

// seeAlarm says that somebody saw an alarm.
func (s *Server) seeAlarm(c *gin.Context, in *byID) ([]store.Alarm, error) {
	cookID, err := s.store.SeeAlarm(c, who(c).ID, in.ID, s.now())
	if err != nil {
		return nil, err
	}
	return s.store.Alarms(c, cookID)
}

// letIn lets a device in, or answers why not.
func (s *Server) letIn(c *gin.Context) (d store.Sender, now time.Time, in bool) {
	token, _ := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
	d, now, err := s.ingest.Enter(c, token)
	if errors.Is(err, live.ErrUnknown) {
		err = api.Refuse(http.StatusUnauthorized, "This token is not known.", "Send Authorization: Bearer and the token shown when the device was added; a pitmaster can renew it.")
	}
	if err != nil {
		api.Fail(c, err)
	}
	return d, now, err == nil
}

// receive takes a batch; it answers after the commit, and a resend is harmless.
func (s *Server) receive(c *gin.Context) {
	d, now, in := s.letIn(c)
	if !in {
		return
	}
	body, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, live.MostBody))
	var large *http.MaxBytesError
	if errors.As(err, &large) {
		api.Fail(c, api.Refuse(http.StatusRequestEntityTooLarge, fmt.Sprintf("The batch is over %d MB.", live.MostBody>>20), fmt.Sprintf("Send %d readings at most in one batch.", live.MostReadings)))
		return
	}
	if err != nil {
		return // the device went away
	}
	out, err := s.ingest.Take(c, d, now, c.ContentType(), body)
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.JSON(http.StatusOK, out)
}

func (s *Server) deviceSelf(c *gin.Context) {
	if d, now, in := s.letIn(c); in {
		c.JSON(http.StatusOK, live.Self{Name: d.Name, LastSequence: d.LastSequence, Now: now})
	}
}

const heartbeat = 15 * time.Second

// stream sends what happens at a cook as it happens. A browser that comes back
// says what it saw last and is sent what it missed.
func (s *Server) stream(c *gin.Context) {
	cook, err := strconv.ParseInt(c.Query("cook"), 10, 64)
	if err != nil {
		api.Fail(c, fault.New("cook", "the stream is of no cook", "give ?cook= and its number"))
		return
	}
	ch, end, err := s.hub.Follow(c.Request.Context(), cook)
	if err != nil {
		return // the browser went away
	}
	defer end()
	h := c.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("X-Accel-Buffering", "no")
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Time{})
	fmt.Fprint(c.Writer, "retry: 1000\n\n")
	if since, err := strconv.ParseInt(c.GetHeader("Last-Event-ID"), 10, 64); err == nil {
		rows, err := s.hub.Missed(c, cook, time.UnixMicro(since))
		switch {
		case err != nil:
			fmt.Fprint(c.Writer, "event: changed\ndata: {}\n\n")
		case len(rows) > 0:
			send(c.Writer, live.Message{Kind: "readings", Readings: rows, Received: rows[len(rows)-1].Received})
		}
	}
	c.Writer.Flush()
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case m, open := <-ch:
			if !open {
				return
			}
			send(c.Writer, m)
		case <-beat.C:
			send(c.Writer, live.Message{Kind: "beat"})
		}
		c.Writer.Flush()
	}
}

func send(w io.Writer, m live.Message) {
	if m.Kind != "readings" {
		fmt.Fprintf(w, "event: %s\ndata: {}\n\n", m.Kind)
		return
	}
	data, err := json.Marshal(m.Readings)
	if err != nil {
		return // times and numbers always marshal
	}
	fmt.Fprintf(w, "id: %d\nevent: readings\ndata: %s\n\n", m.Received.UnixMicro(), data)
}

// broadcastChange lets all browsers know that the record changed.
func (s *Server) broadcastChange(c *gin.Context) {
	c.Next()
	if c.Request.Method != http.MethodGet && c.Writer.Status() < 300 {
		_ = s.store.Notify(c, "changed") // at worst another browser sees it later
	}
}
