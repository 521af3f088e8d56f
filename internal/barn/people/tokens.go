package people

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"strings"
	"time"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// NewScriptToken is a token to be made for a script.
type NewScriptToken struct {
	Name  string       `json:"name" binding:"required,max=60"`
	Scope store.Scoped `json:"scope" binding:"oneof=read log all"`
	Days  int          `json:"days" binding:"min=0,max=3660"` // until it ends; 0 is never
}

// MadeScriptToken is shown once.
type MadeScriptToken struct {
	Token string `json:"token"`
	store.ScriptToken
}

// ShownOnce keeps the token out of what is answered again.
func (MadeScriptToken) ShownOnce() {}

// tokenHead tells a script's token from a device's.
const tokenHead = "wbs_"

// MakeToken makes a token for a script, which does what it does in the maker's name.
func MakeToken(ctx context.Context, a *barn.Act, in *barn.Of[NewScriptToken]) (MadeScriptToken, error) {
	name := strings.TrimSpace(in.Body.Name)
	if name == "" {
		return MadeScriptToken{}, fault.New("name", "nothing is written", "say what the token is for")
	}
	raw := make([]byte, 24)
	if _, err := rand.Read(raw); err != nil {
		return MadeScriptToken{}, err
	}
	token := tokenHead + hex.EncodeToString(raw)
	var ends *time.Time
	if in.Body.Days > 0 {
		t := a.Now().Add(time.Duration(in.Body.Days) * 24 * time.Hour)
		ends = &t
	}
	made, err := a.Store.AddScriptToken(ctx, a.Who.ID, name, in.Body.Scope, token, ends)
	return MadeScriptToken{token, made}, err
}

// Tokens lists what tokens there are.
func Tokens(ctx context.Context, b *barn.Barn) ([]store.ScriptToken, error) {
	return b.Store.ScriptTokens(ctx)
}

// EndToken ends a token.
func EndToken(ctx context.Context, a *barn.Act, in *barn.ByID) (barn.None, error) {
	return barn.None{}, a.Store.EndScriptToken(ctx, a.Who.ID, in.ID)
}

// ByToken is the person in whose name a script acts, where its token goes so far: read
// reads, log writes what is recorded of cooks too, all does what the person may, but for a
// person's own word.
func (d *Desk) ByToken(ctx context.Context, token string, reads bool, door barn.Door) (store.Person, error) {
	unknown := barn.RefuseAs(barn.NotSignedIn, "This token is not known, or it has ended.", "Make one on the Records page and send it as Authorization: Bearer.")
	if !strings.HasPrefix(token, tokenHead) {
		return store.Person{}, unknown
	}
	p, scope, err := d.barn.Store.ByScriptToken(ctx, token, d.barn.Now())
	if errors.Is(err, store.ErrNotFound) {
		return p, unknown
	}
	if err != nil {
		return p, err
	}
	if door.ByHand {
		return store.Person{}, barn.RefuseAs(barn.NotYours, "No script signs or gives a reason.", "Do it by hand, signed in.")
	}
	if reads || scope == store.ScopeAll || scope == store.ScopeLog && door.Kind == barn.Record {
		return p, nil
	}
	return store.Person{}, barn.RefuseAs(barn.NotYours, "This token's scope is \""+string(scope)+"\", which does not go so far.",
		"Make a token of a wider scope on the Records page.")
}
