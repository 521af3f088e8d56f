-- +goose Up

-- What was answered to changes that carry a number: one that is sent again changes nothing and gets the same answer.
-- It is kept for a week, and is in no archive.
create table requests (
  number uuid primary key,
  person_id bigint not null,
  trial_id bigint not null, -- 0: of the barn's own
  answer jsonb not null,
  made_at timestamptz not null default now()
);
create index on requests (made_at);
