-- +goose Up

-- The barn itself: one row.
create table barn (
  id int primary key default 1 check (id = 1),
  name text not null,
  time_zone text not null,
  latitude double precision,
  longitude double precision,
  elevation_m double precision not null default 0,
  secret bytea not null, -- signs the tasters' links
  created_at timestamptz not null default now()
);

create table people (
  id bigint generated always as identity primary key,
  name text not null unique,
  role text not null check (role in ('pitmaster', 'crew')),
  sign_in text not null unique,
  password_hash text not null,
  created_at timestamptz not null default now()
);

create table sessions (
  token text primary key,
  data bytea not null,
  expiry timestamptz not null
);
create index on sessions (expiry);

-- What was changed in place (an ask, a cut, a plan): before, after, who, when, why.
create table changes (
  id bigint generated always as identity primary key,
  subject text not null,
  subject_id bigint not null,
  before jsonb,
  after jsonb,
  person_id bigint references people,
  at timestamptz not null default now(),
  why text not null default ''
);
create index on changes (subject, subject_id);

create table pits (
  id bigint generated always as identity primary key,
  name text not null unique
);

create table holders (
  id bigint generated always as identity primary key,
  name text not null unique
);

create table trials (
  id bigint generated always as identity primary key,
  question text not null,
  product text not null,
  cut text not null,
  species text not null,
  handling text not null,
  factor text not null,
  unit text not null check (unit in ('cut', 'pit run', 'holder run', 'batch')),
  held jsonb not null default '[]',
  allergens text[] not null default '{}',
  follows_id bigint references trials,
  revealed_at timestamptz,
  revealed_by bigint references people,
  reveal_reason text not null default '', -- given when ballots were still open
  created_by bigint not null references people,
  created_at timestamptz not null default now()
);

create table arms (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  place int not null check (place between 1 and 6),
  tag text not null,
  level text not null,
  control boolean not null default false,
  unique (trial_id, place),
  unique (trial_id, tag) deferrable initially deferred
);

create table outcomes (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  key text not null,
  place int not null,
  smallest_difference double precision not null,
  exact boolean not null default false,
  voided_at timestamptz,
  unique (trial_id, key)
);

