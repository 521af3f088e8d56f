package pits

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
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

// ShownOnce keeps the token out of what is answered again.
func (NewToken) ShownOnce() {}

// AddDevice lets a new device in.
func AddDevice(ctx context.Context, a *barn.Act, in *barn.Of[DeviceInput]) (NewToken, error) {
	name := strings.TrimSpace(in.Body.Name)
	d, token, err := a.Store.NewDevice(ctx, a.Who.ID, name, in.Body.CookID)
	if errors.Is(err, store.ErrConflict) {
		return NewToken{}, fault.New("name", fmt.Sprintf("there is a device %q already", name), "give it another name, or renew that one's token")
	}
	return NewToken{d, token}, err
}

// RenewDevice gives a device another token.
func RenewDevice(ctx context.Context, a *barn.Act, in *barn.ByID) (NewToken, error) {
	token, err := a.Store.Renew(ctx, a.Who.ID, in.ID)
	return NewToken{store.Device{ID: in.ID}, token}, err
}

// RetireDevice lets a device in no more.
func RetireDevice(ctx context.Context, a *barn.Act, in *barn.ByID) (barn.None, error) {
	return barn.None{}, a.Store.Retire(ctx, in.ID)
}
