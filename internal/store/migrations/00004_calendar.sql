-- +goose Up
-- Addresses of calendar feeds. Only the secret's digest is kept: who reads the
-- database can't read the feed.
create table calendar_feeds (
  digest bytea primary key,
  user_id uuid not null references users,
  created_at timestamptz not null,
  revoked_at timestamptz
);
create unique index calendar_feeds_live on calendar_feeds (user_id) where revoked_at is null;

-- +goose Down
drop table calendar_feeds;