create table cuts (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  name text not null,
  pair text not null default '',
  animal text not null default '',
  side text not null default '',
  batch text not null default '',
  arm_id bigint references arms,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index cuts_name on cuts (trial_id, lower(name)) where voided_at is null;

create table weighings (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  stage text not null check (stage in ('bought', 'trimmed', 'prepped', 'off', 'rested', 'edible')),
  kg double precision not null check (kg > 0),
  typed text not null,
  resolution_kg double precision not null,
  resolution_typed text not null,
  at timestamptz not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references weighings,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index weighings_current on weighings (cut_id, stage) where voided_at is null;

create table cooks (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  serve_at timestamptz not null,
  clock_origin timestamptz not null default now(),
  clock_start timestamptz not null default now(),
  clock_rate double precision not null default 1,
  rehearsal boolean not null default false,
  created_by bigint not null references people,
  created_at timestamptz not null default now()
);

create table pit_runs (
  id bigint generated always as identity primary key,
  pit_id bigint not null references pits,
  setup text not null default '',
  set_point_c double precision not null,
  set_point_typed text not null,
  from_at timestamptz,
  to_at timestamptz
);

create table holder_runs (
  id bigint generated always as identity primary key,
  holder_id bigint not null references holders,
  set_point_c double precision,
  set_point_typed text not null default '',
  from_at timestamptz,
  to_at timestamptz
);

-- A pit run may serve several cooks.
create table cook_pit_runs (
  cook_id bigint not null references cooks,
  pit_run_id bigint not null references pit_runs,
  primary key (cook_id, pit_run_id)
);

create table cook_holder_runs (
  cook_id bigint not null references cooks,
  holder_run_id bigint not null references holder_runs,
  primary key (cook_id, holder_run_id)
);

create table placements (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  cook_id bigint not null references cooks,
  pit_run_id bigint references pit_runs,
  holder_run_id bigint references holder_runs,
  position text not null default '',
  from_at timestamptz,
  to_at timestamptz,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references placements,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default '',
  check (num_nonnulls(pit_run_id, holder_run_id) = 1)
);
create index on placements (cut_id);

create table events (
  id bigint generated always as identity primary key,
  act text not null,
  at timestamptz not null,
  note text not null default '',
  cut_id bigint references cuts,
  pit_run_id bigint references pit_runs,
  holder_run_id bigint references holder_runs,
  cook_id bigint references cooks,
  press uuid not null, -- one press of a pad writes one event per cut; a resend writes none
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references events,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default '',
  check (num_nonnulls(cut_id, pit_run_id, holder_run_id, cook_id) = 1)
);
create unique index events_press on events (press, coalesce(cut_id, 0), coalesce(pit_run_id, 0), coalesce(holder_run_id, 0), coalesce(cook_id, 0));
create index on events (cut_id);

create table devices (
  id bigint generated always as identity primary key,
  name text not null unique,
  kind text not null check (kind in ('file', 'live'))
);

-- A probe is a channel of a device, for good.
create table probes (
  id bigint generated always as identity primary key,
  device_id bigint not null references devices,
  channel text not null,
  unique (device_id, channel)
);

create table imports (
  id bigint generated always as identity primary key,
  cook_id bigint not null references cooks,
  device_id bigint not null references devices,
  file_name text not null,
  sha256 bytea not null,
  lines int not null,
  added int not null,
  already_there int not null,
  trouble jsonb not null default '[]',
  imported_by bigint not null references people,
  imported_at timestamptz not null default now()
);

-- Known by (probe, time) when imported, by (probe, sequence) when sent live.
-- Probes and imports are never deleted, so their keys need no check per reading.
create table readings (
  probe_id bigint not null,
  at timestamptz not null,
  c double precision not null,
  value double precision not null, -- as read
  scale char(1) not null,
  sequence bigint,
  import_id bigint
);
create unique index readings_at on readings (probe_id, at, coalesce(sequence, -1)) include (c);
create unique index readings_live on readings (probe_id, sequence) where sequence is not null;

create table probe_assignments (
  id bigint generated always as identity primary key,
  probe_id bigint not null references probes,
  cook_id bigint not null references cooks,
  cut_id bigint references cuts,
  pit_run_id bigint references pit_runs,
  holder_run_id bigint references holder_runs,
  from_at timestamptz not null,
  to_at timestamptz,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default '',
  check (num_nonnulls(cut_id, pit_run_id, holder_run_id) = 1)
);
create index on probe_assignments (cook_id);

-- The highest temperature shown at the coldest point of a cut.
create table final_temperatures (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  c double precision not null,
  typed text not null,
  source text not null check (source in ('hand', 'probe')),
  at timestamptz not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references final_temperatures,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index final_temperatures_current on final_temperatures (cut_id) where voided_at is null;

-- A pitmaster's reason for serving a cut whose minimum is not shown.
create table gate_reasons (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  reason text not null check (reason <> ''),
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index gate_reasons_current on gate_reasons (cut_id) where voided_at is null;

create table tasters (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  name text not null,
  seat int not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index tasters_name on tasters (trial_id, lower(name)) where voided_at is null;

create table flights (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  place int not null,
  carver_id bigint not null references people,
  served_by bigint not null references people,
  served_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);

-- flight x cut x place on the piece; one code for all tasters.
create table samples (
  id bigint generated always as identity primary key,
  flight_id bigint not null references flights,
  cut_id bigint not null references cuts,
  place text not null,
  code text not null,
  unique (flight_id, code)
);

create table ballots (
  id bigint generated always as identity primary key,
  flight_id bigint not null references flights,
  taster_id bigint not null references tasters,
  locked_at timestamptz,
  unique (flight_id, taster_id)
);

-- The order of a taster's plate, and how each sample was closed.
create table servings (
  ballot_id bigint not null references ballots,
  sample_id bigint not null references samples,
  position int not null,
  sealed_at timestamptz,
  excused boolean not null default false,
  faults text[] not null default '{}',
  primary key (ballot_id, sample_id),
  unique (ballot_id, position)
);

create table scores (
  id bigint generated always as identity primary key,
  ballot_id bigint not null references ballots,
  sample_id bigint not null references samples,
  attribute text not null,
  value int not null check (value between 1 and 9),
  recorded_at timestamptz not null default now(),
  supersedes bigint references scores,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index scores_current on scores (ballot_id, sample_id, attribute) where voided_at is null;

-- +goose Down
select 'migrations only go forward';
