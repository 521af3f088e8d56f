package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	coregate "whitebarn/core/gate"
	"whitebarn/core/logbook"
	coreplan "whitebarn/core/plan"
	"whitebarn/core/trial"
	"whitebarn/internal/api"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/services"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/demobarn"
	"whitebarn/internal/testkit/pgtest"
)

func TestMain(m *testing.M) {
	gin.SetMode(gin.ReleaseMode)
	slog.SetDefault(slog.New(slog.DiscardHandler))
	os.Exit(demobarn.Main(m))
}

// barn is a server on a database of its own, with Odalys as its pitmaster.
type testBarn struct {
	t     *testing.T
	store *store.Store
	url   string
	id    int64 // of Odalys
	close func()
}

// hand is a browser of one person.
type hand struct {
	*testBarn
	client *http.Client
}

const password = "apricot and alder"

func newBarn(t *testing.T) (*testBarn, hand) {
	t.Helper()
	b := listen(t, pgtest.Store(t))
	odalys := b.hand()
	odalys.setUp()
	return b, odalys
}

// setUp makes the barn, with Odalys as its pitmaster.
func (h hand) setUp() {
	h.t.Helper()
	var p store.Person
	h.must("POST", "/api/first-run", people.FirstRun{Barn: "White Barn", TimeZone: "America/New_York", Name: "Odalys",
		SignIn: "odalys", Password: password}, 201, &p)
	h.id = p.ID
}

// plans is what is remembered of plans, for the barns of all tests.
var plans coreplan.Memory

// servicesOf are the services over a database, by the true time.
func servicesOf(s *store.Store) *services.Services {
	return services.New(s, time.Now, auth.Cheap, &plans)
}

func listen(t *testing.T, s *store.Store) *testBarn {
	srv, handler := New(servicesOf(s), Options{})
	web := httptest.NewServer(handler)
	b := &testBarn{t: t, store: s, url: web.URL, close: sync.OnceFunc(func() { web.Close(); srv.Close() })}
	t.Cleanup(b.close)
	return b
}

func (b *testBarn) hand() hand {
	jar, _ := cookiejar.New(nil)
	return hand{b, &http.Client{Jar: jar}}
}

// join asks somebody to come, who does.
func (b *testBarn) join(master hand, name string, role store.Role, trusts ...store.Trust) (hand, store.Person) {
	b.t.Helper()
	var asked people.Entry
	master.must("POST", "/api/people", people.Place{Name: name, Role: role, Trusts: append([]store.Trust{}, trusts...)}, 201, &asked)
	h := b.hand()
	var p store.Person
	h.must("POST", "/api/enter", people.EnterInput{Token: asked.Token, SignIn: name, Password: password}, 200, &p)
	return h, p
}

func (h hand) send(method, path, kind string, body io.Reader) (int, []byte) {
	h.t.Helper()
	req, err := http.NewRequest(method, h.url+path, body)
	if err != nil {
		h.t.Fatal(err)
	}
	req.Header.Set("Content-Type", kind)
	return h.ask(req)
}

