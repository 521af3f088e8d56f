package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"
)

// Phone is a phone that a taster's page is open on.
type Phone struct {
	ID      int64
	KeyHash []byte
	Agent   string
	Address string
	BoundAt time.Time
}

// PhoneOf is the phone a taster's page is open on; ErrNotFound while it is on none.
func (s *Store) PhoneOf(ctx context.Context, tasterID int64) (Phone, error) {
	return one[Phone](ctx, s.pool, "select id, key_hash, agent, address, bound_at from taster_phones where taster_id = $1 and freed_at is null", tasterID)
}

// BindPhone opens a taster's page on a phone; ErrConflict if it is open on one.
func (s *Store) BindPhone(ctx context.Context, tasterID int64, p Phone) error {
	_, err := s.pool.Exec(ctx, "insert into taster_phones (taster_id, key_hash, agent, address) values ($1, $2, $3, $4)", tasterID, p.KeyHash, p.Agent, p.Address)
	if IsUnique(err, "taster_phones_current") {
		return ErrConflict
	}
	return err
}

// FreePhone lets a taster's page be opened on another phone; ErrNotFound if it is on none.
func (s *Store) FreePhone(ctx context.Context, who, tasterID int64, why string) error {
	tag, err := s.pool.Exec(ctx, "update taster_phones set freed_at = now(), freed_by = $2, why = $3 where taster_id = $1 and freed_at is null", tasterID, who, why)
	if err == nil && tag.RowsAffected() == 0 {
		err = ErrNotFound
	}
	return err
}

// Consent keeps that a taster read what is in the samples and wants to taste.
func (s *Store) Consent(ctx context.Context, tasterID int64) error {
	_, err := s.pool.Exec(ctx, "update tasters set consented_at = coalesce(consented_at, now()) where id = $1", tasterID)
	return err
}

// CarvesFor says whether a person knows, or will before the codes open, what a taster has on
// their plates: they carve a flight the taster has a plate of.
func (s *Store) CarvesFor(ctx context.Context, personID, tasterID int64) (bool, error) {
	return exists(ctx, s.pool, `select exists (select from ballots b join flights f on f.id = b.flight_id join trials t on t.id = f.trial_id
		where b.taster_id = $2 and f.carver_id = $1 and f.voided_at is null and t.revealed_at is null)`, personID, tasterID)
}

func exists(ctx context.Context, q querier, sql string, args ...any) (ok bool, err error) {
	err = q.QueryRow(ctx, sql, args...).Scan(&ok)
	return ok, err
}

// Guest is somebody who wished to be known again.
type Guest struct {
	ID   int64
	Name string
}

// GuestBy finds a guest by the key their phone keeps; ErrNotFound if nobody has it.
func (s *Store) GuestBy(ctx context.Context, keyHash []byte) (Guest, error) {
	return one[Guest](ctx, s.pool, "select id, name from guests where key_hash = $1 and voided_at is null", keyHash)
}

// AddGuest keeps a guest who wishes to be known again.
func (s *Store) AddGuest(ctx context.Context, name string, keyHash []byte) (id int64, err error) {
	err = s.pool.QueryRow(ctx, "insert into guests (name, key_hash) values ($1, $2) returning id", name, keyHash).Scan(&id)
	return id, err
}

// ForgetGuest lets a guest be known no longer; what they tasted stays.
func (s *Store) ForgetGuest(ctx context.Context, id int64) error {
	_, err := s.pool.Exec(ctx, "update guests set voided_at = now() where id = $1 and voided_at is null", id)
	return err
}

// GuestDoor is the code by which guests seat themselves at a trial's table.
type GuestDoor struct {
	TrialID  int64
	Code     string
	OpenedBy int64
}

// DoorOf is the open door of a trial; ErrNotFound while there is none.
func (s *Store) DoorOf(ctx context.Context, trialID int64) (GuestDoor, error) {
	return one[GuestDoor](ctx, s.pool, "select trial_id, code, opened_by from guest_doors where trial_id = $1 and closed_at is null", trialID)
}

// DoorBy is the open door of a code whose tasting is not over; ErrNotFound if there is none.
func (s *Store) DoorBy(ctx context.Context, code string) (GuestDoor, error) {
	return one[GuestDoor](ctx, s.pool, `select d.trial_id, d.code, d.opened_by from guest_doors d join trials t on t.id = d.trial_id
		where d.code = $1 and d.closed_at is null and t.revealed_at is null`, code)
}

// OpenDoor lets guests in by a code; ErrConflict if the door is open or the code is taken.
func (s *Store) OpenDoor(ctx context.Context, who, trialID int64, code string) error {
	_, err := s.pool.Exec(ctx, "insert into guest_doors (trial_id, code, opened_by) values ($1, $2, $3)", trialID, code, who)
	if IsUnique(err, "guest_doors_current") || IsUnique(err, "guest_doors_code_key") {
		return ErrConflict
	}
	return err
}

// ShutDoor lets no more guests in.
func (s *Store) ShutDoor(ctx context.Context, trialID int64) error {
	_, err := s.pool.Exec(ctx, "update guest_doors set closed_at = now() where trial_id = $1 and closed_at is null", trialID)
	return err
}

// Share lets tasters of a trial read what they scored against what it was, or no longer.
func (s *Store) Share(ctx context.Context, who, trialID int64, share bool) error {
	_, err := s.pool.Exec(ctx, "update trials set shared_at = case when $3 then coalesce(shared_at, now()) end, shared_by = $2 where id = $1", trialID, who, share)
	return err
}

// Shared says whether tasters of a trial may read that.
func (s *Store) Shared(ctx context.Context, trialID int64) (bool, error) {
	return exists(ctx, s.pool, "select exists (select from trials where id = $1 and shared_at is not null)", trialID)
}

// TastedTrial is a trial whose codes are open that somebody tasted in, by the name they had.
type TastedTrial struct {
	TrialID  int64     `json:"trial_id"`
	Question string    `json:"question"`
	Taster   string    `json:"taster"`
	Opened   time.Time `json:"opened"`
}

// TastedBy lists the trials that a person of the crew, or a guest, tasted in, the latest first.
func (s *Store) TastedBy(ctx context.Context, personID, guestID *int64) ([]TastedTrial, error) {
	rows, err := s.pool.Query(ctx, `select distinct t.id as trial_id, t.question, x.name as taster, t.revealed_at as opened from tasters x
		join trials t on t.id = x.trial_id join ballots b on b.taster_id = x.id join flights f on f.id = b.flight_id and f.voided_at is null
		where x.voided_at is null and t.revealed_at is not null and (x.person_id = $1 or x.guest_id = $2) order by opened desc, trial_id`, personID, guestID)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByName[TastedTrial])
}

// KnownGuest is a guest who is known again, and where they tasted.
type KnownGuest struct {
	ID     int64      `json:"id"`
	Name   string     `json:"name"`
	Tables int        `json:"tables"`
	Last   *time.Time `json:"last"`
}

// KnownGuests lists those who wished to be known again.
func (s *Store) KnownGuests(ctx context.Context) ([]KnownGuest, error) {
	return collect[KnownGuest](ctx, s.pool, `select g.id, g.name, count(distinct x.trial_id)::int as tables, max(x.consented_at) as last from guests g
		left join tasters x on x.guest_id = g.id and x.voided_at is null where g.voided_at is null group by g.id order by g.name`)
}
