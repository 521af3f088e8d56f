package store

import (
	"context"
	"crypto/sha256"
	"time"
)

// Scoped is how far a script's token goes.
type Scoped string

// The scopes of tokens.
const (
	ScopeRead Scoped = "read" // reads
	ScopeLog  Scoped = "log"  // and records what happens at cooks
	ScopeAll  Scoped = "all"  // and all that its person may
)

// Values lists the scopes.
func (Scoped) Values() []string {
	return []string{string(ScopeRead), string(ScopeLog), string(ScopeAll)}
}

// ScriptToken is what lets a script in.
type ScriptToken struct {
	ID     int64      `json:"id"`
	Name   string     `json:"name"`
	Scope  Scoped     `json:"scope"`
	Person string     `json:"person"` // in whose name
	MadeAt time.Time  `json:"made_at"`
	EndsAt *time.Time `json:"ends_at"` // null: never
	UsedAt *time.Time `json:"used_at"`
}

const scriptTokens = `select t.id, t.name, t.scope, p.name as person, t.made_at, t.ends_at, t.used_at
	from script_tokens t join people p on p.id = t.person_id where t.voided_at is null`

// AddScriptToken keeps the sum of a token.
func (s *Store) AddScriptToken(ctx context.Context, who int64, name string, scope Scoped, token string, ends *time.Time) (ScriptToken, error) {
	sum := sha256.Sum256([]byte(token))
	var id int64
	err := s.pool.QueryRow(ctx, "insert into script_tokens (name, token_hash, scope, person_id, ends_at) values ($1, $2, $3, $4, $5) returning id",
		name, sum[:], scope, who, ends).Scan(&id)
	if err != nil {
		return ScriptToken{}, err
	}
	return one[ScriptToken](ctx, s.pool, scriptTokens+" and t.id = $1", id)
}

// ScriptTokens lists the tokens that stand.
func (s *Store) ScriptTokens(ctx context.Context) ([]ScriptToken, error) {
	return collect[ScriptToken](ctx, s.pool, scriptTokens+" order by t.id")
}

// EndScriptToken ends a token.
func (s *Store) EndScriptToken(ctx context.Context, who, id int64) error {
	tag, err := s.pool.Exec(ctx, "update script_tokens set voided_at = now(), voided_by = $2 where id = $1 and voided_at is null", id, who)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}

// ByScriptToken finds in whose name a token acts and how far it goes; that it was used is kept
// by the hour.
func (s *Store) ByScriptToken(ctx context.Context, token string, now time.Time) (p Person, scope Scoped, err error) {
	sum := sha256.Sum256([]byte(token))
	var id, person int64
	var used *time.Time
	err = s.pool.QueryRow(ctx, `select id, person_id, scope, used_at from script_tokens
		where token_hash = $1 and voided_at is null and (ends_at is null or ends_at > $2)`, sum[:], now).Scan(&id, &person, &scope, &used)
	if err != nil {
		return p, "", found(err)
	}
	if p, err = s.Person(ctx, person); err != nil {
		return p, "", err
	}
	if used == nil || now.Sub(*used) > time.Hour {
		_, err = s.pool.Exec(ctx, "update script_tokens set used_at = $2 where id = $1", id, now)
	}
	return p, scope, err
}
