-- +goose Up

-- What can be varied: seeded, and the team's own. Retired ones are no longer
-- offered; a merged one counts as the other.
create table catalogue_factors (
  id bigint generated always as identity primary key,
  name text not null,
  kind text not null default 'categorical' check (kind in ('categorical', 'ordered', 'numeric')),
  unit text not null default '',
  set_on text not null default 'cut' check (set_on in ('cut', 'pit run', 'holder run', 'batch')),
  own boolean not null default true,
  merged_into bigint references catalogue_factors,
  retired_at timestamptz,
  recorded_at timestamptz not null default now()
);
create unique index catalogue_factors_name on catalogue_factors (lower(name));

create table catalogue_levels (
  id bigint generated always as identity primary key,
  factor_id bigint not null references catalogue_factors,
  value text not null,
  place int not null default 0,
  own boolean not null default true,
  retired_at timestamptz,
  recorded_at timestamptz not null default now()
);
create unique index catalogue_levels_value on catalogue_levels (factor_id, lower(value));

create table trial_factors (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  place int not null,
  catalogue_id bigint not null references catalogue_factors,
  name text not null, -- as it was asked with
  kind text not null,
  unit text not null,
  set_on text not null,
  voided_at timestamptz
);
create unique index trial_factors_place on trial_factors (trial_id, place) where voided_at is null;

alter table arms add column levels text[] not null default '{}';
alter table arms add column voided_at timestamptz;
alter table arms drop constraint arms_trial_id_place_key;
alter table arms drop constraint arms_trial_id_tag_key;

insert into catalogue_factors (name, kind, unit, set_on, own) values
  ('smoker set-up', 'categorical', '', 'pit run', false),
  ('water pan', 'categorical', '', 'pit run', false),
  ('pit temperature', 'numeric', 'F', 'pit run', false),
  ('fuel', 'categorical', '', 'pit run', false),
  ('lighting', 'categorical', '', 'pit run', false),
  ('wood', 'categorical', '', 'pit run', false),
  ('wood form', 'categorical', '', 'pit run', false),
  ('wood amount', 'ordered', '', 'pit run', false),
  ('wrap', 'categorical', '', 'cut', false),
  ('wrap when', 'ordered', '', 'cut', false),
  ('wrap liquid', 'categorical', '', 'cut', false),
  ('spritz', 'ordered', '', 'cut', false),
  ('mop or baste', 'categorical', '', 'cut', false),
  ('injection', 'categorical', '', 'cut', false),
  ('wet brine', 'ordered', '', 'batch', false),
  ('dry brine', 'ordered', '', 'cut', false),
  ('rub', 'categorical', '', 'cut', false),
  ('binder', 'categorical', '', 'cut', false),
  ('trim', 'ordered', '', 'cut', false),
  ('membrane', 'ordered', '', 'cut', false),
  ('skin treatment', 'categorical', '', 'cut', false),
  ('shape', 'categorical', '', 'cut', false),
  ('fat side', 'categorical', '', 'cut', false),
  ('slicing', 'categorical', '', 'cut', false),
  ('finish', 'categorical', '', 'cut', false),
  ('hold temperature', 'numeric', 'F', 'holder run', false),
  ('hold time', 'numeric', 'h', 'holder run', false),
  ('holder', 'categorical', '', 'holder run', false),
  ('rest time', 'numeric', 'min', 'cut', false),
  ('sear or crisping', 'categorical', '', 'cut', false),
  ('sauce', 'categorical', '', 'cut', false),
  ('serving age', 'numeric', 'h', 'cut', false);

insert into catalogue_levels (factor_id, value, place, own)
select f.id, l.value, l.place, false
from (values
  ('smoker set-up', array['direct', 'reverse flow', 'deflector', 'hanging', 'fan', 'natural draught', 'cabinet', 'drum', 'offset', 'kettle', 'pellet', 'brick']),
  ('water pan', array['none', 'water', 'sand', 'sand and water']),
  ('pit temperature', array['225', '250', '275', '300']),
  ('fuel', array['lump', 'briquette', 'splits', 'pellets', 'gas', 'electric']),
  ('lighting', array['from the top', 'from below', 'chimney']),
  ('wood', array['apricot', 'alder', 'hornbeam']),
  ('wood form', array['chunk', 'split', 'chips', 'pellets']),
  ('wood amount', array['one', 'two', 'four']),
  ('wrap', array['none', 'paper', 'foil single', 'foil double', 'covered pan']),
  ('wrap when', array['at 150 F', 'at 165 F', 'when the bark is set', 'after 4 h']),
  ('wrap liquid', array['none', 'water', 'whey', 'tallow']),
  ('spritz', array['none', 'every 2 h', 'every hour']),
  ('mop or baste', array['none', 'vinegar mop', 'fat']),
  ('injection', array['none', 'salt water', 'broth']),
  ('wet brine', array['none', '3 %', '5 %']),
  ('dry brine', array['none', '1 %, 24 h', '1.5 %, 24 h']),
  ('rub', array['salt and pepper', 'herb', 'paprika']),
  ('binder', array['none', 'mustard', 'oil']),
  ('trim', array['untouched', 'quarter inch', 'bare']),
  ('membrane', array['left', 'scored', 'removed']),
  ('skin treatment', array['none', 'a night uncovered', 'scored']),
  ('shape', array['whole', 'divided', 'butterflied', 'tied', 'flat']),
  ('fat side', array['up', 'down']),
  ('slicing', array['with the grain', 'against the grain']),
  ('finish', array['cook to feel', 'cook to temperature', 'pull early and hold long']),
  ('hold temperature', array['145', '150', '160']),
  ('hold time', array['1', '4', '9']),
  ('holder', array['warm box', 'cooler', 'oven']),
  ('rest time', array['15', '60', '90']),
  ('sear or crisping', array['none', 'torch', 'broiler', 'hot oil', 'direct coals']),
  ('sauce', array['none', 'at the table', 'glazed']),
  ('serving age', array['0', '24'])
) v (factor, levels) join catalogue_factors f on f.name = v.factor, unnest(v.levels) with ordinality l (value, place);

