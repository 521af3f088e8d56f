package people

import (
	"context"
	"encoding/json"
	"errors"
	"net"
	"strconv"
	"strings"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Passkeys are keys that a device makes and keeps; the barn has their public half (W3C Web
// Authentication, level 3). They are for a name of the barn: where a page is opened by an
// address, browsers have none.

// PasskeyStart asks for a passkey to be made; the password shows that it is oneself.
type PasskeyStart struct {
	Password string `json:"password" binding:"required,max=200"`
}

// PasskeyAsk is what the browser is asked, as JSON.
type PasskeyAsk struct {
	Options string `json:"options"`
}

// PasskeyMade is what a device made.
type PasskeyMade struct {
	Name       string `json:"name" binding:"required,max=40"`
	Credential string `json:"credential" binding:"required,max=20000"` // the browser's answer, as JSON
}

// PasskeyGiven is what a device signed.
type PasskeyGiven struct {
	Credential string `json:"credential" binding:"required,max=20000"`
}

// Site is what a page is opened by.
type Site struct {
	Scheme, Host string // with its port
}

func (s Site) name() string {
	host := s.Host
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(host)
}

// party answers for passkeys of the site's name.
func (s Site) party() (*webauthn.WebAuthn, error) {
	if name := s.name(); net.ParseIP(strings.Trim(name, "[]")) != nil {
		return nil, barn.Refuse("Passkeys need a name of the barn, and this page is opened by the address "+name+".",
			"Open it by its name, as localhost on the machine itself; the page Crew says it.")
	}
	return webauthn.New(&webauthn.Config{RPID: s.name(), RPDisplayName: "White Barn", RPOrigins: []string{s.Scheme + "://" + s.Host},
		AuthenticatorSelection: protocol.AuthenticatorSelection{ResidentKey: protocol.ResidentKeyRequirementRequired,
			UserVerification: protocol.VerificationRequired}})
}

// holder is a person as the library knows them.
type holder struct {
	store.Person
	keys []webauthn.Credential
}

func (h holder) WebAuthnID() []byte                         { return []byte(strconv.FormatInt(h.ID, 10)) }
func (h holder) WebAuthnName() string                       { return h.SignIn }
func (h holder) WebAuthnDisplayName() string                { return h.Name }
func (h holder) WebAuthnCredentials() []webauthn.Credential { return h.keys }

func holderOf(ctx context.Context, s *store.Store, p store.Person, site Site) (holder, error) {
	rows, err := s.Passkeys(ctx, p.ID)
	out := holder{Person: p}
	for _, r := range rows {
		var k webauthn.Credential
		if r.Host == site.name() && json.Unmarshal(r.Credential, &k) == nil {
			out.keys = append(out.keys, k)
		}
	}
	return out, err
}

// asked writes what a browser is asked, and what its answer is checked by.
func asked(options any, session *webauthn.SessionData, err error) (PasskeyAsk, string, error) {
	if err != nil {
		return PasskeyAsk{}, "", err
	}
	text, err := json.Marshal(options)
	if err != nil {
		return PasskeyAsk{}, "", err
	}
	kept, err := json.Marshal(session)
	return PasskeyAsk{string(text)}, string(kept), err
}

// StartPasskey asks the device for a new passkey; kept is for FinishPasskey.
func (d *Desk) StartPasskey(ctx context.Context, who store.Person, in PasskeyStart, site Site) (ask PasskeyAsk, kept string, err error) {
	party, err := site.party()
	if err != nil {
		return ask, "", err
	}
	if err := d.Proves(who, "password", in.Password); err != nil {
		return ask, "", err
	}
	h, err := holderOf(ctx, d.barn.Store, who, site)
	if err != nil {
		return ask, "", err
	}
	creation, session, err := party.BeginRegistration(h, webauthn.WithExclusions(webauthn.Credentials(h.keys).CredentialDescriptors()))
	if err != nil {
		return ask, "", err
	}
	return asked(creation.Response, session, nil)
}

// FinishPasskey keeps what the device made.
func (d *Desk) FinishPasskey(ctx context.Context, who store.Person, in PasskeyMade, kept string, site Site) error {
	party, err := site.party()
	if err != nil {
		return err
	}
	name := strings.TrimSpace(in.Name)
	if name == "" {
		return fault.New("name", "nothing is written", "say which device it is")
	}
	var session webauthn.SessionData
	if json.Unmarshal([]byte(kept), &session) != nil {
		return startAgain
	}
	made, err := protocol.ParseCredentialCreationResponseBytes([]byte(in.Credential))
	if err != nil {
		return notAKey
	}
	key, err := party.CreateCredential(holder{Person: who}, session, made)
	if err != nil {
		return notAKey
	}
	text, err := json.Marshal(key)
	if err != nil {
		return err
	}
	err = d.barn.Store.AddPasskey(ctx, store.Passkey{PersonID: who.ID, Name: name, Host: site.name(), Credential: text}, key.ID)
	if errors.Is(err, store.ErrConflict) {
		err = barn.Refuse("This passkey is known.", "Sign in with it.")
	}
	return err
}

// What is refused of a device's answer.
var (
	startAgain = barn.Refuse("Nothing was asked of a device, or too long ago.", "Begin again.")
	notAKey    = barn.RefuseAs(barn.NotSignedIn, "The device's answer does not fit.", "Begin again, or sign in with the password.")
)

// AskPasskey asks a device for any passkey it has of this barn.
func (d *Desk) AskPasskey(site Site) (ask PasskeyAsk, kept string, err error) {
	party, err := site.party()
	if err != nil {
		return ask, "", err
	}
	assertion, session, err := party.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return ask, "", err
	}
	return asked(assertion.Response, session, nil)
}

// ByPasskey is whose passkey signed.
func (d *Desk) ByPasskey(ctx context.Context, in PasskeyGiven, kept string, site Site) (store.Person, error) {
	party, err := site.party()
	if err != nil {
		return store.Person{}, err
	}
	var session webauthn.SessionData
	if json.Unmarshal([]byte(kept), &session) != nil {
		return store.Person{}, startAgain
	}
	given, err := protocol.ParseCredentialRequestResponseBytes([]byte(in.Credential))
	if err != nil {
		return store.Person{}, notAKey
	}
	var who holder
	_, key, err := party.ValidatePasskeyLogin(func(_, handle []byte) (webauthn.User, error) {
		id, err := strconv.ParseInt(string(handle), 10, 64)
		if err != nil {
			return nil, err
		}
		p, err := d.barn.Store.Person(ctx, id)
		if err != nil {
			return nil, err
		}
		who, err = holderOf(ctx, d.barn.Store, p, site)
		return who, err
	}, session, given)
	if err != nil || who.LeftAt != nil || key.Authenticator.CloneWarning {
		return store.Person{}, notAKey
	}
	text, err := json.Marshal(key)
	if err != nil {
		return store.Person{}, err
	}
	return who.Person, d.barn.Store.UsePasskey(ctx, key.ID, text, d.barn.Now())
}

// Passkeys lists one's own.
func (d *Desk) Passkeys(ctx context.Context, who store.Person) ([]store.Passkey, error) {
	return d.barn.Store.Passkeys(ctx, who.ID)
}

// EndPasskey ends one of one's own.
func EndPasskey(ctx context.Context, a *barn.Act, in *barn.ByID) (barn.None, error) {
	return barn.None{}, a.Store.EndPasskey(ctx, a.Who.ID, in.ID)
}
