-- +goose Up
-- A guided run: the procedure as it was written out when it started, and what was
-- done, in order. Neither is ever changed.
create table runs (
  id uuid primary key,
  pool_id uuid not null references pools,
  stop_id uuid references stops,
  procedure text not null,
  script jsonb not null,
  started_by uuid not null references users,
  started_at timestamptz not null
);
create index runs_pool on runs (pool_id, started_at);
create index runs_stop on runs (stop_id);
create table run_events (
  run_id uuid not null references runs,
  seq integer not null check (seq > 0),
  id uuid not null unique,
  act text not null check (act in ('go', 'timer', 'note', 'back', 'leave', 'resume', 'end')),
  turn integer not null check (turn >= 0),
  step text not null default '',
  option text not null default '',
  reading jsonb,
  note text not null default '',
  doses boolean not null default false, -- chemicals went in
  at timestamptz not null,
  received_at timestamptz not null,
  made_by uuid not null references users,
  primary key (run_id, seq)
);
create trigger runs_append_only before update or delete on runs for each row execute function refuse_change();
create trigger run_events_append_only before update or delete on run_events for each row execute function refuse_change();

-- +goose StatementBegin
create function run_dosed() returns trigger language plpgsql as $$
begin
  update pools set record_rev = record_rev + 1 where id in (select pool_id from runs where id in (select run_id from grown where doses));
  return null;
end
$$;
-- +goose StatementEnd
create trigger run_events_dosed after insert on run_events referencing new table as grown for each statement execute function run_dosed();

-- +goose Down
drop table run_events;
drop table runs;
drop function run_dosed();
