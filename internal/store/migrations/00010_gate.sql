-- +goose Up

-- What meat it is was filled in by itself until now: it stays, and is asked once.
alter table trials
  add column whole_bird boolean not null default false,
  add column meat_confirmed_by bigint references people,
  add column meat_confirmed_at timestamptz,
  add column meat_why text not null default ''; -- a pitmaster's, for what the words of the product do not say
update trials t set whole_bird = true from products p where p.id = t.product_id and p.family in ('chicken', 'turkey');

-- What a cut went on the fire as: nothing that changes later makes it milder.
alter table cuts add column on_species text not null default '', add column on_handling text not null default '';
create or replace view pieces as
select c.* from cuts c where c.voided_at is null
  and not exists (select from cuts part where part.parent_id = c.id and part.voided_at is null);

-- When a flight was served, by its cook's clock; of earlier ones nobody knows.
alter table flights add column at timestamptz;

-- Served by a pitmaster's reason: the eaters are told.
alter table samples add column advised boolean not null default false;

-- Samples that must not be eaten any more, for good.
create table struck (
  sample_id bigint primary key references samples,
  why text not null,
  struck_at timestamptz not null default now()
);

-- A taster was told that a plate holds meat below the usual minimum, and said whether
-- it is one for them.
alter table ballots add column told_at timestamptz, add column susceptible boolean not null default false;

-- The barn's own lines of safety, each with who and why; the last one stands.
create table barn_lines (
  id bigint generated always as identity primary key,
  lines jsonb not null,
  why text not null,
  set_by bigint not null references people,
  set_at timestamptz not null default now()
);

-- What would open a gate that was shut waits here for a second hand to sign.
create table pending_changes (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  press uuid not null, -- what is to be voided or corrected
  event_id bigint references events, -- of it one event alone; null: all
  correction jsonb,    -- null: voided
  why text not null,
  asked_by bigint not null references people,
  asked_at timestamptz not null default now(),
  signed_by bigint references people,
  signed_at timestamptz,
  refused_by bigint references people,
  refused_at timestamptz
);
create index on pending_changes (trial_id) where signed_at is null and refused_at is null;
create unique index on pending_changes (press, coalesce(event_id, 0)) where signed_at is null and refused_at is null;

-- A final temperature by hand is a reading like any other, in the coldest place: it is
-- logged as one. What was taken over from a probe stands in the log already.
insert into events (act, at, note, detail, cut_id, press, recorded_by, recorded_at, voided_at, voided_by, void_reason)
select 'probe', least(f.at, coalesce((select min(e.at) from events e where e.cut_id = f.cut_id and e.act = 'carve' and e.voided_at is null), f.at)), '',
  jsonb_build_object('read', f.typed, 'c', f.c, 'place', 'coldest found'), f.cut_id, gen_random_uuid(), f.recorded_by, f.recorded_at, f.voided_at, f.voided_by, f.void_reason
from final_temperatures f where f.source = 'hand' order by f.id;
insert into changes (subject, subject_id, before, after, person_id, why)
select 'final temperature', f.id, to_jsonb(f), '{}', f.recorded_by, 'taken over from the log, which the gate reads itself' from final_temperatures f where f.source = 'probe' order by f.id;
drop table final_temperatures;

insert into catalogue_factors (name, kind, unit, set_on, own, role)
select 'tenderising', 'categorical', '', 'cut', false, 'tenderising' where not exists (select from catalogue_factors where lower(name) = 'tenderising');
update catalogue_factors set role = 'tenderising' where lower(name) = 'tenderising';
insert into catalogue_levels (factor_id, value, key, ordinal)
select f.id, v.value, v.key, v.n from catalogue_factors f, (values ('tenderising', 'none', 'none', 1), ('tenderising', 'by blades', '', 2),
  ('shape', 'boned and rolled', 'rolled', 6), ('shape', 'minced', 'minced', 7)) v (role, value, key, n) where f.role = v.role
on conflict (factor_id, lower(value)) do update set key = excluded.key;
update catalogue_levels l set key = 'whole' from catalogue_factors f
where f.id = l.factor_id and f.role = 'shape' and lower(l.value) in ('whole', 'divided', 'butterflied', 'tied', 'flat');

-- +goose Down
select 'migrations only go forward';
