-- +goose Up

-- A flight asks in one format. Nobody may carve it: then all is open, or its cups were
-- shuffled, and which cut lay in which is entered when they are turned over.
alter table flights
  add column format text not null default 'scores',
  add column bites int not null default 2 check (bites between 1 and 9),
  add column water_s int not null default 60 check (water_s between 0 and 900),
  add column second_look boolean not null default false,
  add column choice boolean not null default false,
  add column closed_at timestamptz,
  add column closed_by bigint references people,
  add column close_reason text not null default '',
  add column shuffled boolean not null default false,
  add column turned_at timestamptz,
  add column paused boolean not null default false,
  alter column carver_id drop not null;

-- How a sample is cut and dressed stands on the carver's key alone. One that looks like what
-- it is, is marked. A warm-up is not counted.
alter table samples
  add column carving text not null default '',
  add column by_sight boolean not null default false,
  add column warm_up boolean not null default false,
  add column plated_at timestamptz;

-- A taster is a person of the crew, a guest who is known again, or neither.
create table guests (
  id bigint generated always as identity primary key,
  name text not null,
  key_hash bytea not null unique,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz
);
alter table tasters
  add column person_id bigint references people,
  add column guest_id bigint references guests,
  add column consented_at timestamptz;
update tasters t set person_id = (select min(p.id) from people p where lower(p.name) = lower(t.name));
create unique index tasters_person on tasters (trial_id, person_id) where voided_at is null and person_id is not null;

-- A taster's page opens on one phone; it can be freed for another, with a reason.
create table taster_phones (
  id bigint generated always as identity primary key,
  taster_id bigint not null references tasters,
  key_hash bytea not null,
  agent text not null default '',
  address text not null default '',
  bound_at timestamptz not null default now(),
  freed_at timestamptz,
  freed_by bigint references people,
  why text not null default ''
);
create unique index taster_phones_current on taster_phones (taster_id) where freed_at is null;

-- Guests seat themselves by a code, while its door is open.
create table guest_doors (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  code text not null unique,
  opened_by bigint not null references people,
  opened_at timestamptz not null default now(),
  closed_at timestamptz
);
create unique index guest_doors_current on guest_doors (trial_id) where closed_at is null;

-- Open: the codes were known to the taster. What is said of the whole plate is kept in scores
-- of its samples (rank, picked), with the reason here; with that, or by the host, it ends.
alter table ballots
  add column open boolean not null default false,
  add column ended_at timestamptz,
  add column reason text not null default '',
  add column typed_by bigint references people;

-- Why a sample was left out, and by whom where not by its taster; from which phone it was
-- sealed, or who typed it in from paper.
alter table servings
  add column excuse text not null default '',
  add column excused_by bigint references people,
  add column phone_id bigint references taster_phones,
  add column typed_by bigint references people;

-- After the reveal a host may let tasters read what they scored against what it was.
alter table trials
  add column shared_at timestamptz,
  add column shared_by bigint references people,
  -- What tasters can tick of a sample, where the team has its own list.
  add column words text[] not null default '{}';

-- +goose Down
select 'migrations only go forward';