-- What trials were asked with before becomes part of the catalogue.
insert into catalogue_factors (name, set_on)
select distinct on (lower(t.factor)) t.factor, t.unit from trials t
where not exists (select from catalogue_factors f where lower(f.name) = lower(t.factor)) order by lower(t.factor), t.id;
insert into trial_factors (trial_id, place, catalogue_id, name, kind, unit, set_on)
select t.id, 1, f.id, t.factor, 'categorical', '', t.unit from trials t join catalogue_factors f on lower(f.name) = lower(t.factor);
update arms set levels = array[level];
insert into catalogue_levels (factor_id, value, place)
select distinct on (f.catalogue_id, lower(a.level)) f.catalogue_id, a.level, 1000 + a.place from arms a join trial_factors f on f.trial_id = a.trial_id
where not exists (select from catalogue_levels l where l.factor_id = f.catalogue_id and lower(l.value) = lower(a.level)) order by f.catalogue_id, lower(a.level), a.id;
alter table arms drop column level;
alter table trials drop column factor;
alter table trials drop column unit;

alter table trials add column contexts jsonb not null default '[]';
alter table trials add column hand jsonb not null default '{}';
alter table trials add column layout text not null default '';

alter table outcomes add column source text not null default '';
alter table outcomes add column own jsonb; -- name, unit, better, sd of a team's own measure

alter table cuts add column lot text not null default '';
alter table cuts add column grade text not null default '';
alter table cuts add column section text not null default '';
alter table cuts add column bone text not null default '' check (bone in ('', 'in', 'out'));
alter table cuts add column price_cents int check (price_cents >= 0);
alter table cuts add column parent_id bigint references cuts;
alter table cuts add column together boolean not null default false; -- parts that go into one arm, as one

-- The pieces of a trial: cuts that were not divided, and parts of those that
-- were. A column added to cuts later needs this view made anew.
create view pieces as
select c.* from cuts c where c.voided_at is null
  and not exists (select from cuts part where part.parent_id = c.id and part.voided_at is null);

alter table weighings drop constraint weighings_stage_check;
alter table weighings add constraint weighings_stage_check
  check (stage in ('bought', 'trimmed', 'prepped', 'off', 'rested', 'edible', 'trim kept', 'trim thrown'));

-- Thickness, fat cap and length in metres, the temperature in the fridge in C.
create table dimensions (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  kind text not null check (kind in ('thickness', 'fat_cap', 'length', 'cold')),
  value double precision not null,
  typed text not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references dimensions,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index dimensions_current on dimensions (cut_id, kind) where voided_at is null;

-- Values of outcomes that are typed for each cut.
create table measures (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  key text not null,
  value double precision not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references measures,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index measures_current on measures (cut_id, key) where voided_at is null;

-- Every draw of arms: what it held, what it could choose from, and its seed.
create table allotments (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  seed bigint not null,
  arms jsonb not null, -- arm by cut
  max_smd double precision not null,
  best_smd double precision not null,
  looked int not null,
  qualified int not null,
  all_seen boolean not null,
  drawn_by bigint not null references people,
  drawn_at timestamptz not null default now()
);
create index on allotments (trial_id);

-- Findings that are run with all the same, with the word given for it.
create table kept_findings (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  key text not null,
  text text not null,
  why text not null check (why <> ''),
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index kept_findings_current on kept_findings (trial_id, key) where voided_at is null;

alter table pits add column grate_columns int not null default 4 check (grate_columns between 1 and 12);
alter table pits add column grate_rows int not null default 3 check (grate_rows between 1 and 12);

-- +goose Down
select 'migrations only go forward';
