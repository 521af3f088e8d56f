package store

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"whitebarn/core/process"
	"whitebarn/core/trial"
)

// Process is a card of the House Book.
type Process struct {
	ID         int64     `json:"id"`
	Name       string    `json:"name"`
	RecordedAt time.Time `json:"recorded_at"`
}

// ProcessVersion is one version of a card.
type ProcessVersion struct {
	ID         int64            `json:"id"`
	ProcessID  int64            `json:"process_id"`
	Number     int              `json:"number"`
	ParentID   *int64           `json:"parent_id"`
	Title      string           `json:"title"`
	Changed    string           `json:"changed"`
	Why        string           `json:"why"`
	Body       process.CardBody `json:"body"`
	TrialID    *int64           `json:"trial_id"`
	ArmID      *int64           `json:"arm_id"`
	FailedAt   *time.Time       `json:"failed_at"`
	FailedBy   string           `json:"failed_by"`
	Fault      string           `json:"fault"`
	FailedWhy  string           `json:"failed_why"`
	Lever      string           `json:"lever"`
	RecordedBy string           `json:"recorded_by"`
	RecordedAt time.Time        `json:"recorded_at"`
}

// Signature is a hand under a version.
type Signature struct {
	ID        int64     `json:"id"`
	VersionID int64     `json:"version_id"`
	PersonID  int64     `json:"person_id"`
	Name      string    `json:"name"`
	SignedAt  time.Time `json:"signed_at"`
}

// ProcessCook is a cook that followed a card.
type ProcessCook struct {
	CookID    int64          `json:"cook_id"`
	TrialID   int64          `json:"trial_id"`
	VersionID int64          `json:"version_id"`
	ServedAt  time.Time      `json:"served_at"`
	Cooked    process.Cooked `json:"cooked"`
}

const versionColumns = `v.id, v.process_id, v.number, v.parent_id, v.title, v.changed, v.why, v.body, v.trial_id, v.arm_id, v.failed_at,
	coalesce(f.name, '') as failed_by, v.fault, v.failed_why, v.lever, p.name as recorded_by, v.recorded_at
	from process_versions v join people p on p.id = v.recorded_by left join people f on f.id = v.failed_by`

// Processes lists the cards by name.
func (s *Store) Processes(ctx context.Context) ([]Process, error) {
	return collect[Process](ctx, s.pool, "select id, name, recorded_at from processes order by name, id")
}

// Process is one card; ErrNotFound if there is none.
func (s *Store) Process(ctx context.Context, id int64) (Process, error) {
	return one[Process](ctx, s.pool, "select id, name, recorded_at from processes where id = $1", id)
}

// ProcessVersions lists the versions of a card in order; 0 is of all cards.
func (s *Store) ProcessVersions(ctx context.Context, processID int64) ([]ProcessVersion, error) {
	return collect[ProcessVersion](ctx, s.pool, "select "+versionColumns+" where $1 = 0 or v.process_id = $1 order by v.process_id, v.number", processID)
}

// ProcessVersion is one version; ErrNotFound if there is none.
func (s *Store) ProcessVersion(ctx context.Context, id int64) (ProcessVersion, error) {
	return one[ProcessVersion](ctx, s.pool, "select "+versionColumns+" where v.id = $1", id)
}

// LockProcess waits for whoever else writes to a card.
func (s *Store) LockProcess(ctx context.Context, id int64) error {
	var locked int64
	return found(s.pool.QueryRow(ctx, "select id from processes where id = $1 for update", id).Scan(&locked))
}

// CreateProcess adds a card without versions.
func (s *Store) CreateProcess(ctx context.Context, who int64, name string, productID int64) (id int64, err error) {
	err = s.pool.QueryRow(ctx, "insert into processes (name, product_id, recorded_by) values ($1, nullif($2, 0), $3) returning id", name, productID, who).Scan(&id)
	return id, err
}

// AddVersion adds the next version of a card; ErrConflict if another came first.
func (s *Store) AddVersion(ctx context.Context, who int64, v ProcessVersion) (id int64, err error) {
	err = s.pool.QueryRow(ctx, `insert into process_versions (process_id, number, parent_id, title, changed, why, body, trial_id, arm_id, recorded_by)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) returning id`, v.ProcessID, v.Number, v.ParentID, v.Title, v.Changed, v.Why, v.Body, v.TrialID, v.ArmID, who).Scan(&id)
	if IsUnique(err, "") {
		return 0, ErrConflict
	}
	return id, err
}

// FailVersion says that a version failed; ErrConflict if that was said.
func (s *Store) FailVersion(ctx context.Context, who, id int64, fault, why, lever string) error {
	tag, err := s.pool.Exec(ctx, `update process_versions set failed_at = now(), failed_by = $2, fault = $3, failed_why = $4, lever = $5
		where id = $1 and failed_at is null`, id, who, fault, why, lever)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrConflict
	}
	return err
}

// Signatures lists the hands under the versions of a card; 0 is of all cards.
func (s *Store) Signatures(ctx context.Context, processID int64) ([]Signature, error) {
	return collect[Signature](ctx, s.pool, `select g.id, g.version_id, g.person_id, p.name, g.signed_at from process_signatures g
		join people p on p.id = g.person_id
		join process_versions v on v.id = g.version_id where g.voided_at is null and ($1 = 0 or v.process_id = $1) order by g.signed_at, g.id`, processID)
}

