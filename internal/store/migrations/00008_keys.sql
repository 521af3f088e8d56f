-- +goose Up

-- What a factor is to the rules; empty is a thing of the team's own.
alter table catalogue_factors add column role text not null default '';
insert into catalogue_factors (name, kind, unit, set_on, own)
select 'pull', 'numeric', 'F', 'cut', false where not exists (select from catalogue_factors where lower(name) = 'pull');
update catalogue_factors f set role = v.role from (values
  ('smoker set-up', 'smoker_set_up'), ('water pan', 'water_pan'), ('pit temperature', 'pit_temperature'), ('fuel', 'fuel'), ('lighting', 'lighting'),
  ('wood', 'wood'), ('wood form', 'wood_form'), ('wood amount', 'wood_amount'), ('wrap', 'wrap'), ('wrap when', 'wrap_when'), ('wrap liquid', 'wrap_liquid'),
  ('spritz', 'spritz'), ('mop or baste', 'mop'), ('injection', 'injection'), ('wet brine', 'wet_brine'), ('dry brine', 'dry_brine'), ('rub', 'rub'),
  ('binder', 'binder'), ('trim', 'trim'), ('membrane', 'membrane'), ('skin treatment', 'skin'), ('shape', 'shape'), ('fat side', 'fat_side'),
  ('slicing', 'slicing'), ('finish', 'finish'), ('pull', 'pull_temperature'), ('hold temperature', 'hold_temperature'), ('hold time', 'hold_time'),
  ('holder', 'holder'), ('rest time', 'rest_time'), ('sear or crisping', 'crisping'), ('sauce', 'sauce'), ('serving age', 'serving_age')
) v (name, role) where lower(f.name) = v.name;

-- What the rules take a level for; empty is the team's own.
alter table catalogue_levels add column key text not null default '';
alter table catalogue_levels add column merged_into bigint references catalogue_levels;
update catalogue_levels l set key = v.key from catalogue_factors f, (values
  ('wrap', 'none', 'none'), ('wrap', 'paper', 'paper'), ('wrap', 'foil single', 'foil'), ('wrap', 'foil double', 'foil'), ('wrap', 'covered pan', 'pan'),
  ('wrap_when', 'at 150 F', 'reached'), ('wrap_when', 'at 165 F', 'reached'), ('wrap_when', 'after 4 h', 'reached'), ('wrap_when', 'when the bark is set', 'bark'),
  ('spritz', 'none', 'none'), ('spritz', 'every hour', 'hourly'), ('spritz', 'every 2 h', 'every'),
  ('finish', 'cook to feel', 'feel'), ('finish', 'cook to temperature', 'core'), ('finish', 'pull early and hold long', 'early')
) v (role, value, key) where f.id = l.factor_id and f.role = v.role and lower(l.value) = v.value;
update catalogue_levels l set key = 'none' from catalogue_factors f
where f.id = l.factor_id and lower(l.value) = 'none' and f.role in ('water_pan', 'wrap_liquid', 'mop', 'injection', 'wet_brine', 'dry_brine', 'binder', 'skin', 'crisping', 'sauce');

-- The levels of an arm are rows of the catalogue; the words it was asked with
-- stand beside them.
alter table arms add column level_ids bigint[] not null default '{}';
insert into catalogue_levels (factor_id, value, ordinal)
select distinct on (t.catalogue_id, lower(v.value)) t.catalogue_id, v.value, 1000
from arms a join trial_factors t on t.trial_id = a.trial_id and t.voided_at is null, unnest(a.levels) with ordinality v (value, n)
where v.n = t.ordinal and a.voided_at is null and v.value <> '' order by t.catalogue_id, lower(v.value), a.id
on conflict (factor_id, lower(value)) do nothing;
update arms a set level_ids = (
  select coalesce(array_agg(coalesce(l.id, 0) order by v.n), '{}') from unnest(a.levels) with ordinality v (value, n)
  left join trial_factors t on t.trial_id = a.trial_id and t.ordinal = v.n and t.voided_at is null
  left join catalogue_levels l on l.factor_id = t.catalogue_id and lower(l.value) = lower(v.value));
