-- +goose Up
-- Spreadsheets that are on their way in: on record from the first, so that any server can go
-- on with one. The file is kept until it is in.
create table imports (
  id uuid primary key,
  owner uuid not null references users,
  file text not null,
  content bytea,
  state text not null check (state in ('reading', 'read', 'writing', 'done', 'failed')),
  done integer not null default 0,
  total integer not null default 0,
  refused integer not null default 0,
  says text not null default '',
  tables json not null default '[]',
  began_at timestamptz not null, -- of this state
  seconds double precision not null default 0, -- that the last step took
  made_at timestamptz not null
);
create index imports_owner on imports (owner, made_at desc);
create table import_rows (
  import_id uuid not null references imports on delete cascade,
  n integer not null,
  outcome text not null,
  row json not null,
  primary key (import_id, n)
);
create index import_rows_outcome on import_rows (import_id, outcome, n);

-- +goose Down
drop table import_rows;
drop table imports;
