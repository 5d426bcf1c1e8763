-- +goose Up
-- A clean line that was called off counts for nothing from then on; it stays on record with the reason.
create table clean_lines_withdrawn (
  line_id uuid primary key references clean_lines,
  pool_id uuid not null references pools,
  reason text not null,
  made_by uuid not null references users,
  made_at timestamptz not null
);
create index clean_lines_withdrawn_pool on clean_lines_withdrawn (pool_id);
create trigger clean_lines_withdrawn_append_only before update or delete on clean_lines_withdrawn for each row execute function refuse_change();
create trigger clean_lines_withdrawn_grew after insert on clean_lines_withdrawn referencing new table as grown for each statement execute function record_grew();
-- What the readings of a visit amount to by the line in force after one was called off; the visit stays as it was.
create table visits_rejudged (
  visit_id uuid not null references visits,
  line_id uuid not null references clean_lines_withdrawn,
  pool_id uuid not null references pools,
  made_at timestamptz not null,
  load_mean double precision,
  load_sd double precision,
  after_mean double precision,
  after_sd double precision,
  load_unit double precision,
  primary key (visit_id, line_id)
);
create index visits_rejudged_pool on visits_rejudged (pool_id);
create trigger visits_rejudged_append_only before update or delete on visits_rejudged for each row execute function refuse_change();

-- +goose Down
drop table visits_rejudged;
drop table clean_lines_withdrawn;
