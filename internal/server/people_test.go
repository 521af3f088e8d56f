package server

import (
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/lan"
	"whitebarn/internal/store"
	"whitebarn/internal/testkit/pgtest"
)

const another = "hornbeam in the morning"

// TestALinkLetsOnePersonInOnce: who is asked to come chooses name and password; the link is
// used up, ends by its time, and a newer one ends it.
func TestALinkLetsOnePersonInOnce(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	var asked, again people.Entry
	place := people.Place{Name: "Tove", Role: store.Crew, Trusts: []store.Trust{store.TrustPantry, store.TrustPantry}}
	odalys.must("POST", "/api/people", place, 201, &asked)
	odalys.refused("POST", "/api/people", place, 422, "called that already")
	if !strings.HasSuffix(asked.Link, "/enter#"+asked.Token) || asked.Code == "" || len(asked.Token) < 26 || asked.Person.CameAt != nil {
		t.Errorf("the link is %+v", asked)
	}
	odalys.must("POST", fmt.Sprintf("/api/people/%d/link", asked.Person.ID), nil, 201, &again)
	tove := b.hand()
	tove.refused("POST", "/api/enter", people.EnterInput{Token: asked.Token, SignIn: "tove", Password: password}, 404, "used up")
	var who people.Entering
	tove.must("POST", "/api/enter/look", people.EntryToken{Token: again.Token}, 200, &who)
	if who.Name != "Tove" || who.Barn != "White Barn" || !who.New {
		t.Errorf("the link says %+v", who)
	}
	tove.refused("POST", "/api/enter", people.EnterInput{Token: again.Token, SignIn: "odalys", Password: password}, 422, "signs in by that name")
	tove.refused("POST", "/api/enter", people.EnterInput{Token: again.Token, SignIn: "tove", Password: "12 tove 34!!"}, 422, "little beside")
	tove.refused("POST", "/api/enter", people.EnterInput{Token: again.Token, SignIn: " ", Password: password}, 422, "sign in by")
	var in store.Person
	tove.must("POST", "/api/enter", people.EnterInput{Token: again.Token, SignIn: "Tove", Password: password}, 200, &in)
	if in.SignIn != "tove" || len(in.Trusts) != 1 {
		t.Errorf("Tove comes in as %+v", in)
	}
	tove.must("GET", "/api/trials", nil, 200, nil)
	b.hand().refused("POST", "/api/enter", people.EnterInput{Token: again.Token, SignIn: "tove", Password: another}, 404, "used up")

	odalys.must("POST", fmt.Sprintf("/api/people/%d/link", in.ID), nil, 201, &again)
	b.exec("update entry_links set ends_at = now() - interval '1 second' where used_at is null and voided_at is null")
	b.hand().refused("POST", "/api/enter", people.EnterInput{Token: again.Token, Password: another}, 404, "ended")
	b.exec("update entry_links set ends_at = now() + interval '1 hour' where used_at is null and voided_at is null")
	elsewhere := b.hand()
	elsewhere.must("POST", "/api/enter", people.EnterInput{Token: again.Token, Password: another}, 200, &in)
	if in.SignIn != "tove" {
		t.Errorf("after a reset Tove signs in as %q", in.SignIn)
	}
	tove.refused("GET", "/api/trials", nil, 401, "not signed in")
	tove.refused("POST", "/api/session", people.SignIn{SignIn: "tove", Password: password}, 401, "Wrong name or password")
	tove.must("POST", "/api/session", people.SignIn{SignIn: "TOVE", Password: another}, 200, nil)
}

func (b *testBarn) exec(sql string) {
	b.t.Helper()
	if _, err := b.store.Pool().Exec(b.t.Context(), sql); err != nil {
		b.t.Fatal(err)
	}
}

