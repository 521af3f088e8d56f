-- +goose Up

-- The lowest and the highest of every twenty seconds of a probe: what a picture of many hours is drawn from. It is
-- made from the readings alone, with them, and is in no archive.
create table reading_parts (
  probe_id bigint not null,
  at timestamptz not null, -- where it begins
  low double precision not null,
  high double precision not null,
  primary key (probe_id, at)
);

-- +goose StatementBegin
create function part_new_readings() returns trigger language plpgsql as $$
begin
  insert into reading_parts as p (probe_id, at, low, high)
    select probe_id, date_bin('20 seconds', at, 'epoch'), min(c), max(c) from changed group by 1, 2 order by 1, 2
    on conflict (probe_id, at) do update set low = least(p.low, excluded.low), high = greatest(p.high, excluded.high);
  return null;
end $$;
-- +goose StatementEnd

-- +goose StatementBegin
create function part_gone_readings() returns trigger language plpgsql as $$
begin
  with touched as (select distinct probe_id, date_bin('20 seconds', at, 'epoch') as at from changed),
    left_over as (select t.probe_id, t.at, min(r.c) as low, max(r.c) as high from touched t left join readings r
      on r.probe_id = t.probe_id and r.at >= t.at and r.at < t.at + interval '20 seconds' group by 1, 2),
    gone as (delete from reading_parts p using left_over l where p.probe_id = l.probe_id and p.at = l.at and l.low is null)
  update reading_parts p set low = l.low, high = l.high from left_over l
    where p.probe_id = l.probe_id and p.at = l.at and l.low is not null and (p.low, p.high) <> (l.low, l.high);
  return null;
end $$;
-- +goose StatementEnd

create trigger part_new after insert on readings referencing new table as changed for each statement execute function part_new_readings();
create trigger part_gone after delete on readings referencing old table as changed for each statement execute function part_gone_readings();

insert into reading_parts (probe_id, at, low, high)
  select probe_id, date_bin('20 seconds', at, 'epoch'), min(c), max(c) from readings group by 1, 2;
