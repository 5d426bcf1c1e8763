-- +goose Up
-- What a pool's day must meet, where it differs from what is usual.
alter table pools add column needs jsonb not null default '{}';

-- A reading of an installation. It may be written in until it is closed, never after.
create table inspections (
  id uuid primary key,
  pool_id uuid not null references pools,
  answers jsonb not null default '{}',
  findings jsonb not null default '[]',
  version integer not null default 1,
  started_at timestamptz not null,
  started_by uuid not null references users,
  closed_at timestamptz
);
create index inspections_pool on inspections (pool_id, started_at desc);

-- +goose StatementBegin
create function refuse_closed() returns trigger language plpgsql as $$
begin
  if old.closed_at is not null then
    raise exception 'a closed inspection is never changed; make a new one' using errcode = 'integrity_constraint_violation';
  end if;
  return new;
end
$$;
-- +goose StatementEnd
create trigger inspections_closed before update or delete on inspections for each row execute function refuse_closed();
create trigger inspections_grew after insert on inspections referencing new table as grown for each statement execute function record_grew();
create trigger inspections_changed after update on inspections referencing new table as grown for each statement execute function record_grew();

-- +goose Down
drop table inspections;
drop function refuse_closed();
alter table pools drop column needs;
