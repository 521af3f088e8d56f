-- +goose Up

-- Changes that the verdict names: under the fire, and after the codes were opened.
create table noted_changes (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  noted_when text not null check (noted_when in ('under fire', 'after reveal')),
  what text not null,
  why text not null,
  changed_by bigint not null references people,
  changed_at timestamptz not null default now()
);
create index on noted_changes (trial_id);

-- What a verdict read at the reveal stands; what later changes make of it stands beside it.
create table verdict_versions (
  id bigint generated always as identity primary key,
  trial_id bigint not null references trials,
  word text not null,
  headline text not null,
  recorded_at timestamptz not null default now()
);
create index on verdict_versions (trial_id);

-- Two hands at once: each name, seat and number once.
update tasters t set seat = r.n from (select id, row_number() over (partition by trial_id order by seat, id)::int as n from tasters where voided_at is null) r
where r.id = t.id and t.seat <> r.n and t.trial_id in (select trial_id from tasters where voided_at is null group by trial_id, seat having count(*) > 1);
create unique index tasters_seat on tasters (trial_id, seat) where voided_at is null;
update flights f set number = r.n from (select id, row_number() over (partition by trial_id order by number, id)::int as n from flights where voided_at is null) r
where r.id = f.id and f.number <> r.n and f.trial_id in (select trial_id from flights where voided_at is null group by trial_id, number having count(*) > 1);
create unique index flights_number on flights (trial_id, number) where voided_at is null;

-- +goose Down
select 'migrations only go forward';