create index on arms using gin (level_ids);

-- Held lines get the role of the factor of exactly that name, and of the names the
-- barn itself wrote; the key of the level of exactly that value.
update trials t set held = (
  select coalesce(jsonb_agg(h.line || jsonb_build_object('role', coalesce(f.role, case lower(h.line->>'name') when 'salt' then 'dry_brine' end, ''),
    'key', coalesce((select l.key from catalogue_levels l where l.factor_id = f.id and lower(l.value) = lower(h.line->>'value')), '')) order by h.n), '[]')
  from jsonb_array_elements(t.held) with ordinality h (line, n)
  left join catalogue_factors f on lower(f.name) = lower(h.line->>'name'))
where jsonb_array_length(t.held) > 0;

-- Products are rows of the barn, with what they cook like: so far the cook model
-- went by what they were called.
create table products (
  id bigint generated always as identity primary key,
  name text not null,
  family text not null default '', -- of the cook model; empty is not said
  recorded_at timestamptz not null default now()
);
create unique index products_name on products (lower(name));
insert into products (name, family)
select p.name, coalesce((select key from cut_families c where retired_at is null and position(lower(c.family->>'name') in p.said) > 0 order by c.family->>'name' limit 1),
  (select w.key from (values
    (1, 'lamb', 'lambshoulder'), (2, 'brisket flat', 'brisketflat'), (3, 'brisket point', 'brisketpoint'), (4, 'brisket', 'brisket'), (5, 'chuck', 'chuck'),
    (6, 'back rib', 'babyback'), (7, 'baby back', 'babyback'), (8, 'beef rib roast', 'ribroast'), (9, 'rib roast', 'ribroast'), (10, 'short rib', 'plate'), (11, 'plate', 'plate'),
    (12, 'rib steak', 'ribsteak'), (13, 'steak', 'ribsteak'), (14, 'rib', 'spare'), (15, 'tri-tip', 'tritip'), (16, 'belly', 'belly'), (17, 'loin', 'loin'),
    (18, 'turkey breast', 'turkeybreast'), (19, 'turkey', 'turkey'), (20, 'breast', 'chbreast'), (21, 'drumstick', 'drumstick'), (22, 'thigh', 'chthigh'), (23, 'leg', 'chthigh'),
    (24, 'chicken', 'chicken'), (25, 'salmon', 'salmon'), (26, 'fish', 'salmon'), (27, 'sausage', 'sausage'), (28, 'shoulder', 'porkbutt'), (29, 'butt', 'porkbutt')
  ) w (n, says, key) where position(w.says in p.said) > 0 order by w.n limit 1), '')
from (select distinct on (lower(product)) product as name, lower(product || ' ' || cut) as said from trials order by lower(product), id) p;
alter table trials add column product_id bigint references products;
update trials t set product_id = p.id from products p where lower(p.name) = lower(t.product);

-- A pit of which nobody said what sort it is counts as any smoker.
update pits set kind = 'generic' where kind = '';
alter table pits alter column kind set default 'generic';

-- What cuts were wrapped in; what has no key stays in its words, as another wrap.
update events set detail = detail - 'with' || jsonb_build_object('wrap', v.key) from (values
  ('paper', 'paper'), ('butcher paper', 'paper'), ('foil', 'foil'), ('covered pan', 'pan'), ('foil boat', 'boat'), ('perforated paper', 'perfpaper')
) v (says, key) where act = 'wrap' and lower(detail->>'with') = v.says;
update events set detail = detail || '{"wrap": "other"}' where act = 'wrap' and detail ? 'with' and not detail ? 'wrap';

-- An act without a key is kept in its words.
update events set note = trim(act || ' ' || note), act = 'other'
where act not in ('lit', 'on', 'spritz', 'wrap', 'unwrap', 'wood', 'fuel', 'lid', 'vent', 'move', 'probe', 'note', 'pull', 'hold', 'carve', 'water', 'bark', 'spot', 'photo', 'other');

-- +goose Down
select 'migrations only go forward';
