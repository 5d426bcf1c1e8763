-- +goose Up
-- What somebody decided or did about due work. The due work itself follows from
-- the record; a decision is never changed, a later one counts instead.
create table due_marks (
  id uuid primary key,
  pool_id uuid not null references pools,
  item text not null,
  act text not null check (act in ('done', 'snooze', 'resume', 'cancel', 'override')),
  until timestamptz,
  reason text not null default '',
  made_by uuid not null references users,
  made_at timestamptz not null,
  check ((act = 'snooze') = (until is not null)),
  check (act not in ('cancel', 'override') or reason <> '')
);
create index due_marks_pool on due_marks (pool_id, made_at);
create trigger due_marks_append_only before update or delete on due_marks for each row execute function refuse_change();

-- +goose Down
drop table due_marks;
