package server

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"mime/multipart"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"whitebarn/core/logbook"
	coreplan "whitebarn/core/plan"
	"whitebarn/core/settle"
	"whitebarn/core/trial"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	reader "whitebarn/internal/evidence"
	"whitebarn/internal/store"
	"whitebarn/internal/watch"
)

// tap logs an act with what it says, and returns its press.
func (h hand) tap(v *trials.TrialView, act logbook.Act, at string, d logbook.Detail, cuts ...int64) string {
	h.t.Helper()
	when := h.clock(at)
	e := fire.EventInput{Act: act, At: &when, Detail: d, CutIDs: cuts, Press: uuid.NewString()}
	if act.OfPit() {
		e.PitRunIDs = []int64{v.Cooks[0].Runs[0].ID}
	}
	h.must("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), e, 201, nil)
	*v = h.again(*v)
	return e.Press
}

func said(v trials.TrialView, press string) (out []string) {
	for _, e := range v.Events {
		if e.Press == press {
			out = append(out, e.Said)
		}
	}
	return out
}

func TestAPressIsAmendedWithWhatWasUsed(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	cuts := []int64{v.Cuts[0].ID, v.Cuts[1].ID}
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{}, cuts...)
	press := odalys.tap(&v, logbook.Wrap, "2026-09-19T15:00:00Z", logbook.Detail{}, cuts...)
	to := fire.CorrectionInput{At: odalys.clock("2026-09-19T14:50:00Z"),
		Detail: logbook.Detail{Wrap: "foil", Parcel: []logbook.PutIn{{What: "whey", Typed: "1/2 cup"}}},
		Press:  uuid.NewString()}
	for range 2 { // sent twice, it counts once
		odalys.must("PUT", "/api/presses/"+press, to, 200, nil)
		v = odalys.again(v)
	}
	if got := said(v, to.Press); len(got) != 2 || got[0] != "foil, with 1/2 cup whey" || len(v.Events) != 4 {
		t.Errorf("amended, the press says %q; %d events stand", got, len(v.Events))
	}
	var ml float64
	err := b.store.Pool().QueryRow(t.Context(), "select min((detail->'parcel'->0->>'ml')::float) from events where press = $1 and voided_at is null",
		to.Press).Scan(&ml)
	if err != nil || ml < 118 || ml > 119 {
		t.Errorf("half a cup is kept as %g ml (%v)", ml, err)
	}
	odalys.refused("PUT", "/api/presses/"+press, fire.CorrectionInput{At: to.At, Press: uuid.NewString()}, 404, "")
	odalys.refused("PUT", "/api/presses/"+to.Press, fire.CorrectionInput{At: to.At, Detail: logbook.Detail{Pieces: 3},
		Press: uuid.NewString()}, 422, "detail.pieces")
	odalys.must("POST", "/api/presses/"+to.Press+"/void", barn.Why{Why: "undo"}, 200, nil)
	v = odalys.again(v)
	if len(v.Events) != 2 {
		t.Errorf("taken back, %d events stand, want the two on the grate", len(v.Events))
	}
}

func TestTwoHandsThatLogTheSameClash(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	bram, _ := b.join(odalys, "Bram", store.Crew)
	v := odalys.trialOf(lambAsk(), 1)
	cut := v.Cuts[0].ID
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{}, cut)
	odalys.tap(&v, logbook.Pull, "2026-09-19T20:00:00Z", logbook.Detail{}, cut)
	// Bram was offline; neither is lost, and a person picks one.
	late := bram.tap(&v, logbook.Pull, "2026-09-19T20:01:00Z", logbook.Detail{}, cut)
	if len(v.Clashes) != 1 || len(v.Events) != 3 {
		t.Fatalf("two pulls within a minute are %d events and the clashes %+v", len(v.Events), v.Clashes)
	}
	if status, p := bram.press(v, logbook.Pull, "2026-09-19T20:30:00Z", cut); status != 422 {
		t.Errorf("a pull half an hour later answered %d %s", status, p)
	}
	bram.must("POST", "/api/presses/"+late+"/void", barn.Why{Why: "the same as the other"}, 200, nil)
	v = bram.again(v)
	if len(v.Clashes) != 0 || len(v.Events) != 2 {
		t.Errorf("with one taken back there are the clashes %+v", v.Clashes)
	}
}

