-- +goose Up

-- What a crew planned of a trial: its arms as phases and doses, alike for all
-- its cooks. What it was before is in changes.
create table outlines (
  trial_id bigint primary key references trials,
  outline jsonb not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now()
);

-- What sort of smoker a pit is and what it burns; empty is to be guessed.
alter table pits add column kind text not null default '';
alter table pits add column burn jsonb not null default '{}';

alter table holders add column places int check (places between 1 and 200);
-- Which hold of a plan a run is for; a box holds for four hours and for nine.
alter table holder_runs add column setup text not null default '';

create table ingredients (
  id bigint generated always as identity primary key,
  name text not null,
  kind text not null check (kind in ('salt', 'spice', 'liquid', 'fat', 'wood', 'fuel', 'wrap', 'other')),
  price_cents int check (price_cents >= 0), -- of one pack
  pack_g double precision check (pack_g > 0),
  pack_typed text not null default '',
  density double precision check (density > 0), -- g/ml, as spooned
  salt_share double precision not null default 0 check (salt_share between 0 and 1),
  allergens text[] not null default '{}',
  recorded_by bigint references people,
  recorded_at timestamptz not null default now(),
  retired_at timestamptz
);
create unique index ingredients_name on ingredients (lower(name)) where retired_at is null;

create table recipes (
  id bigint generated always as identity primary key,
  name text not null,
  kind text not null check (kind in ('rub', 'binder', 'brine', 'injection', 'spritz', 'sauce')),
  lines jsonb not null, -- ingredient, grams, as typed
  recorded_by bigint references people,
  recorded_at timestamptz not null default now(),
  retired_at timestamptz
);
create unique index recipes_name on recipes (lower(name)) where retired_at is null;

-- A dose that was given to a cut, by whom.
create table prep_marks (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  dose text not null,
  at timestamptz not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index prep_marks_current on prep_marks (cut_id, dose) where voided_at is null;

-- Densities by the teaspoon of 4.93 ml: 6, 4.8 and 2.8 g.
insert into ingredients (name, kind, density, salt_share) values
  ('fine salt', 'salt', 1.217, 1),
  ('coarse dense salt', 'salt', 0.974, 1),
  ('coarse flaky salt', 'salt', 0.568, 1),
  ('water', 'liquid', 1, 0);

-- +goose Down
select 'migrations only go forward';
