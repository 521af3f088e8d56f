-- +goose Up

-- A second hand signs whatever would take away, move or weaken what made a stop that nothing
-- else opens: of a press as before, of an imported log, of what a probe measured, or entries
-- of an earlier time.
alter table pending_changes alter press drop not null;
alter table pending_changes
  add import_id bigint references imports, -- to be taken back
  add probe jsonb,                         -- what one is to measure instead
  add entries jsonb,                       -- to be logged
  add what text not null default '',       -- in words, where it is of no press
  add check (num_nonnulls(press, import_id, probe, entries) = 1);
create unique index on pending_changes (import_id) where signed_at is null and refused_at is null;
-- An entry that is sent again waits once.
create unique index on pending_changes ((entries->0->>'press')) where signed_at is null and refused_at is null;
