package server

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/services"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

// blindBarn is a barn at the table: six cuts of two arms served blind, some of it sealed and
// one cup left out. The roles are signed in; their cookies open every clone.
type blindBarn struct {
	seed  pgtest.Seed
	roles map[string][]*http.Cookie
	ids   map[string][]int64
	links map[string]string // of tasters, by name
	codes []string
	now   time.Time
}

// blindRoles may know no key; Tove carves.
var blindRoles = []string{"a stranger", "a taster", "the crew", "the pitmaster"}

func newBlindBarn(t *testing.T) *blindBarn {
	b := &blindBarn{roles: map[string][]*http.Cookie{"a stranger": nil}, ids: map[string][]int64{}, links: map[string]string{}}
	b.seed.Fresh = time.Hour
	b.seed.Fill = func(ctx context.Context, s *store.Store) error {
		at := listen(t, s)
		odalys := at.hand()
		odalys.setUp()
		tove, carver := at.join(odalys, "Tove", store.Crew)
		joren, _ := at.join(odalys, "Joren", store.Crew)
		v := odalys.cooked(odalys.trialOf(lambAsk(), 3), "203 F")
		var f table.FlightInput
		f.CarverID, f.Choice, f.Duplicate = &carver.ID, true, false
		for _, n := range []string{"Ana", "Bo", "Cai"} {
			odalys.must("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{Name: n}, 201, &v)
		}
		for _, x := range v.Tasters {
			f.Tasters = append(f.Tasters, x.ID)
		}
		for _, c := range v.Cuts {
			f.Pieces = append(f.Pieces, table.PieceInput{CutID: c.ID, Place: "blade", Carving: "across the grain"})
		}
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/flights", v.ID), f, 201, &v)
		odalys.must("POST", fmt.Sprintf("/api/trials/%d/door", v.ID), nil, 201, nil)
		phone := at.hand()
		path := phone.sit(v.Tasters[0])
		b.codes = v.Ballots[0].Codes
		for _, code := range b.codes[:3] {
			phone.must("POST", path+"/samples/"+code+"/seal", table.SealInput{Flight: 1,
				Scores: map[string]int{"juiciness": 7, "bark": 6, "tenderness": 5, "overall": 6}, Faults: []string{"sour"}}, 200, nil)
		}
		odalys.must("POST", fmt.Sprintf("/api/flights/%d/leave-out", v.Flights[0].ID), table.LeftOutInput{TasterID: &v.Tasters[1].ID,
			Code: v.Ballots[1].Codes[0], Why: "it was dropped"}, 200, nil)
		for _, x := range v.Tasters {
			b.links[x.Name] = strings.TrimPrefix(at.hand().link(x), "/api")
		}
		for role, h := range map[string]hand{"the carver": tove, "the crew": joren, "the pitmaster": odalys, "a taster": phone} {
			site, _ := url.Parse(at.url)
			b.roles[role] = h.client.Jar.Cookies(&url.URL{Scheme: site.Scheme, Host: site.Host, Path: "/api/"})
		}
		for subject, sql := range map[string]string{"trials": "select id from trials", "cooks": "select id from cooks", "cuts": "select id from cuts",
			"tasters": "select id from tasters", "flights": "select id from flights", "pits": "select id from pits", "holders": "select id from holders",
			"people": "select id from people", "photos": "select id from photos", "looks": "select id from looks"} {
			rows, err := s.Pool().Query(ctx, sql)
			if err != nil {
				return err
			}
			for rows.Next() {
				var id int64
				if err := rows.Scan(&id); err != nil {
					return err
				}
				b.ids[subject] = append(b.ids[subject], id)
			}
		}
		b.now = time.Now()
		at.close()
		return nil
	}
	return b
}

// serve serves a clone by one clock; in the other barn every code stands for the cut of the
// other arm of its pair.
func (b *blindBarn) serve(t *testing.T, swapped bool) *testBarn {
	t.Helper()
	s := b.seed.Store(t)
	if swapped {
		_, err := s.Pool().Exec(t.Context(), `update samples m set cut_id = o.id from cuts c, cuts o
			where c.id = m.cut_id and o.trial_id = c.trial_id and o.pair = c.pair and o.id <> c.id`)
		if err != nil {
			t.Fatal(err)
		}
	}
	srv, handler := New(services.New(s, func() time.Time { return b.now }, auth.Cheap, &plans), Options{})
	web := httptest.NewServer(handler)
	t.Cleanup(func() { web.Close(); srv.Close() })
	return &testBarn{t: t, store: s, url: web.URL}
}

// in is somebody's browser at a barn.
func (b *blindBarn) in(at *testBarn, role string) hand {
	jar, _ := cookiejar.New(nil)
	for _, site := range []string{at.url, "http://" + oneHost} {
		of, _ := url.Parse(site + "/api/")
		jar.SetCookies(of, b.roles[role])
	}
	return hand{at, &http.Client{Jar: jar}}
}

// unbounded are the answers that never end.
var unbounded = map[string]string{"/live": "a stream, of ids and of which part changed"}

// paths fills what a route asks for with all there is.
func (b *blindBarn) paths(t *testing.T, pattern string) (out []string) {
	t.Helper()
	switch {
	case strings.Contains(pattern, ":token"):
		for _, link := range b.links {
			out = append(out, strings.Replace(pattern, "/taste/:token", link, 1))
		}
		slices.Sort(out)
		return out
	case strings.Contains(pattern, ":id"):
		ids := b.ids[strings.Split(pattern, "/")[1]]
		if len(ids) == 0 {
			ids = []int64{1}
		}
		for _, id := range ids {
			out = append(out, strings.Replace(pattern, ":id", fmt.Sprint(id), 1))
		}
		return out
	}
	return []string{regexp.MustCompile(`:\w+`).ReplaceAllString(pattern, "1")}
}

// TestTwoBarnsAlikeButForTheKeyAnswerABlindRoleAlike walks every answer that can be got, as
// the router has them: prints, pictures, exports and the plates of tasters among them. Two
// barns that differ in nothing but which arm each code stands for answer whoever is blind
// byte for byte the same, before the codes are open; the carver reads the difference.
func TestTwoBarnsAlikeButForTheKeyAnswerABlindRoleAlike(t *testing.T) {
	t.Parallel()
	b := newBlindBarn(t)
	one, two := b.serve(t, false), b.serve(t, true)
	srv, _ := New(servicesOf(one.store), Options{})
	t.Cleanup(srv.Close)
	answered := 0
	carverDiffers := false
	for _, pattern := range gets(srv) {
		if _, never := unbounded[pattern]; never {
			continue
		}
		for _, path := range b.paths(t, pattern) {
			query := ""
			if strings.HasSuffix(pattern, "/tells") {
				query = "?format=scores&tasters=3&per_arm=3"
			}
			for _, role := range append(slices.Clone(blindRoles), "the carver") {
				was, first := b.in(one, role).get(path + query)
				is, second := b.in(two, role).get(path + query)
				switch {
				case role == "the carver":
					carverDiffers = carverDiffers || !bytes.Equal(first, second)
				case was != is || !bytes.Equal(first, second):
					t.Errorf("%s tells %s which arm a code stands for: %s", path, role, firstDifference(first, second))
				}
				if was == 200 {
					answered++
				}
			}
		}
	}
	if answered < 100 {
		t.Errorf("only %d answers were compared: the walk reaches too little", answered)
	}
	if !carverDiffers {
		t.Error("the carver reads the same in both barns: the two do not differ, and the test cannot fail")
	}
}

// oneHost is what every barn is asked as: links and pictures of them name it.
const oneHost = "192.0.2.7"

// get asks for a path as a browser would.
func (h hand) get(path string) (int, []byte) {
	h.t.Helper()
	if !strings.HasPrefix(path, "/api") {
		path = "/api" + path
	}
	req, err := http.NewRequest("GET", h.url+path, nil)
	if err != nil {
		h.t.Fatal(err)
	}
	req.Host = oneHost
	return h.ask(req)
}

// TestNobodyReadsWhatOthersScored looks for the scores and ticks of one taster in every answer
// that others can get before the codes are open; the taster's own page has none either.
func TestNobodyReadsWhatOthersScored(t *testing.T) {
	t.Parallel()
	b := newBlindBarn(t)
	one := b.serve(t, false)
	// The other barn differs in nothing but what Ana scored.
	two := b.serve(t, false)
	if _, err := two.store.Pool().Exec(t.Context(), "update scores set value = 10 - value"); err != nil {
		t.Fatal(err)
	}
	if _, err := two.store.Pool().Exec(t.Context(), "update servings set faults = '{greasy}' where sealed_at is not null"); err != nil {
		t.Fatal(err)
	}
	srv, _ := New(servicesOf(one.store), Options{})
	t.Cleanup(srv.Close)
	for _, pattern := range gets(srv) {
		if _, never := unbounded[pattern]; never {
			continue
		}
		for _, path := range b.paths(t, pattern) {
			for _, role := range append(slices.Clone(blindRoles), "the carver") {
				_, first := b.in(one, role).get(path)
				_, second := b.in(two, role).get(path)
				if !bytes.Equal(first, second) {
					t.Errorf("%s tells %s what was scored: %s", path, role, firstDifference(first, second))
				}
			}
		}
	}
}

// TestAPlateOpensOnOnePhone: a second phone, the carver on any, and a forged key are refused;
// the pitmaster sees links until they are open, and can free one with a reason.
func TestAPlateOpensOnOnePhone(t *testing.T) {
	t.Parallel()
	b := newBlindBarn(t)
	at := b.serve(t, false)
	odalys, tove, ana := b.in(at, "the pitmaster"), b.in(at, "the carver"), b.in(at, "a taster")
	var links table.Links
	odalys.must("GET", fmt.Sprintf("/api/trials/%d/links", b.ids["trials"][0]), nil, 200, &links)
	if len(links.Tasters) != 2 || len(links.Door) != 6 {
		t.Errorf("the pitmaster may hand out %+v; want the two links that are open on no phone, and the door", links)
	}
	tove.must("GET", fmt.Sprintf("/api/trials/%d/links", b.ids["trials"][0]), nil, 200, &links)
	if len(links.Tasters) != 0 {
		t.Errorf("the carver may hand out %+v; want none", links)
	}
	tove.refused("GET", fmt.Sprintf("/api/tasters/%d/qr.png", b.ids["tasters"][1]), nil, 403, "its taster's alone")
	other := at.hand()
	plate := "/api" + b.links["Ana"]
	other.refused("POST", plate+"/open", nil, 403, "open on another phone")
	other.refused("GET", plate, nil, 403, "open on another phone")
	other.refused("POST", plate+"/samples/"+b.codes[3]+"/seal", table.SealInput{Flight: 1, Excused: true}, 403, "open on another phone")
	tove.refused("POST", "/api"+b.links["Bo"]+"/open", nil, 403, "You carve for Bo")
	ana.must("GET", plate, nil, 200, nil)
	free := fmt.Sprintf("/api/tasters/%d/free", b.ids["tasters"][0])
	odalys.refused("POST", free, barn.Why{Why: ""}, 422, "why")
	odalys.must("POST", free, barn.Why{Why: "her phone died"}, 200, nil)
	ana.refused("GET", plate, nil, 403, "open on no phone")
	other.must("POST", plate+"/open", nil, 200, nil)
	ana.refused("POST", plate+"/open", nil, 403, "open on another phone")
	// Where each seal came from is kept: the phone that is now freed.
	var phones int
	err := at.store.Pool().QueryRow(t.Context(), `select count(*) from servings v join taster_phones h on h.id = v.phone_id
		where v.sealed_at is not null and h.freed_at is not null and h.why = 'her phone died'`).Scan(&phones)
	if err != nil || phones != 3 {
		t.Errorf("%d seals are kept with the phone they came from (%v), want 3", phones, err)
	}
}

// TestADoorCannotBeGuessed: codes are drawn of a thousand million, and guesses are slowed down.
func TestADoorCannotBeGuessed(t *testing.T) {
	t.Parallel()
	b := newBlindBarn(t)
	at := b.serve(t, false)
	var links table.Links
	b.in(at, "the pitmaster").must("GET", fmt.Sprintf("/api/trials/%d/links", b.ids["trials"][0]), nil, 200, &links)
	guest := at.hand()
	guest.must("GET", "/api/join/"+strings.ToLower(links.Door), nil, 200, nil)
	guest.refused("POST", "/api/join", table.JoinInput{Code: links.Door, Name: "Rue"}, 422, "consent")
	guest.refused("POST", "/api/join", table.JoinInput{Code: links.Door, Name: "Tove from the mill", Consent: true}, 422, "may be Tove of the crew")
	guest.must("POST", "/api/join", table.JoinInput{Code: links.Door, Name: "Rue", Consent: true}, 201, nil)
	guest.refused("POST", "/api/join", table.JoinInput{Code: links.Door, Name: "rue", Consent: true}, 422, "sits at the table already")
	// Who carves and is signed in sits as themselves.
	tove := b.in(at, "the carver")
	tove.must("POST", "/api/join", table.JoinInput{Code: links.Door, Name: "Somebody", Consent: true}, 201, nil)
	var v trials.TrialView
	b.in(at, "the pitmaster").must("GET", fmt.Sprintf("/api/trials/%d", b.ids["trials"][0]), nil, 200, &v)
	if last := v.Tasters[len(v.Tasters)-1]; last.Name != "Tove" || last.PersonID == nil {
		t.Errorf("the carver came in by the door as %+v; want Tove of the crew", last)
	}
	for range 40 {
		guest.do("GET", "/api/join/AAAAAA", nil, nil)
	}
	guest.refused("GET", "/api/join/AAAAAA", nil, 429, "Too many wrong codes")
	b.in(at, "the pitmaster").must("POST", fmt.Sprintf("/api/trials/%d/door/shut", b.ids["trials"][0]), nil, 200, nil)
	at.hand().do("GET", "/api/join/"+links.Door, nil, nil)
}
