-- +goose Up

-- A verdict is kept whole, with the rules and the house's evidence it was read by. Trials
-- that were settled before are read once by the rules of today, beside what was kept.
alter table verdicts add rules int not null default 1, add result jsonb, add house jsonb, add late boolean not null default false;
alter table verdict_versions add rules int not null default 1, add result jsonb, add house jsonb, add because text not null default 'the record changed';

-- What each cook of a settled trial showed of two levels that differ in nothing else.
create table contrasts (
  trial_id bigint not null references trials,
  first_level bigint not null,
  second_level bigint not null,
  key text not null,
  cook text not null,
  difference double precision not null,
  primary key (trial_id, first_level, second_level, key, cook)
);

-- What was planned at the first draw: units an arm, and cooks.
alter table trials add planned_units int, add planned_cooks int;

-- Of how many allotments an arm was drawn; 0 is not known.
alter table allotments add drawn_from int not null default 0;

-- Codes that were opened of one cook. A look that was named before anything was served is
-- the trial's one interim look.
create table looks (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  cook_id bigint not null references cooks,
  named_at timestamptz, -- before serving
  opened_at timestamptz,
  opened_by bigint references people,
  reason text not null default '',
  kind text not null default '' check (kind in ('', 'interim', 'other')),
  headline text not null default '',
  result jsonb,
  figures jsonb, -- what it showed of each pair of arms
  unique (trial_id, cook_id)
);

-- +goose Down
select 'migrations only go forward';
