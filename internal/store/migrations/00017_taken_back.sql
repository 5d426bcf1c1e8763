-- +goose Up
-- A visit that its maker took back within its minute: it stays on record and counts for nothing.
create table visits_taken_back (
  visit_id uuid primary key references visits,
  pool_id uuid not null references pools,
  made_by uuid not null references users,
  made_at timestamptz not null
);
create trigger visits_taken_back_append_only before update or delete on visits_taken_back for each row execute function refuse_change();
create trigger visits_taken_back_grew after insert on visits_taken_back referencing new table as grown for each statement execute function record_grew();

-- +goose Down
drop table visits_taken_back;
