-- +goose Up

-- What the crew of a cook was told of. Times are of the cook's clock; an
-- alarm is open until its cause has gone, and quiet once somebody has seen it.
create table alarms (
  id bigint generated always as identity primary key,
  cook_id bigint not null references cooks,
  kind text not null,
  subject text not null, -- for instance 'cut 12'
  level text not null check (level in ('note', 'watch', 'alarm')),
  words text not null,
  raised_at timestamptz not null,
  over_at timestamptz,
  seen_at timestamptz,
  seen_by bigint references people,
  recorded_at timestamptz not null default now()
);
create unique index alarms_open on alarms (cook_id, kind, subject) where over_at is null;

-- What the worker remembers between two looks, so that another server goes on
-- from there.
create table alarm_states (
  cook_id bigint not null references cooks,
  kind text not null,
  subject text not null,
  since timestamptz,
  left_at timestamptz,
  raised boolean not null,
  level text not null,
  primary key (cook_id, kind, subject)
);

-- +goose Down
select 'migrations only go forward';