// TestWhoLeavesIsOutAtOnceAndKeepsTheirName: sessions, links and scripts end; the record keeps
// who did what; and by a link they are back.
func TestWhoLeavesIsOutAtOnceAndKeepsTheirName(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, p := b.join(odalys, "Tove", store.Pitmaster)
	var token people.MadeScriptToken
	tove.must("POST", "/api/records/tokens", people.NewScriptToken{Name: "a script", Scope: store.ScopeAll}, 201, &token)
	tove.must("PUT", "/api/barn", store.Barn{Name: "White Barn", TimeZone: "Europe/Oslo"}, 204, nil)
	odalys.refused("POST", "/api/people/999/leave", people.Leave{}, 404, "no such thing")
	leave := fmt.Sprintf("/api/people/%d/leave", p.ID)
	odalys.must("POST", leave, people.Leave{Why: "moved to the coast"}, 204, nil)
	odalys.refused("POST", leave, people.Leave{}, 409, "left before")
	tove.refused("GET", "/api/trials", nil, 401, "not signed in")
	tove.refused("POST", "/api/session", people.SignIn{SignIn: "tove", Password: password}, 401, "Wrong name")
	if status := b.asScript(token.Token); status != 401 {
		t.Errorf("a script of who left is answered %d", status)
	}
	v := odalys.trialOf(lambAsk(), 1)
	odalys.refused("POST", fmt.Sprintf("/api/trials/%d/tasters", v.ID), table.SeatInput{PersonID: &p.ID}, 422, "not of the crew")
	var all []people.Member
	odalys.must("GET", "/api/people", nil, 200, &all)
	if len(all) != 2 || all[1].Name != "Tove" || all[1].LeftAt == nil {
		t.Errorf("the crew is %+v", all)
	}
	var done people.Deeds
	odalys.must("GET", fmt.Sprintf("/api/history?person=%d", p.ID), nil, 200, &done)
	if len(done.Deeds) == 0 || done.Deeds[0].By != "Tove" || done.Deeds[0].Subject != "barn" ||
		!strings.Contains(fmt.Sprint(done.Deeds[0].Changes), "{time zone America/New_York Europe/Oslo}") {
		t.Errorf("what Tove did reads %+v", done)
	}
	odalys.must("GET", "/api/history", nil, 200, &done)
	if d := done.Deeds[0]; d.By != "Odalys" || d.Subject != "person" || d.Named != "Tove" || d.Why != "moved to the coast" {
		t.Errorf("the latest is %+v", d)
	}
	for _, last := range []func(){
		func() {
			odalys.refused("POST", fmt.Sprintf("/api/people/%d/leave", odalys.id), people.Leave{}, 409, "only pitmaster")
		},
		func() {
			less := people.Place{Name: "Odalys", Role: store.Crew, Trusts: []store.Trust{}}
			odalys.refused("PUT", fmt.Sprintf("/api/people/%d", odalys.id), less, 409, "only pitmaster")
		},
	} {
		last()
	}
	var back people.Entry
	odalys.must("POST", fmt.Sprintf("/api/people/%d/link", p.ID), nil, 201, &back)
	tove.must("POST", "/api/enter", people.EnterInput{Token: back.Token, SignIn: "tove", Password: another}, 200, nil)
	tove.must("GET", "/api/trials", nil, 200, nil)
}

// asScript is how a script's token is answered.
func (b *testBarn) asScript(token string) int {
	b.t.Helper()
	req, err := http.NewRequest("GET", b.url+"/api/trials", nil)
	if err != nil {
		b.t.Fatal(err)
	}
	req.Header.Set("Authorization", "Bearer "+token)
	status, _ := b.hand().ask(req)
	return status
}

// TestOneIsSignedOutEverywhere: by oneself but here, by the pitmaster everywhere, and by a new
// password.
func TestOneIsSignedOutEverywhere(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, p := b.join(odalys, "Tove", store.Crew)
	sign := func(with string) hand {
		h := b.hand()
		h.must("POST", "/api/session", people.SignIn{SignIn: "tove", Password: with}, 200, nil)
		return h
	}
	phone := sign(password)
	var devices []OwnDevice
	tove.must("GET", "/api/me/devices", nil, 200, &devices)
	if len(devices) != 2 || devices[0].Agent == "" {
		t.Errorf("Tove is signed in on %+v", devices)
	}
	tove.must("POST", "/api/me/sign-out", nil, 200, nil)
	phone.refused("GET", "/api/trials", nil, 401, "not signed in")
	if tove.must("GET", "/api/me/devices", nil, 200, &devices); len(devices) != 1 {
		t.Errorf("after it on %+v", devices)
	}
	phone = sign(password)
	tove.refused("PUT", "/api/me/password", people.NewPassword{Old: "not the one", Password: another}, 422, "not your password")
	tove.refused("PUT", "/api/me/password", people.NewPassword{Old: password, Password: "qwertyuiopas"}, 422, "password")
	tove.must("GET", "/api/trials", nil, 200, nil)
	tove.must("PUT", "/api/me/password", people.NewPassword{Old: password, Password: another}, 200, nil)
	phone.refused("GET", "/api/trials", nil, 401, "not signed in")
	tove.must("GET", "/api/trials", nil, 200, nil)
	odalys.must("POST", fmt.Sprintf("/api/people/%d/sign-out", p.ID), nil, 204, nil)
	tove.refused("GET", "/api/trials", nil, 401, "not signed in")
	sign(another)
	for range 12 {
		odalys.do("PUT", "/api/me/password", people.NewPassword{Old: "guess guess guess", Password: another}, nil)
	}
	odalys.refused("PUT", "/api/me/password", people.NewPassword{Old: password, Password: another}, 429, "Too many tries")
}

