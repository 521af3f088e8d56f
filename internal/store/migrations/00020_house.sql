-- +goose Up

-- What a settled trial showed of two levels on an outcome: its size with its error, the word it
-- came to, and the setting it was shown in. Pooled over trials as it is read.
create table trial_effects (
  trial_id bigint not null references trials,
  first_level bigint not null references catalogue_levels,
  second_level bigint not null references catalogue_levels,
  key text not null, -- the outcome
  estimate double precision not null, -- first less second
  se double precision not null check (se > 0),
  df int not null,
  units double precision not null, -- effective, of pairs their number
  word text not null,
  reach text not null,
  smallest double precision not null,
  limited text not null default '', -- a named limit; empty is none
  setting jsonb not null,
  recorded_at timestamptz not null default now(),
  primary key (trial_id, first_level, second_level, key)
);
create index on trial_effects (first_level, second_level, key);

-- A process is a card with versions; each rests on a trial, or on the version before it.
create table processes (
  id bigint generated always as identity primary key,
  name text not null,
  product_id bigint references products,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now()
);
create table process_versions (
  id bigint generated always as identity primary key,
  process_id bigint not null references processes,
  number int not null check (number > 0),
  parent_id bigint references process_versions,
  title text not null, -- what it does, in a line
  changed text not null, -- the one thing that is other than in its parent
  why text not null,
  body jsonb not null,
  trial_id bigint references trials,
  arm_id bigint references arms,
  failed_at timestamptz,
  failed_by bigint references people,
  fault text not null default '',
  failed_why text not null default '',
  lever text not null default '', -- what the cook model ranked first against the fault
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  unique (process_id, number)
);
create index on process_versions (trial_id);
create table process_signatures (
  id bigint generated always as identity primary key,
  version_id bigint not null references process_versions,
  person_id bigint not null references people,
  signed_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index process_signatures_current on process_signatures (version_id, person_id) where voided_at is null;

-- A trial may be cooked by a card; what each of its cooks came to is kept once it is over.
alter table trials add column process_version_id bigint references process_versions;
create index on trials (process_version_id) where process_version_id is not null;
create table process_cooks (
  cook_id bigint primary key references cooks,
  version_id bigint not null references process_versions,
  served_at timestamptz not null,
  cooked jsonb not null,
  recorded_at timestamptz not null default now()
);
create index on process_cooks (version_id, served_at);

-- What was true of the simulated cuts of a rehearsal that is tasted, hidden until its codes open.
create table practice_truths (
  trial_id bigint primary key references trials,
  truths jsonb not null,
  recorded_at timestamptz not null default now()
);

-- +goose Down
select 'migrations only go forward';
