package server

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/keeping"
	"whitebarn/internal/live"
	"whitebarn/internal/testkit/pgtest"
)

// TestDevicesAndPhotosWaitBeforeTheRecordDoes lets the disk of a barn run full: first what is
// large waits, then all that would write, and nothing once there is room again.
func TestDevicesAndPhotosWaitBeforeTheRecordDoes(t *testing.T) {
	t.Parallel()
	s := pgtest.Store(t)
	free, readOnly := int64(500<<30), false
	disk := &keeping.Disk{Dir: "/", Store: s, Free: func(string) (int64, bool, error) { return free, readOnly, nil }}
	srv, handler := New(servicesOf(s), Options{Disk: disk})
	web := httptest.NewServer(handler)
	t.Cleanup(func() { web.Close(); srv.Close() })
	b := &testBarn{t: t, store: s, url: web.URL}
	odalys := b.hand()
	odalys.setUp()
	v := odalys.trialOf(lambAsk(), 1)
	gateway := b.device(odalys, "gateway", nil)
	now := time.Now()
	log := func() int {
		status, _ := odalys.send("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), "application/json",
			encoded(t, fire.EventInput{Act: logbook.Note, At: &now, Note: "wind", Press: uuid.NewString()}))
		return status
	}
	var picture bytes.Buffer
	if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	photo := func() int {
		status, _, _ := odalys.photo(v.Cooks[0].ID, picture.Bytes())
		return status
	}
	readings := func() int {
		status, _ := gateway.post("text/csv", lines("pit", 1, 1, 121))
		return status
	}
	told, end, err := srv.Hub.Follow(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	defer end()
	for _, c := range []struct {
		name               string
		free               int64
		readOnly           bool
		log, photo, device int
		ready              string
	}{
		{"with room", 500 << 30, false, 201, 201, 200, `"status":"ready"`},
		{"nearly full", 200 << 20, false, 201, 507, 503, `"status":"ready"`},
		{"full", 10 << 20, false, 507, 507, 503, `"status":"reads only"`},
		{"read only", 500 << 30, true, 507, 507, 503, `"status":"reads only"`},
		{"with room again", 500 << 30, false, 201, 201, 200, `"status":"ready"`},
	} {
		free, readOnly = c.free, c.readOnly
		was := disk.Room().State
		disk.Look(0)
		if disk.Room().State != was {
			roomIsTold(t, told, c.name)
		}
		if got := [3]int{log(), photo(), readings()}; got != [3]int{c.log, c.photo, c.device} {
			t.Errorf("%s, a press, a photo and a device are answered %v, want %v", c.name, got, [3]int{c.log, c.photo, c.device})
		}
		if status, _ := b.hand().send("POST", "/api/session", "application/json", encoded(t, people.SignIn{SignIn: "odalys", Password: password})); status != 200 {
			t.Errorf("%s, signing in to read is answered %d", c.name, status)
		}
		if _, text := odalys.send("GET", "/ready", "", nil); !strings.Contains(string(text), c.ready) {
			t.Errorf("%s it says %s", c.name, text)
		}
	}
}

// roomIsTold waits for the word to all browsers that the session reads otherwise.
func roomIsTold(t *testing.T, told <-chan live.Message, when string) {
	t.Helper()
	late := time.After(10 * time.Second)
	for {
		select {
		case m := <-told:
			if m.Kind == live.Changed && slices.Contains(m.Parts, "session") {
				return
			}
		case <-late:
			t.Errorf("%s, no browser is told", when)
			return
		}
	}
}
