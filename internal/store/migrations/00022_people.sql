-- +goose Up

-- Who has an account, what the crew is trusted with besides, and how each has numbers and
-- clocks shown. Somebody who was asked to come has no sign-in name until they come; who left
-- keeps their name in the record.
alter table people alter sign_in drop not null, alter password_hash set default '';
alter table people
  add trusts text[] not null default '{}' check (trusts <@ array['arms', 'pits', 'pantry']),
  add came_at timestamptz,
  add left_at timestamptz,
  add left_by bigint references people,
  add password_at timestamptz, -- when it was set last
  add signed_out_at timestamptz, -- of all devices: sessions from before it end
  add units jsonb not null default '{}';
update people set came_at = created_at, password_at = created_at where password_hash <> '';

-- Links by which somebody sets a password: when they come, or when they forgot it. The sum
-- of each alone is kept, and one of a person is open at a time.
create table entry_links (
  id bigint generated always as identity primary key,
  person_id bigint not null references people,
  token_hash bytea not null unique,
  made_by bigint references people,
  made_at timestamptz not null default now(),
  ends_at timestamptz not null,
  used_at timestamptz,
  voided_at timestamptz
);
create unique index entry_links_open on entry_links (person_id) where used_at is null and voided_at is null;

-- Keys of devices that let somebody in without a password.
create table passkeys (
  id bigint generated always as identity primary key,
  person_id bigint not null references people,
  name text not null,
  host text not null, -- that it is for
  credential_id bytea not null unique,
  credential jsonb not null,
  made_at timestamptz not null default now(),
  used_at timestamptz,
  voided_at timestamptz
);
create index on passkeys (person_id) where voided_at is null;

-- Sessions are known by the sums of their tokens from now on: those of before end.
delete from sessions;

create index changes_at on changes (at);

-- +goose Down
select 'migrations only go forward';