// ask sends a request and reads its answer.
func (h hand) ask(req *http.Request) (int, []byte) {
	h.t.Helper()
	res, err := h.client.Do(req)
	if err != nil {
		h.t.Fatal(err)
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	if err != nil {
		h.t.Fatal(err)
	}
	return res.StatusCode, text
}

// do sends JSON and returns the status and, when refused, the problem.
func (h hand) do(method, path string, body, out any) (int, api.Problem) {
	h.t.Helper()
	var b bytes.Buffer
	if body != nil {
		if err := json.NewEncoder(&b).Encode(body); err != nil {
			h.t.Fatal(err)
		}
	}
	status, text := h.send(method, path, "application/json", &b)
	return status, h.read(status, text, out)
}

func (h hand) read(status int, text []byte, out any) api.Problem {
	h.t.Helper()
	var p api.Problem
	if status >= 400 {
		if err := json.Unmarshal(text, &p); err != nil {
			h.t.Fatalf("a refusal that is no problem: %d %s", status, text)
		}
	} else if out != nil {
		if err := json.Unmarshal(text, out); err != nil {
			h.t.Fatalf("%v in %s", err, text)
		}
	}
	return p
}

// must fails the test unless the status is as wanted.
func (h hand) must(method, path string, body any, want int, out any) {
	h.t.Helper()
	if status, p := h.do(method, path, body, out); status != want {
		h.t.Fatalf("%s %s answered %d %+v, want %d", method, path, status, p, want)
	}
}

// refused fails the test unless the words stand in the refusal.
func (h hand) refused(method, path string, body any, want int, words string) {
	h.t.Helper()
	status, p := h.do(method, path, body, nil)
	if status != want || !strings.Contains(fmt.Sprintf("%+v", p), words) {
		h.t.Errorf("%s %s answered %d %+v, want %d with %q", method, path, status, p, want, words)
	}
}

// upload sends a log file with its options.
func (h hand) upload(path string, data []byte, o fire.LogOptions, out any) (int, api.Problem) {
	h.t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	options, _ := json.Marshal(o)
	_ = w.WriteField("body", string(options))
	f, _ := w.CreateFormFile("file", "barn logger.csv")
	_, _ = f.Write(data)
	_ = w.Close()
	status, text := h.send("POST", path, w.FormDataContentType(), &b)
	return status, h.read(status, text, out)
}

func lambAsk() trial.Ask {
	return trial.Ask{
		Question: "Paper or bare?", Product: "lamb shoulder", Family: "lambshoulder", Cut: "shoulder", Species: "red meat", Handling: "intact", Factors: []trial.Factor{{Name: "wrap", Kind: trial.Categorical, SetOn: trial.UnitCut}},
		Arms:      []trial.Arm{{Tag: "PAPER", Levels: trial.Levels("paper")}, {Tag: "BARE", Levels: trial.Levels("none"), Control: true}},
		Held:      []trial.Held{{Name: "pit temperature", Value: "250 F"}},
		Allergens: []string{"mustard"},
		Outcomes: []trial.Chosen{{Key: trial.Juiciness, SmallestDifference: 0.5}, {Key: trial.Bark, SmallestDifference: 0.5}, {Key: trial.Tenderness, SmallestDifference: 0.5},
			{Key: trial.Overall, SmallestDifference: 0.5}, {Key: trial.CookedYield, SmallestDifference: 2}, {Key: trial.CookTime, SmallestDifference: 0.75}},
	}
}

// trialOf asks, hangs pairs of cuts with weights and plans a cook.
func (h hand) trialOf(a trial.Ask, pairs int) trials.TrialView {
	h.t.Helper()
	var v trials.TrialView
	h.must("POST", "/api/trials", a, 201, &v)
	for i := range pairs {
		for side, letter := range "LR" {
			arm := v.Ask.Arms[(i+side)%2].ID
			h.must("POST", fmt.Sprintf("/api/trials/%d/cuts", v.ID), match.CutInput{Name: fmt.Sprintf("%d%c", i+1, letter),
				Pair: fmt.Sprint(i + 1), ArmID: &arm}, 201, &v)
		}
	}
	for _, c := range v.Cuts {
		h.weigh(c.ID, "trimmed", "6 lb 3 1/2 oz")
	}
	return h.laid(v)
}

// laid puts all cuts of a trial into a pit of their own.
func (h hand) laid(v trials.TrialView) trials.TrialView {
	h.t.Helper()
	var pit store.Pit
	h.must("POST", "/api/pits", barn.NamedInput{Name: "Brick Pit " + strings.Repeat("I", int(v.ID)-1)}, 201, &pit)
	cook := plan.PlanInput{ServeAt: h.clock("2026-09-19T22:00:00Z"), Runs: []plan.RunInput{{PitID: pit.ID, SetPoint: "250 F"}}}
	for _, c := range v.Cuts {
		cook.Placements = append(cook.Placements, plan.PlacementInput{CutID: c.ID})
	}
	h.must("POST", fmt.Sprintf("/api/trials/%d/cooks", v.ID), cook, 201, &v)
	return v
}

// log presses a pad so many minutes ago.
func (h hand) log(v trials.TrialView, act logbook.Act, ago float64, d logbook.Detail, cuts ...int64) trials.TrialView {
	h.t.Helper()
	at := time.Now().Add(-time.Duration(ago * float64(time.Minute)))
	if act == logbook.Probe {
		d.ReadN = len(cuts)
	}
	far := ago > 12*60 // it is asked about, and so
	h.must("POST", fmt.Sprintf("/api/cooks/%d/events", v.Cooks[0].ID), fire.EventInput{Act: act, At: &at, Detail: d, CutIDs: cuts,
		Press: uuid.NewString(), Sure: far}, 201, nil)
	return h.again(v)
}

// again reads a trial anew.
func (h hand) again(v trials.TrialView) (now trials.TrialView) {
	h.t.Helper()
	h.must("GET", fmt.Sprintf("/api/trials/%d", v.ID), nil, 200, &now)
	return now
}

// cooked has cuts, all if none is named, on the fire for three hours, read in the
// coldest place if something was read, and pulled.
func (h hand) cooked(v trials.TrialView, read string, cuts ...int64) trials.TrialView {
	h.t.Helper()
	if len(cuts) == 0 {
		for _, c := range v.Cuts {
			cuts = append(cuts, c.ID)
		}
	}
	h.log(v, logbook.On, 190, logbook.Detail{}, cuts...)
	if read != "" {
		h.log(v, logbook.Probe, 15, logbook.Detail{Read: read, Place: coregate.ColdestFound}, cuts...)
	}
	return h.log(v, logbook.Pull, 10, logbook.Detail{}, cuts...)
}

func (h hand) weigh(cut int64, stage, weight string) {
	h.t.Helper()
	h.must("POST", fmt.Sprintf("/api/cuts/%d/weighings", cut), map[string]string{"stage": stage, "weight": weight, "resolution": "1/4 oz"}, 201, nil)
}
