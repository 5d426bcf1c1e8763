-- +goose Up
create table company (
  id smallint primary key default 1 check (id = 1),
  name text not null,
  time_zone text not null,
  settings jsonb not null default '{}',
  version integer not null default 1
);

create table users (
  id uuid primary key,
  login text not null unique check (login = lower(login)),
  name text not null,
  role text not null check (role in ('technician', 'office', 'owner')),
  password_hash text not null,
  active boolean not null default true,
  version integer not null default 1,
  created_at timestamptz not null default now()
);

create table sessions (
  token text primary key,
  data bytea not null,
  expiry timestamptz not null
);
create index sessions_expiry on sessions (expiry);

create table pools (
  id uuid primary key,
  street text not null unique,
  volume_m3 double precision not null check (volume_m3 > 0),
  surface text not null default '',
  access_note text not null default '',
  weekday smallint not null check (weekday between 0 and 6),
  technician_id uuid references users,
  base_minutes integer not null default 25 check (base_minutes > 0),
  on_record_since date not null,
  archived_at timestamptz,
  version integer not null default 1
);
create index pools_technician on pools (technician_id);

create table equipment (
  id uuid primary key,
  pool_id uuid not null references pools,
  kind text not null,
  model text not null,
  installed_on date,
  expected_years double precision,
  removed_on date
);
create index equipment_pool on equipment (pool_id);

-- The pad document: one row a revision, never changed.
create table plumbing (
  id uuid primary key,
  pool_id uuid not null references pools,
  revision integer not null,
  document jsonb not null,
  created_by uuid references users,
  created_at timestamptz not null,
  unique (pool_id, revision)
);

create table clean_lines (
  id uuid primary key,
  pool_id uuid not null references pools,
  taken_at timestamptz not null,
  note text not null default '',
  readings jsonb not null,
  created_by uuid references users
);
create index clean_lines_pool on clean_lines (pool_id, taken_at desc);

create table laps (
  id uuid primary key,
  technician_id uuid not null references users,
  day date not null,
  starts_at timestamptz not null,
  limit_minutes integer not null,
  unique (technician_id, day)
);

create table stops (
  id uuid primary key,
  lap_id uuid not null references laps,
  pool_id uuid not null references pools,
  position integer not null,
  minutes integer not null,
  planned_at timestamptz not null,
  unique (lap_id, position),
  unique (lap_id, pool_id)
);

-- A visit is written once, when it is closed. A correction is a new visit that
-- points back; the corrected one stays as it was.
create table visits (
  id uuid primary key,
  pool_id uuid not null references pools,
  stop_id uuid references stops,
  technician_id uuid not null references users,
  arrived_at timestamptz not null,
  closed_at timestamptz not null,
  corrects_id uuid unique references visits,
  note text not null default '',
  confirmed text not null default '',
  confirmed_how text not null default '',
  cleaned boolean not null default false,
  chemicals_at timestamptz,
  load_mean double precision,
  load_sd double precision,
  after_mean double precision,
  after_sd double precision,
  plumbing_id uuid not null references plumbing,
  clean_line_id uuid references clean_lines,
  engine_version text not null,
  diagnosis jsonb not null,
  content_hash text not null,
  recorded_at timestamptz not null default now()
);
create index visits_pool on visits (pool_id, closed_at desc);
create index visits_stop on visits (stop_id);

create table visit_readings (
  visit_id uuid not null references visits,
  seq smallint not null,
  phase text not null check (phase in ('found', 'after')),
  setting text not null,
  speed_rpm double precision not null,
  tank_pa double precision,
  vacuum_pa double precision,
  flow_m3s double precision,
  power_w double precision,
  primary key (visit_id, seq)
);

create table visit_signs (
  visit_id uuid not null references visits,
  sign text not null,
  yes boolean not null,
  primary key (visit_id, sign)
);

create table visit_works (
  visit_id uuid not null references visits,
  seq smallint not null,
  kind text not null,
  note text not null default '',
  primary key (visit_id, seq)
);

-- +goose StatementBegin
create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception 'a record in % is never changed; write a correction', tg_table_name
    using errcode = 'integrity_constraint_violation';
end
$$;
-- +goose StatementEnd

create trigger visits_append_only before update or delete on visits for each row execute function refuse_change();
create trigger visit_readings_append_only before update or delete on visit_readings for each row execute function refuse_change();
create trigger visit_signs_append_only before update or delete on visit_signs for each row execute function refuse_change();
create trigger visit_works_append_only before update or delete on visit_works for each row execute function refuse_change();
create trigger plumbing_append_only before update or delete on plumbing for each row execute function refuse_change();
create trigger clean_lines_append_only before update or delete on clean_lines for each row execute function refuse_change();

-- +goose Down
drop table visit_works, visit_signs, visit_readings, visits, stops, laps, clean_lines, plumbing, equipment, pools, sessions, users, company;
drop function refuse_change();