// photo sends a picture to a cook.
func (h hand) photo(cook int64, data []byte) (int, fire.PhotoKept, string) {
	h.t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	f, _ := w.CreateFormFile("file", "bark.jpg")
	_, _ = f.Write(data)
	_ = w.Close()
	status, text := h.send("POST", fmt.Sprintf("/api/cooks/%d/photos", cook), w.FormDataContentType(), &b)
	var kept fire.PhotoKept
	p := h.read(status, text, &kept)
	return status, kept, fmt.Sprintf("%+v", p)
}

func TestAPhotoIsKeptWithItsEvent(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 1)
	var picture bytes.Buffer
	if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	place := "taken at 50 N 4 E"
	told := slices.Concat(picture.Bytes()[:2], []byte{0xff, 0xe1, 0, byte(2 + len(place))}, []byte(place), picture.Bytes()[2:], []byte("<script>"))
	status, kept, p := odalys.photo(v.Cooks[0].ID, told)
	if status != 201 {
		t.Fatal(status, p)
	}
	odalys.tap(&v, logbook.Photo, "2026-09-19T14:00:00Z", logbook.Detail{PhotoID: kept.ID}, v.Cuts[0].ID)
	if got := v.Events[0].Detail.PhotoID; got != kept.ID {
		t.Errorf("the event shows photo %d, want %d", got, kept.ID)
	}
	if status, back := odalys.send("GET", fmt.Sprintf("/api/photos/%d", kept.ID), "", nil); status != 200 || bytes.Contains(back,
		[]byte(place)) || bytes.Contains(back, []byte("<script>")) {
		t.Errorf("the photo comes back with %d, and tells where it was taken or what was hung behind it: %q", status, back)
	} else if seen, err := jpeg.DecodeConfig(bytes.NewReader(back)); err != nil || seen.Width != 40 || seen.Height != 30 {
		t.Errorf("the photo comes back %d by %d (%v), want 40 by 30", seen.Width, seen.Height, err)
	}
	if status, _ := b.hand().send("GET", fmt.Sprintf("/api/photos/%d", kept.ID), "", nil); status != 401 {
		t.Errorf("a stranger gets %d for it", status)
	}
	for _, bad := range []string{"photo of a bark", "GIF89a", picture.String()[:picture.Len()/2]} {
		if status, _, p := odalys.photo(v.Cooks[0].ID, []byte(bad)); status != 422 {
			t.Errorf("%q as a photo answered %d %s", bad, status, p)
		}
	}
	at := odalys.clock("2026-09-19T14:00:00Z")
	odalys.refused("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), fire.EventInput{Act: logbook.Photo, At: &at,
		Detail: logbook.Detail{PhotoID: 99}, Press: uuid.NewString()}, 422, "detail.photo_id")
	amended := fire.CorrectionInput{At: at, Detail: logbook.Detail{PhotoID: 99}, Press: uuid.NewString()}
	odalys.refused("PUT", "/api/presses/"+v.Events[0].Press, amended, 422, "detail.photo_id")
	odalys.refused("GET", "/api/photos/99", nil, 404, "")
}

func TestWhatIsPutOffIsPutOffForAll(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	bram, _ := b.join(odalys, "Bram", store.Crew)
	v := odalys.trialOf(lambAsk(), 1)
	path := fmt.Sprintf("/api/cooks/%d/due", v.Cooks[0].ID)
	var d plan.DueView
	odalys.must("GET", path, nil, 200, &d)
	var wood coreplan.Due
	for _, x := range d.Due {
		if x.Act == coreplan.ActWood {
			wood = x
		}
	}
	bram.must("POST", path+"/later", plan.Later{Task: wood.Key, Minutes: 10}, 200, nil)
	d = plan.DueView{}
	odalys.must("GET", path, nil, 200, &d)
	for _, x := range d.Due {
		if x.Key == wood.Key && (!x.At.Middle.After(wood.At.Middle) || x.PutOffBy != "Bram") {
			t.Errorf("put off, wood is due at %s, put off by %q; it was at %s", x.At.Middle, x.PutOffBy, wood.At.Middle)
		}
	}
	bram.refused("POST", path+"/later", plan.Later{Task: wood.Key, Minutes: 0}, 422, "minutes")
}

