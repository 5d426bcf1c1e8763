-- +goose Up
-- Where somebody is signed in, without anything that would sign one in.
create table sign_ins (
  id uuid primary key,
  user_id uuid not null references users on delete cascade,
  began_at timestamptz not null,
  seen_at timestamptz not null,
  ended_at timestamptz,
  device text not null
);
create index sign_ins_user on sign_ins (user_id, seen_at desc);

-- One-time links by which somebody chooses their password, by their digests.
create table invitations (
  digest bytea primary key,
  user_id uuid not null references users on delete cascade,
  made_by uuid references users, -- null: whoever keeps the server
  made_at timestamptz not null,
  until timestamptz not null,
  used_at timestamptz
);

-- The second step of signing in: an authenticator's key, and the last code that was taken.
alter table users
  add column step_key text not null default '',
  add column step_last bigint not null default 0;

-- +goose Down
alter table users drop column step_key, drop column step_last;
drop table invitations;
drop table sign_ins;
