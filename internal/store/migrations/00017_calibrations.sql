-- +goose Up

-- A covered pan of water in a holder, read by a probe while it warms. Saved, it says what a
-- dial gives; a holder has one pan in at a time.
create table calibrations (
  id bigint generated always as identity primary key,
  holder_id bigint not null references holders,
  probe_id bigint not null references probes,
  dial_c double precision not null,
  dial_typed text not null,
  target_c double precision not null,
  target_typed text not null,
  months int not null check (months between 1 and 60),
  put_in_at timestamptz not null,
  saved_at timestamptz,
  settles_c double precision,
  half_c double precision, -- the settling temperature is known to, 9 times in 10
  ripple_c double precision, -- peak to peak
  passes boolean,
  recorded_by bigint not null references people,
  recorded_at timestamptz not null default now(),
  voided_at timestamptz,
  voided_by bigint references people,
  void_reason text not null default '',
  check (num_nonnulls(saved_at, settles_c, half_c, ripple_c, passes) in (0, 5))
);
create unique index calibrations_open on calibrations (holder_id) where saved_at is null and voided_at is null;
create index on calibrations (holder_id);

-- The lowest a holder's dial goes to.
alter table holders add lowest_c double precision, add lowest_typed text not null default '';

-- +goose Down
select 'migrations only go forward';
