package store

import (
	"context"
	"encoding/json"
	"time"
)

// Passkey is a key of a device that lets somebody in.
type Passkey struct {
	ID         int64           `json:"id"`
	Name       string          `json:"name"`
	Host       string          `json:"host"` // the name of the barn it is for
	MadeAt     time.Time       `json:"made_at"`
	UsedAt     *time.Time      `json:"used_at"`
	PersonID   int64           `json:"-"`
	Credential json.RawMessage `json:"-"`
}

const passkeys = "select id, name, host, made_at, used_at, person_id, credential from passkeys where voided_at is null"

// Passkeys lists those of somebody.
func (s *Store) Passkeys(ctx context.Context, personID int64) ([]Passkey, error) {
	return collect[Passkey](ctx, s.pool, passkeys+" and person_id = $1 order by id", personID)
}

// AddPasskey keeps one.
func (s *Store) AddPasskey(ctx context.Context, k Passkey, credentialID []byte) error {
	_, err := s.pool.Exec(ctx, "insert into passkeys (person_id, name, host, credential_id, credential) values ($1, $2, $3, $4, $5)",
		k.PersonID, k.Name, k.Host, credentialID, k.Credential)
	if IsUnique(err, "") {
		return ErrConflict
	}
	if err != nil {
		return err
	}
	return change(ctx, s.pool, k.PersonID, "person", k.PersonID, nil, map[string]string{"passkey": k.Name}, "")
}

// UsePasskey keeps that one was used, and how often its device says.
func (s *Store) UsePasskey(ctx context.Context, credentialID []byte, credential json.RawMessage, now time.Time) error {
	_, err := s.pool.Exec(ctx, "update passkeys set used_at = $3, credential = $2 where credential_id = $1 and voided_at is null",
		credentialID, credential, now)
	return err
}

// EndPasskey ends one of somebody's; ErrNotFound if it is not theirs.
func (s *Store) EndPasskey(ctx context.Context, personID, id int64) error {
	tag, err := s.pool.Exec(ctx, "update passkeys set voided_at = now() where id = $1 and person_id = $2 and voided_at is null", id, personID)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	if err != nil {
		return err
	}
	return change(ctx, s.pool, personID, "person", personID, nil, map[string]string{"passkey": "ended"}, "")
}
