-- +goose Up

-- How large the database was, each hour: what says when a disk will be full.
create table sizes (
  at timestamptz primary key default now(),
  bytes bigint not null
);

-- What lets a script in, in the name of who made it: its sum alone is kept.
create table script_tokens (
  id bigint generated always as identity primary key,
  name text not null,
  token_hash bytea not null unique,
  scope text not null check (scope in ('read', 'log', 'all')),
  person_id bigint not null references people,
  made_at timestamptz not null default now(),
  ends_at timestamptz,
  used_at timestamptz,
  voided_at timestamptz,
  voided_by bigint references people
);

-- What the columns of a source of log files measured last, and how it writes: offered again
-- for the next file of it.
create table log_sources (
  name text primary key,
  shape jsonb not null,
  kept_by bigint references people,
  kept_at timestamptz not null default now()
);

-- Raw readings are thinned only where the pitmaster asks for it: one in so many seconds is
-- kept of what is older than so many days.
alter table barn add thin_after_days int check (thin_after_days >= 30), add thin_to_s int check (thin_to_s between 10 and 240);

-- A cook that was written up from a notebook long after: never blind, never over leaning.
alter table trials add written_up boolean not null default false;

-- +goose Down
select 'migrations only go forward';