// SignVersion puts a hand under a version; ErrConflict if it is there.
func (s *Store) SignVersion(ctx context.Context, who, versionID int64) error {
	_, err := s.pool.Exec(ctx, "insert into process_signatures (version_id, person_id) values ($1, $2)", versionID, who)
	if IsUnique(err, "process_signatures_current") {
		return ErrConflict
	}
	return err
}

// UnsignVersion opens a signed version again, with a reason; ErrNotFound if nobody signed.
func (s *Store) UnsignVersion(ctx context.Context, who, versionID int64, why string) error {
	tag, err := s.pool.Exec(ctx, "update process_signatures set voided_at = now(), voided_by = $2, void_reason = $3 where version_id = $1 and "+
		"voided_at is null", versionID, who, why)
	if err == nil && tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return err
}

// ProcessCooks lists the cooks of a card's versions in order; 0 is of all cards.
func (s *Store) ProcessCooks(ctx context.Context, processID int64) ([]ProcessCook, error) {
	return collect[ProcessCook](ctx, s.pool, `select x.cook_id, k.trial_id, x.version_id, x.served_at, x.cooked from process_cooks x
		join cooks k on k.id = x.cook_id
		join process_versions v on v.id = x.version_id where $1 = 0 or v.process_id = $1 order by x.served_at, x.cook_id`, processID)
}

// KeepProcessCooks keeps what cooks of a card came to, over what was kept of them.
func (s *Store) KeepProcessCooks(ctx context.Context, all []ProcessCook) error {
	return s.withTx(ctx, func(tx pgx.Tx) error {
		for _, c := range all {
			if _, err := tx.Exec(ctx, `insert into process_cooks (cook_id, version_id, served_at, cooked) values ($1, $2, $3, $4)
				on conflict (cook_id) do update set cooked = excluded.cooked, served_at = excluded.served_at, recorded_at = now()`,
				c.CookID, c.VersionID, c.ServedAt, c.Cooked); err != nil {
				return err
			}
		}
		return nil
	})
}

// CookByCard marks a trial as cooked by a version of a card.
func (s *Store) CookByCard(ctx context.Context, trialID, versionID int64) error {
	_, err := s.pool.Exec(ctx, "update trials set process_version_id = $2 where id = $1", trialID, versionID)
	return err
}

// CardsOf are the versions that trials are cooked by; those by none are left out.
func (s *Store) CardsOf(ctx context.Context, trialIDs ...int64) (map[int64]int64, error) {
	rows, err := collect[struct{ ID, VersionID int64 }](ctx, s.pool, `select id, process_version_id as version_id from trials
		where id = any($1) and process_version_id is not null`, trialIDs)
	out := map[int64]int64{}
	for _, r := range rows {
		out[r.ID] = r.VersionID
	}
	return out, err
}

// OpenByCard lists trials that are cooked by versions of a card and not over.
func (s *Store) OpenByCard(ctx context.Context, processID int64) ([]int64, error) {
	rows, err := s.pool.Query(ctx, `select t.id from trials t join process_versions v on v.id = t.process_version_id
		where v.process_id = $1 and t.revealed_at is null and t.rehearses_id is null order by t.id`, processID)
	if err != nil {
		return nil, err
	}
	ids, err := pgx.CollectRows(rows, pgx.RowTo[int64])
	if ids == nil {
		ids = []int64{} // JSON says [] for none
	}
	return ids, err
}

// PracticeTruths are what was true of the arms of a rehearsal that was tasted by simulated
// tasters; ErrNotFound where it was not.
func (s *Store) PracticeTruths(ctx context.Context, trialID int64) (out []map[trial.OutcomeKey]float64, err error) {
	err = s.pool.QueryRow(ctx, "select truths from practice_truths where trial_id = $1", trialID).Scan(&out)
	return out, found(err)
}

// KeepPracticeTruths keeps them, the first that were.
func (s *Store) KeepPracticeTruths(ctx context.Context, trialID int64, truths []map[trial.OutcomeKey]float64) error {
	_, err := s.pool.Exec(ctx, "insert into practice_truths (trial_id, truths) values ($1, $2) on conflict do nothing", trialID, truths)
	return err
}

// ProbeNames are the devices that read the pits of each cook of a trial.
func (s *Store) ProbeNames(ctx context.Context, trialID int64) (map[int64]string, error) {
	rows, err := collect[struct {
		CookID int64
		Names  string
	}](ctx, s.pool, `select a.cook_id, string_agg(distinct d.name || ' ' || p.channel, ', ' order by d.name || ' ' || p.channel) as names from probe_assignments a
		join probes p on p.id = a.probe_id join devices d on d.id = p.device_id join cooks k on k.id = a.cook_id
		where k.trial_id = $1 and a.pit_run_id is not null and a.voided_at is null group by 1`, trialID)
	out := map[int64]string{}
	for _, r := range rows {
		out[r.CookID] = r.Names
	}
	return out, err
}

// TrialCard is the version of a card that a trial is cooked by.
type TrialCard struct {
	ProcessID int64
	Name      string
	Number    int
	Body      process.CardBody
}

// CardOf is that of a trial; ErrNotFound if it is cooked by none.
func (s *Store) CardOf(ctx context.Context, trialID int64) (TrialCard, error) {
	return one[TrialCard](ctx, s.pool, `select v.process_id, p.name, v.number, v.body from trials t join process_versions v on v.id = t.process_version_id
		join processes p on p.id = v.process_id where t.id = $1`, trialID)
}
