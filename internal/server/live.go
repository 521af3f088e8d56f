package server

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/live"
)

func (s *Server) registerLive(r *rooms) {
	r.device.Handle("POST", "/devices/readings", s.receive)
	r.device.Handle("GET", "/devices/me", s.deviceSelf)
	r.crew.Handle("GET", "/live", s.stream)
}

// letIn lets a device in, or answers why not.
func (s *Server) letIn(c *gin.Context) (d live.Sender, now time.Time, in bool) {
	d, now, err := s.Ingest.Enter(c, bearer(c))
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
	out, err := s.Ingest.Take(c, d, now, c.ContentType(), body)
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

// A browser that hears nothing for two beats says so; whether its session still stands is
// looked at now and then.
const (
	heartbeat   = 2 * time.Second
	sessionLook = 15 * time.Second
)

// stream sends what happens at a cook, or with none in the barn, as it happens. A browser
// says what it was told of last, and is sent what it missed since. It ends with the
// session it was opened in.
func (s *Server) stream(c *gin.Context) {
	cook, err := strconv.ParseInt(c.DefaultQuery("cook", "0"), 10, 64)
	if err != nil {
		api.Fail(c, fault.New("cook", "there is no such cook", "give ?cook= and its number, or none"))
		return
	}
	ch, end, err := s.Hub.Follow(c.Request.Context(), cook)
	if err != nil {
		return // the browser went away
	}
	defer end()
	h := c.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("X-Accel-Buffering", "no")
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Time{})
	fmt.Fprint(c.Writer, "retry: 1000\n\n")
	for _, m := range s.Hub.Since(c.Query("told")) {
		send(c.Writer, m)
	}
	if cook != 0 {
		// With no word of what it saw last: what came while its page was read.
		since := time.Now()
		if last, err := strconv.ParseInt(c.GetHeader("Last-Event-ID"), 10, 64); err == nil {
			since = time.UnixMicro(last)
		}
		rows, err := s.Hub.Missed(c, cook, since)
		switch {
		case err != nil:
			send(c.Writer, live.Message{Kind: live.Changed})
		case len(rows) > 0:
			send(c.Writer, live.Message{Kind: live.Readings, Readings: rows, Received: rows[len(rows)-1].Received})
		}
	}
	c.Writer.Flush()
	beat, look := time.NewTicker(heartbeat), time.NewTicker(sessionLook)
	defer beat.Stop()
	defer look.Stop()
	for {
		m := live.Message{Kind: "beat"}
		open := true
		select {
		case <-c.Request.Context().Done():
			return
		case m, open = <-ch:
		case <-beat.C:
		case <-look.C:
			m.Kind = live.SignedOut // perhaps
		}
		if !open || m.Kind == live.SignedOut && !s.stillIn(c) {
			return
		}
		if m.Kind != live.SignedOut {
			send(c.Writer, m)
			c.Writer.Flush()
		}
	}
}

// stillIn says whether the session of a request still stands.
func (s *Server) stillIn(c *gin.Context) bool {
	if token := bearer(c); token != "" {
		_, err := s.People.ByToken(c, token, true, barn.Door{})
		return err == nil
	}
	ctx, err := s.sessions.Load(s.alive, s.sessions.Token(c.Request.Context())) // as it is by now
	if err != nil {
		return false
	}
	stands, err := s.People.Stands(c, s.sessionOf(ctx))
	return stands && err == nil
}

// told is what a browser is told of a change: nothing is everything.
type told struct {
	Trial int64    `json:"trial"`
	Parts []string `json:"parts"`
	Told  string   `json:"told"` // for ?told= of a stream that is opened later
}

func send(w io.Writer, m live.Message) {
	var what any = struct{}{}
	switch m.Kind {
	case live.Readings:
		what = m.Readings
		fmt.Fprintf(w, "id: %d\n", m.Received.UnixMicro())
	case live.Changed:
		what = told{m.Trial, append([]string{}, m.Parts...), m.Told}
	}
	data, err := json.Marshal(what)
	if err != nil {
		return // times, numbers and names always marshal
	}
	fmt.Fprintf(w, "event: %s\ndata: %s\n\n", m.Kind, data)
}