// TestWhatIsOnesOwnIsKept: units go with the person, trust at once, and how others sign in is
// nobody's to read.
func TestWhatIsOnesOwnIsKept(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	tove, p := b.join(odalys, "Tove", store.Crew)
	own := store.OwnUnits{Temperatures: "C", Weights: "lb", Hours: "12", Mark: ","}
	tove.must("PUT", "/api/me/units", own, 204, nil)
	tove.refused("PUT", "/api/me/units", store.OwnUnits{Temperatures: "K"}, 422, "use one of F C")
	var s Session
	phone := b.hand()
	phone.must("POST", "/api/session", people.SignIn{SignIn: "tove", Password: password}, 200, nil)
	if phone.must("GET", "/api/session", nil, 200, &s); s.Person == nil || s.Person.Units != own {
		t.Errorf("on another device Tove has %+v", s.Person)
	}
	var all []people.Member
	tove.must("GET", "/api/people", nil, 200, &all)
	for _, m := range all {
		if (m.SignIn != "") != (m.ID == p.ID) || m.Units != (store.OwnUnits{}) || m.LinkUntil != nil {
			t.Errorf("the crew reads of %s: %+v", m.Name, m)
		}
	}
	b.join(odalys, "Ife", store.Crew)
	var deeds people.Deeds
	tove.must("GET", "/api/history", nil, 200, &deeds)
	if read := fmt.Sprint(deeds); strings.Contains(read, "Ife") || !strings.Contains(read, "password") {
		t.Errorf("Tove reads of accounts %+v", deeds)
	}
	if odalys.must("GET", "/api/history", nil, 200, &deeds); !strings.Contains(fmt.Sprint(deeds), "Ife") {
		t.Errorf("the pitmaster reads %+v", deeds)
	}
	tove.refused("GET", fmt.Sprintf("/api/people/%d/record", odalys.id), nil, 403, "theirs and the pitmaster's")
	tove.refused("POST", "/api/holders", map[string]string{"name": "Warm Box"}, 403, "trusted with pits")
	more := people.Place{Name: "Tove", Role: store.Crew, Trusts: []store.Trust{store.TrustPits}}
	odalys.must("PUT", fmt.Sprintf("/api/people/%d", p.ID), more, 204, nil)
	tove.must("POST", "/api/holders", map[string]string{"name": "Warm Box"}, 201, nil)
}

// TestAGuestIsForgotten: the pitmaster reads who wished to be known again, and forgets one;
// what they scored stays.
func TestAGuestIsForgotten(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	ife, _ := b.join(odalys, "Ife", store.Crew)
	b.exec("insert into guests (name, key_hash) values ('Signe', 'a'), ('Runa', 'b')")
	var known []store.KnownGuest
	odalys.must("GET", "/api/guests", nil, 200, &known)
	if len(known) != 2 || known[0].Name != "Runa" || known[0].Tables != 0 {
		t.Fatalf("the guests are %+v", known)
	}
	ife.refused("GET", "/api/guests", nil, 403, "Only a pitmaster")
	odalys.must("POST", fmt.Sprintf("/api/guests/%d/forget", known[0].ID), nil, 204, nil)
	if odalys.must("GET", "/api/guests", nil, 200, &known); len(known) != 1 || known[0].Name != "Signe" {
		t.Errorf("after it they are %+v", known)
	}
}

// TestABarnGoesByItsNamesAlone: a name of elsewhere that was made to lead here gets nothing.
func TestABarnGoesByItsNamesAlone(t *testing.T) {
	t.Parallel()
	srv, handler := New(servicesOf(pgtest.Store(t)), Options{Hosts: []string{"barn.example"}})
	t.Cleanup(srv.Close)
	for host, want := range map[string]int{"127.0.0.1:8080": 200, "[::1]:8080": 200, "localhost": 200, "192.168.1.20:8443": 200, "Barn.Example": 200,
		"barn.example:443": 200, "elsewhere.example": 421, "barn.example.elsewhere.example": 421, "": 421} {
		r := httptest.NewRequest("GET", "/api/session", nil)
		r.Host = host
		w := httptest.NewRecorder()
		handler.ServeHTTP(w, r)
		if w.Code != want {
			t.Errorf("asked for as %q it answers %d, want %d", host, w.Code, want)
		}
	}
}

