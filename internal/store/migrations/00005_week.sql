-- +goose Up
-- Where a pool is, its place in its day's given order, its own choices on when to
-- clean, and how often its record grew (so that what follows from it can be kept).
alter table pools
  add column lon double precision check (lon between -180 and 180),
  add column lat double precision check (lat between -90 and 90),
  add column lap_order integer not null default 0,
  add column cleaning jsonb not null default '{}',
  add column record_rev bigint not null default 0,
  add check ((lon is null) = (lat is null));

-- A planned visit put on another day or into other hands. Never changed: the last
-- one of a planned day counts; one without a day takes it back.
create table visit_moves (
  id uuid primary key,
  pool_id uuid not null references pools,
  planned_on date not null,
  moved_to date,
  technician_id uuid references users,
  made_by uuid not null references users,
  made_at timestamptz not null,
  check (moved_to is not null or technician_id is null)
);
create index visit_moves_pool on visit_moves (pool_id, made_at);
create trigger visit_moves_append_only before update or delete on visit_moves for each row execute function refuse_change();

alter table due_marks drop constraint due_marks_act_check, drop constraint due_marks_check;
alter table due_marks add constraint due_marks_act_check check (act in ('done', 'snooze', 'plan', 'resume', 'cancel', 'override')),
  add constraint due_marks_check check ((act in ('snooze', 'plan')) = (until is not null));

-- What was timed at a visit, seconds.
alter table visits add column prime_s double precision check (prime_s > 0), add column drain_s double precision check (drain_s > 0);

alter table laps add column version integer not null default 1;
-- A stop taken off a lap stays findable: somebody may be standing there, typing.
alter table stops add column dropped_at timestamptz;
alter table stops drop constraint stops_lap_id_position_key;
alter table stops add constraint stops_lap_id_position_key exclude using btree (lap_id with =, position with =)
  where (dropped_at is null) deferrable initially deferred;

-- +goose StatementBegin
create function record_grew() returns trigger language plpgsql as $$
begin
  update pools set record_rev = record_rev + 1 where id in (select distinct pool_id from grown);
  return null;
end
$$;
-- +goose StatementEnd
create trigger visits_grew after insert on visits referencing new table as grown for each statement execute function record_grew();
create trigger plumbing_grew after insert on plumbing referencing new table as grown for each statement execute function record_grew();
create trigger clean_lines_grew after insert on clean_lines referencing new table as grown for each statement execute function record_grew();
create trigger due_marks_grew after insert on due_marks referencing new table as grown for each statement execute function record_grew();
create trigger visit_moves_grew after insert on visit_moves referencing new table as grown for each statement execute function record_grew();
create trigger equipment_grew after insert on equipment referencing new table as grown for each statement execute function record_grew();
create trigger equipment_changed after update on equipment referencing new table as grown for each statement execute function record_grew();

-- +goose Down
drop trigger equipment_changed on equipment;
drop trigger equipment_grew on equipment;
drop trigger due_marks_grew on due_marks;
drop trigger clean_lines_grew on clean_lines;
drop trigger plumbing_grew on plumbing;
drop trigger visits_grew on visits;
alter table stops drop constraint stops_lap_id_position_key;
delete from stops where dropped_at is not null and not exists (select 1 from visits where stop_id = stops.id);
update stops set position = 1000 + n from (select id as stop, row_number() over (order by id) as n from stops where dropped_at is not null) d where d.stop = id;
alter table stops drop column dropped_at;
alter table stops add constraint stops_lap_id_position_key unique (lap_id, position);
alter table laps drop column version;
alter table visits drop column prime_s, drop column drain_s;
alter table due_marks disable trigger due_marks_append_only;
delete from due_marks where act = 'plan';
alter table due_marks enable trigger due_marks_append_only;
alter table due_marks drop constraint due_marks_act_check, drop constraint due_marks_check;
alter table due_marks add constraint due_marks_act_check check (act in ('done', 'snooze', 'resume', 'cancel', 'override')),
  add constraint due_marks_check check ((act = 'snooze') = (until is not null));
drop table visit_moves;
drop function record_grew();
alter table pools drop column lon, drop column lat, drop column lap_order, drop column cleaning, drop column record_rev;
