package people

import (
	"context"
	"errors"

	"whitebarn/core/fault"
	"whitebarn/internal/auth"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// NewPassword is a password in place of another.
type NewPassword struct {
	Old      string `json:"old" binding:"required,max=200"`
	Password string `json:"password" binding:"required,max=200"`
}

// SetUnits keeps how one has numbers and clocks shown.
func SetUnits(ctx context.Context, a *barn.Act, in *barn.Of[store.OwnUnits]) (barn.None, error) {
	return barn.None{}, a.Store.SetUnits(ctx, a.Who.ID, in.Body)
}

// Proves refuses where what is typed in a field is not the person's password.
func (d *Desk) Proves(p store.Person, field, password string) error {
	if p.PasswordHash == "" || !auth.Matches(password, p.PasswordHash) {
		return fault.New(field, "this is not your password", "type the one you sign in with; who forgot it asks a pitmaster for a link")
	}
	return nil
}

// ChangePassword changes one's own. All other sessions end; what is answered is who goes on.
func (d *Desk) ChangePassword(ctx context.Context, who store.Person, in NewPassword) (store.Person, error) {
	if err := d.Proves(who, "old", in.Old); err != nil {
		return who, err
	}
	hash, err := d.hashed(ctx, in.Password, who.Name, who.SignIn)
	if err != nil {
		return who, err
	}
	if err := d.barn.Store.SetPassword(ctx, &who.ID, who.ID, hash); err != nil {
		return who, err
	}
	return d.barn.Store.Person(ctx, who.ID)
}

// EndOthers ends one's sessions on all devices; what is answered is who goes on with a new one.
func (d *Desk) EndOthers(ctx context.Context, who store.Person) (store.Person, error) {
	if err := d.barn.Store.SignOutAll(ctx, who.ID, who.ID); err != nil {
		return who, err
	}
	return d.barn.Store.Person(ctx, who.ID)
}

// Stands says whether a session still stands.
func (d *Desk) Stands(ctx context.Context, in Session) (bool, error) {
	_, err := d.Of(ctx, in)
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	return err == nil, err
}
