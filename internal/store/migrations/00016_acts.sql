-- +goose Up

-- Turning, flipping and rotating are acts of their own; what went into a wrap is a list.
update events set act = case detail->>'turn' when 'flipped' then 'flip' else 'rotate' end, detail = detail - 'turn'
where act = 'move' and detail->>'turn' in ('flipped', 'rotated');
update events set detail = detail - 'turn' where detail ? 'turn';
update events set detail = (detail - 'liquid' - 'amount' - 'amount_ml') || jsonb_build_object('parcel', jsonb_build_array(jsonb_build_object(
  'what', coalesce(nullif(detail->>'liquid', ''), 'liquid'), 'typed', coalesce(detail->>'amount', ''), 'g', coalesce((detail->>'amount_ml')::float8, 0), 'ml', coalesce((detail->>'amount_ml')::float8, 0))))
where act = 'wrap' and (detail ? 'liquid' or detail ? 'amount');

-- How a piece is cooked or crisped other than in a smoker, by the keys that a plan goes by.
update catalogue_levels l set key = v.key from catalogue_factors f, (values ('crisping', 'torch', 'torch'), ('crisping', 'broiler', 'broiler'), ('crisping', 'hot oil', 'oil'), ('crisping', 'direct coals', 'coals')) v (role, value, key)
where f.id = l.factor_id and f.role = v.role and lower(l.value) = v.value and l.key = '';
insert into catalogue_levels (factor_id, value, key, ordinal)
select f.id, v.value, v.key, v.n from catalogue_factors f, (values ('crisping', 'griddle', 'griddle', 5), ('crisping', 'hot oven', 'oven', 6),
  ('smoker_set_up', 'griddle', 'griddle', 20), ('smoker_set_up', 'open coals', 'coals', 21), ('smoker_set_up', 'hot oil', 'oil', 22), ('smoker_set_up', 'kitchen oven', 'oven', 23), ('smoker_set_up', 'broiler', 'broiler', 24)) v (role, value, key, n)
where f.role = v.role on conflict (factor_id, lower(value)) do update set key = excluded.key;

-- What a cut came apart into when it was weighed out; what was thrown away says why.
create table weigh_outs (
  id bigint generated always as identity primary key,
  cut_id bigint not null references cuts,
  share text not null,
  kg double precision not null check (kg > 0),
  typed text not null,
  resolution_kg double precision not null,
  resolution_typed text not null,
  why text not null default '',
  at timestamptz not null,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references weigh_outs,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index on weigh_outs (cut_id, share) where voided_at is null;

-- What was left in a pit when it was over: fuel, wood, water, the pan; by weight, by volume
-- or as a share of full, and what state it was in.
create table leftovers (
  id bigint generated always as identity primary key,
  pit_run_id bigint not null references pit_runs,
  what text not null check (what in ('fuel', 'wood', 'water', 'pan')),
  typed text not null,
  kg double precision,
  ml double precision,
  share double precision,
  state text not null default '',
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  supersedes bigint references leftovers,
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default ''
);
create unique index on leftovers (pit_run_id, what) where voided_at is null;

-- +goose Down
select 'migrations only go forward';
