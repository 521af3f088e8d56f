-- +goose Up

-- The word and the sentence of a settled trial, as lists show them: kept when its
-- codes open, and not worked out at every look.
create table verdicts (
  trial_id bigint primary key references trials,
  word text not null, -- of the first pair on the first outcome that is judged; empty is none
  headline text not null,
  recorded_at timestamptz not null default now()
);
-- What a settled trial adds to the house's own spread of an outcome: sums of squares
-- and degrees of freedom, by the kind of unit, within blocks and without.
create table spreads (
  trial_id bigint not null references trials,
  kind text not null check (kind in ('cut', 'pit run', 'holder run', 'batch')),
  in_blocks boolean not null,
  key text not null, -- the outcome
  ss double precision not null,
  df double precision not null,
  primary key (trial_id, kind, in_blocks, key)
);

create index trials_listed on trials (created_at desc, id desc) where rehearses_id is null;
create index on trials (product_id) where revealed_at is not null;

-- +goose Down
select 'migrations only go forward';
