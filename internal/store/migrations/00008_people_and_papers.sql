-- +goose Up
-- Whose pools they are. What somebody asks to have erased is erased here; the
-- pool's own record stays.
create table customers (
  id uuid primary key,
  name text not null,
  phone text not null default '',
  email text not null default '',
  note text not null default '',
  version integer not null default 1,
  created_at timestamptz not null,
  erased_at timestamptz
);

-- A picture is kept by its content's digest, here or in a folder.
create table photo_contents (
  digest bytea primary key,
  content bytea not null
);
create table photos (
  id uuid primary key,
  pool_id uuid not null references pools,
  visit_id uuid references visits,
  caption text not null default '',
  width integer not null check (width > 0),
  height integer not null check (height > 0),
  digest bytea not null,
  taken_at timestamptz not null,
  made_by uuid not null references users,
  made_at timestamptz not null,
  gone_at timestamptz,
  gone_why text not null default ''
);
create index photos_pool on photos (pool_id, taken_at);
create index photos_digest on photos (digest);

alter table pools
  add column customer_id uuid references customers,
  add column in_ground boolean not null default true,
  add column photo_id uuid references photos deferrable initially deferred;
create index pools_customer on pools (customer_id);

-- What somebody wrote down between visits. Never changed.
create table notes (
  id uuid primary key,
  pool_id uuid not null references pools,
  text text not null check (text <> ''),
  made_by uuid not null references users,
  made_at timestamptz not null
);
create index notes_pool on notes (pool_id, made_at);
create trigger notes_append_only before update or delete on notes for each row execute function refuse_change();

-- A customer's way to look at their pool's papers. Only the secret's digest is kept.
create table pool_links (
  id uuid primary key,
  digest bytea not null unique,
  pool_id uuid not null references pools,
  made_by uuid not null references users,
  made_at timestamptz not null,
  expires_at timestamptz not null,
  revoked_at timestamptz
);
create index pool_links_pool on pool_links (pool_id);

-- Who changed what can be changed. A person's details are named, never quoted.
create table audit (
  id uuid primary key,
  at timestamptz not null,
  user_id uuid references users,
  act text not null,
  pool_id uuid references pools,
  says text not null
);
create index audit_at on audit (at desc, id desc);
create trigger audit_append_only before update or delete on audit for each row execute function refuse_change();

alter table company add column office jsonb not null default '{}';
alter table users add column password_at timestamptz not null default 'epoch';

-- Parts of parts: the grids in a filter, the ring on a pot.
alter table equipment add column part_of uuid references equipment deferrable initially deferred;
create index visits_technician on visits (technician_id);
create index equipment_events_part on equipment_events (equipment_id);

-- +goose Down
drop index equipment_events_part;
drop index visits_technician;
alter table equipment drop column part_of;
alter table users drop column password_at;
alter table company drop column office;
drop table audit;
drop table pool_links;
drop table notes;
alter table pools drop column customer_id, drop column in_ground, drop column photo_id;
drop table photos;
drop table photo_contents;
drop table customers;
