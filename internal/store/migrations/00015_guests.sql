-- +goose Up

-- Guests' phones come in without a certificate, to their ballots alone, where the pitmaster says so.
alter table barn add guests boolean not null default false;

-- +goose Down
select 'migrations only go forward';
