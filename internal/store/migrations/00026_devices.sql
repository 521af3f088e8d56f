-- +goose Up

-- What a device sent is known by its number, time and value together: one that starts its numbers anew loses nothing.
drop index readings_at;
drop index readings_live;
create unique index readings_at on readings
  (probe_id, at, coalesce(sequence, -1), (case when sequence is null then 0 else c end)) include (c);
create index readings_live on readings (probe_id, sequence) where sequence is not null;
alter table scale_readings drop constraint scale_readings_pkey, add primary key (probe_id, at, sequence, kg);

-- The last number is of its newest run; the highest is of all.
alter table devices
  add column highest_sequence bigint not null default 0,
  add column restarts int not null default 0,
  add column restarted_at timestamptz;
update devices set highest_sequence = last_sequence;

-- Readings without a number can be refused, too, and numbers come again.
alter table refused_readings drop constraint refused_readings_pkey, add column id bigint generated always as identity primary key;
create index on refused_readings (device_id, id);

-- +goose Down
select 'migrations only go forward';