// TestWhatTheArmsWereGivenSoFar logs a cook by hand and imports its log: one
// arm has more work and a hotter place.
func TestWhatTheArmsWereGivenSoFar(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	a := lambAsk()
	a.Outcomes = append(a.Outcomes, trial.Chosen{Key: trial.HandsOn, SmallestDifference: 15})
	v := odalys.trialOf(a, 1)
	left, right := v.Cuts[0].ID, v.Cuts[1].ID
	odalys.tap(&v, logbook.Lit, "2026-09-19T11:00:00Z", logbook.Detail{})
	odalys.tap(&v, logbook.On, "2026-09-19T12:00:00Z", logbook.Detail{}, left, right)
	odalys.tap(&v, logbook.Spritz, "2026-09-19T13:00:00Z", logbook.Detail{}, left)
	odalys.tap(&v, logbook.Wrap, "2026-09-19T15:00:00Z", logbook.Detail{Minutes: new(12.0)}, left)
	odalys.tap(&v, logbook.Pull, "2026-09-19T20:00:00Z", logbook.Detail{}, left, right)
	var got watch.Delivered
	odalys.must("GET", fmt.Sprintf("/api/cooks/%d/so-far", v.Cooks[0].ID), nil, 200, &got)
	// Lighting 20 and on 5, pull 4 for both; the spritz 1.5 and the wrap 12 for one.
	if len(got.Arms) != 2 || got.Arms[0].Hours != 8 || got.Arms[0].HandsMin != 10+2.5+2+13.5 || got.Arms[1].HandsMin != 10+2.5+2 || got.Arms[0].Spritzes != 1 {
		t.Errorf("the arms were given %+v", got.Arms)
	}
	if got.Arms[0].MeanC != nil || len(got.Flags) != 0 {
		t.Errorf("with no probe in the pit: %+v", got)
	}
	known, err := reader.One(t.Context(), b.store, v.ID)
	if err != nil {
		t.Fatal(err)
	}
	judged := settle.From(known, time.UTC)
	if *judged.Cuts[0].HandsMin != 28 || *judged.Cuts[1].HandsMin != 14.5 {
		t.Errorf("the verdict counts %+v", judged.Cuts)
	}
	odalys.refused("GET", "/api/cooks/999/so-far", nil, 404, "")
}

// What a device kept goes out as whoever did it, or not at all.
func TestACallOfOnePersonIsNotTakenFromAnother(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	v := odalys.trialOf(lambAsk(), 2)
	tove, person := b.join(odalys, "tove", store.Crew)
	body := fmt.Sprintf(`{"act":"lid","note":"","cut_ids":[],"pit_run_ids":[%d],"press":%q}`, v.Cooks[0].Runs[0].ID, uuid.NewString())
	send := func(h hand, of int64) int {
		req, err := http.NewRequestWithContext(t.Context(), "POST", fmt.Sprintf("%s/api/cooks/%d/events", b.url, v.Cooks[0].ID), strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Barn-Person", fmt.Sprint(of))
		status, _ := h.ask(req)
		return status
	}
	if status := send(odalys, person.ID); status != 401 {
		t.Errorf("what Tove did is taken from Odalys with %d", status)
	}
	if n := len(odalys.again(v).Events); n != len(v.Events) {
		t.Errorf("and the log has %d entries, want %d", n, len(v.Events))
	}
	if status := send(tove, person.ID); status != 201 {
		t.Errorf("what Tove did is taken from Tove with %d", status)
	}
}
