-- +goose Up

-- A live device has a token; only its hash is kept. One that lives by a cook's
-- clock (a rehearsal, a back-filled day) names the cook.
alter table devices
  add column token_hash bytea,
  add column cook_id bigint references cooks,
  add column last_sequence bigint not null default 0,
  add column last_seen_at timestamptz,
  add column skew_s double precision,
  add column refused bigint not null default 0,
  add column retired_at timestamptz,
  add column registered_by bigint references people;
create unique index devices_token on devices (token_hash) where token_hash is not null;

alter table probes add column measures text not null default 'temperature' check (measures in ('temperature', 'weight'));

-- received_at lets a browser that was cut off ask for what it missed.
alter table readings add column received_at timestamptz not null default now();
create index readings_received on readings using brin (received_at);

-- Where on a grate a pit's probe hangs; empty is the pit as a whole.
alter table probe_assignments add column position text not null default '';

create table scale_readings (
  probe_id bigint not null references probes,
  sequence bigint not null,
  at timestamptz not null,
  kg double precision not null,
  value double precision not null, -- as read
  unit text not null,
  received_at timestamptz not null default now(),
  primary key (probe_id, sequence)
);

-- What a device sent that could not be used, and why.
create table refused_readings (
  device_id bigint not null references devices,
  sequence bigint not null,
  channel text not null,
  text text not null,
  reason text not null,
  received_at timestamptz not null default now(),
  primary key (device_id, sequence)
);

-- A rehearsal is a copy of a trial, run on simulated time; nothing of it counts.
alter table trials add column rehearses_id bigint references trials;

-- A played cook has its devices simulated by the server itself, from the
-- start of its day on.
alter table cooks add column played boolean not null default false;
alter table cooks add column day_start timestamptz;

-- What the cook model's fit found of a finished cut; empty when it found nothing.
create table cut_guesses (
  cut_id bigint primary key references cuts,
  family text not null,
  guess double precision[] not null,
  recorded_at timestamptz not null default now()
);

-- Families of cuts that the barn added to the model's own.
create table cut_families (
  key text primary key,
  family jsonb not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  retired_at timestamptz
);

-- +goose Down
select 'migrations only go forward';
