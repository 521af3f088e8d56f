-- +goose Up

-- One word for each thing: a place is on the piece, a grate position where a cut
-- lies, a probe point on a pit. What only counts up is an ordinal.
alter table arms rename column place to ordinal;
alter table trial_factors rename column place to ordinal;
alter table outcomes rename column place to ordinal;
alter table catalogue_levels rename column place to ordinal;
alter table flights rename column place to number;
alter table holders rename column places to capacity;

alter table kept_findings rename to accepted_findings;
alter index kept_findings_current rename to accepted_findings_current;

alter table probe_assignments rename column position to point; -- on a pit: a grate position, the dial
alter table probe_assignments add column place text not null default ''; -- on a piece
update probe_assignments set place = point, point = '' where cut_id is not null;

-- What is looked for by its trial, cook, run or parent.
create index on arms (trial_id);
create index on cooks (trial_id);
create index on flights (trial_id);
create index on placements (cook_id);
create index on events (cook_id);
create index on events (pit_run_id);
create index on probe_assignments (probe_id);
create index on probe_assignments (cut_id);
create index on probe_assignments (pit_run_id);
create index on cuts (parent_id);
create index on cook_pit_runs (pit_run_id);
create index on cook_holder_runs (holder_run_id);
create index on tasters (trial_id);
create index on samples (cut_id);
create index on ballots (taster_id);

-- +goose Down
select 'migrations only go forward';
