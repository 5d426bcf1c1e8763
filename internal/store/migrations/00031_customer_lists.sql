-- +goose Up
-- Of a list with foreign columns: which is taken for what, what was fixed by hand, and what it brought, to be taken back.
alter table imports
  add column columns json not null default '[]',
  add column choices json not null default '{}',
  add column leave_out boolean not null default false,
  add column brought json not null default '{}',
  add column withdrawn_at timestamptz;
-- What a heading was taken for the last time.
create table import_headings (
  heading text primary key,
  field text not null
);
-- A pool that is out of care holds its address no longer: what was taken back may come in again.
drop index pools_address;
create unique index pools_address on pools (street, which) where archived_at is null;
-- The code by which an empty database is set up, as a digest.
create table setup_code (
  id smallint primary key check (id = 1),
  digest text not null,
  made_at timestamptz not null
);

-- +goose Down
drop table setup_code;
drop index pools_address;
create unique index pools_address on pools (street, which);
drop table import_headings;
alter table imports drop column columns, drop column choices, drop column leave_out, drop column brought, drop column withdrawn_at;
