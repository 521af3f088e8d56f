-- +goose Up

-- A trial of set-ups burns a pit without meat: each of its pit runs is a burn of one arm,
-- from when it is to be lit to when it is to be over.
alter table trials add kind text not null default '' check (kind in ('', 'set-ups'));
alter table pit_runs add arm_id bigint references arms;
create index on pit_runs (arm_id);

-- As what a pit is used, and what the burns of that set-up told; what the columns of a
-- logger measure in it; its vents; and how many of a piece it takes, by the way they are loaded.
alter table pits add used jsonb,
  add points jsonb not null default '{}',
  add vents text[] not null default '{}',
  add capacity jsonb not null default '[]';

-- +goose Down
select 'migrations only go forward';
