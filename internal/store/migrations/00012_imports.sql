-- +goose Up

-- A log that was taken in wrongly can be taken back: its readings stay on record, and no
-- one reads them for a trace any more.
alter table imports add voided_at timestamptz, add voided_by bigint references people, add void_reason text not null default '';
create table voided_readings (
  probe_id bigint not null,
  at timestamptz not null,
  c double precision not null,
  value double precision not null,
  scale char(1) not null,
  import_id bigint not null references imports
);
create index on voided_readings (import_id);

-- +goose Down
select 'migrations only go forward';