// TestSessionsOverHTTPSCannotBeSetByOthers: the cookie's name has the prefix that only this
// host over HTTPS may set, its token is kept as a sum, and the name asks for HTTPS alone but
// while guests come in by the plain port.
func TestSessionsOverHTTPSCannotBeSetByOthers(t *testing.T) {
	t.Parallel()
	s := pgtest.Store(t)
	srv, handler := New(servicesOf(s), Options{LAN: &lan.Info{Sites: []string{"https://192.168.1.20:8443"}, Names: []string{"farm.local"}}})
	web := httptest.NewTLSServer(handler)
	t.Cleanup(func() { web.Close(); srv.Close() })
	b := &testBarn{t: t, store: s, url: web.URL}
	odalys := hand{b, web.Client()}
	var cookie *http.Cookie
	odalys.client.Jar = jarOf(func(c *http.Cookie) { cookie = c })
	odalys.setUp()
	if cookie == nil || cookie.Name != "__Host-barn" || !cookie.Secure || !cookie.HttpOnly || cookie.Path != "/" || cookie.Domain != "" ||
		cookie.SameSite != http.SameSiteLaxMode {
		t.Fatalf("the session's cookie is %+v", cookie)
	}
	var kept int
	if err := s.Pool().QueryRow(t.Context(), "select count(*) from sessions where token = $1", cookie.Value).Scan(&kept); err != nil || kept != 0 {
		t.Errorf("%d sessions are kept by their token as it is (%v)", kept, err)
	}
	strict := func() string {
		res, err := odalys.client.Get(web.URL + "/")
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.Header.Get("Strict-Transport-Security")
	}
	if got := strict(); got != "max-age=31536000" {
		t.Errorf("HTTPS alone is asked for by %q", got)
	}
	odalys.must("PUT", "/api/barn", store.Barn{Name: "White Barn", TimeZone: "UTC", Guests: true}, 204, nil)
	if got := strict(); got != "max-age=0" {
		t.Errorf("with the plain port open it is %q", got)
	}
}

// watchedJar keeps cookies, and shows each that is set.
type watchedJar struct {
	http.CookieJar
	set func(*http.Cookie)
}

func (j watchedJar) SetCookies(u *url.URL, cookies []*http.Cookie) {
	for _, c := range cookies {
		j.set(c)
	}
	j.CookieJar.SetCookies(u, cookies)
}

func jarOf(set func(*http.Cookie)) http.CookieJar {
	jar, _ := cookiejar.New(nil)
	return watchedJar{jar, set}
}

// TestPasskeysAreForNames: by an address there are none, and what no device signed lets nobody in.
func TestPasskeysAreForNames(t *testing.T) {
	t.Parallel()
	b, odalys := newBarn(t)
	odalys.refused("POST", "/api/me/passkeys/begin", people.PasskeyStart{Password: password}, 409, "need a name")
	b.url = strings.Replace(b.url, "127.0.0.1", "localhost", 1)
	odalys = b.hand()
	odalys.must("POST", "/api/session", people.SignIn{SignIn: "odalys", Password: password}, 200, nil)
	odalys.refused("POST", "/api/me/passkeys/begin", people.PasskeyStart{Password: "guess guess guess"}, 422, "not your password")
	var ask people.PasskeyAsk
	odalys.must("POST", "/api/me/passkeys/begin", people.PasskeyStart{Password: password}, 200, &ask)
	for _, says := range []string{`"residentKey":"required"`, `"userVerification":"required"`, `"id":"localhost"`} {
		if !strings.Contains(ask.Options, says) {
			t.Errorf("a device is not asked for %s: %s", says, ask.Options)
		}
	}
	odalys.refused("POST", "/api/me/passkeys", people.PasskeyMade{Name: "phone", Credential: "{}"}, 401, "does not fit")
	odalys.refused("POST", "/api/me/passkeys", people.PasskeyMade{Name: "phone", Credential: "{}"}, 409, "Nothing was asked")
	stranger := b.hand()
	stranger.must("POST", "/api/passkeys/begin", nil, 200, &ask)
	var long int
	if err := b.store.Pool().QueryRow(t.Context(), "select count(*) from sessions where expiry < now() + interval '11 minutes'").Scan(&long); err != nil || long != 1 {
		t.Errorf("%d sessions end soon (%v), want the stranger's alone", long, err)
	}
	stranger.refused("POST", "/api/passkeys", people.PasskeyGiven{Credential: `{"id":"x"}`}, 401, "does not fit")
	stranger.refused("GET", "/api/trials", nil, 401, "not signed in")
}
