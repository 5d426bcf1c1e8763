-- +goose Up
alter table equipment
  add column serial text not null default '',
  add column warranty_until date,
  add column cost_cents bigint check (cost_cents >= 0);

-- What was done to a pool's parts, by date. Never changed.
create table equipment_events (
  id uuid primary key,
  pool_id uuid not null references pools,
  equipment_id uuid not null references equipment,
  replaces uuid references equipment,
  act text not null check (act in ('install', 'replace', 'repair', 'remove')),
  happened_on date not null,
  note text not null default '',
  cost_cents bigint check (cost_cents >= 0),
  made_by uuid not null references users,
  made_at timestamptz not null,
  check ((act = 'replace') = (replaces is not null))
);
create index equipment_events_pool on equipment_events (pool_id, happened_on);
create trigger equipment_events_append_only before update or delete on equipment_events for each row execute function refuse_change();

-- +goose Down
drop table equipment_events;
alter table equipment drop column serial, drop column warranty_until, drop column cost_cents;
