-- +goose Up
-- Tries to sign in, by digests of account and address: when each may be tried at full again.
create table tries (
  key text primary key,
  full_at timestamptz not null
);
create index tries_full on tries (full_at);

-- +goose Down
drop table tries;
