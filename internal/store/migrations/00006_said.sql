-- +goose Up

-- What an act says besides that it was done: the fields of logbook.Detail.
alter table events add column detail jsonb not null default '{}';

create table photos (
  id bigint generated always as identity primary key,
  cook_id bigint not null references cooks,
  media text not null check (media in ('image/jpeg', 'image/png')),
  bytes bytea not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now()
);

-- Tasks put off, for every screen of the cook; the last word on a task counts.
create table postponed (
  id bigint generated always as identity primary key,
  cook_id bigint not null references cooks,
  task text not null, -- act, arm and pit
  until timestamptz not null, -- of the cook's clock
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now()
);
create index on postponed (cook_id);

-- What was forecast for a cut and when, to say later why it changed. Times are
-- of the cook's clock.
create table outlooks (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  at timestamptz not null,
  low timestamptz not null,
  middle timestamptz not null,
  high timestamptz not null,
  recorded_at timestamptz not null default now()
);
create index on outlooks (cut_id, at);

-- +goose Down
select 'migrations only go forward';
