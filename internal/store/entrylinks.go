package store

import (
	"context"
	"crypto/sha256"
	"time"
)

// EntryLink is a link by which somebody sets a password, while it is open.
type EntryLink struct {
	ID       int64
	PersonID int64
	EndsAt   time.Time
}

// MakeEntryLink keeps the sum of a link's token; those made before for the person end.
func (s *Store) MakeEntryLink(ctx context.Context, who *int64, personID int64, token string, ends time.Time) error {
	_, err := s.pool.Exec(ctx, "update entry_links set voided_at = now() where person_id = $1 and used_at is null and voided_at is null", personID)
	if err != nil {
		return err
	}
	sum := sha256.Sum256([]byte(token))
	_, err = s.pool.Exec(ctx, "insert into entry_links (person_id, token_hash, made_by, ends_at) values ($1, $2, $3, $4)", personID, sum[:], who, ends)
	if err != nil {
		return err
	}
	return changeBy(ctx, s.pool, who, "person", personID, nil, map[string]string{"link": "made"}, "")
}

// EntryLinkBy finds the open link of a token, and keeps it from ending in between; ErrNotFound
// if it was used, ended or never was.
func (s *Store) EntryLinkBy(ctx context.Context, token string, now time.Time) (EntryLink, error) {
	sum := sha256.Sum256([]byte(token))
	return one[EntryLink](ctx, s.pool, `select id, person_id, ends_at from entry_links
		where token_hash = $1 and used_at is null and voided_at is null and ends_at > $2 for update`, sum[:], now)
}

// EnterBy uses a link: its person has the sign-in name and the password from now on, and
// sessions from before end. ErrConflict if another signs in by that name.
func (s *Store) EnterBy(ctx context.Context, link EntryLink, signIn, hash string) error {
	_, err := s.pool.Exec(ctx, "update people set sign_in = lower($2) where id = $1", link.PersonID, signIn)
	if IsUnique(err, "") {
		return ErrConflict
	}
	if err != nil {
		return err
	}
	if _, err := s.pool.Exec(ctx, "update entry_links set used_at = now() where id = $1", link.ID); err != nil {
		return err
	}
	return s.SetPassword(ctx, &link.PersonID, link.PersonID, hash)
}

// OpenLinks are until when the open links of people can be used.
func (s *Store) OpenLinks(ctx context.Context, now time.Time) (map[int64]time.Time, error) {
	rows, err := s.pool.Query(ctx, "select person_id, ends_at from entry_links where used_at is null and voided_at is null and ends_at > $1", now)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := map[int64]time.Time{}
	for rows.Next() {
		var id int64
		var ends time.Time
		if err := rows.Scan(&id, &ends); err != nil {
			return nil, err
		}
		out[id] = ends
	}
	return out, rows.Err()
}
