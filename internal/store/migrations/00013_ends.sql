-- +goose Up

-- A trial that was only weighed and timed is ended, for there are no codes to open.
alter table trials add ended boolean not null default false;

-- +goose Down
select 'migrations only go forward';
