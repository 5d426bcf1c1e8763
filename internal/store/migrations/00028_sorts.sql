-- +goose Up
-- What lists of pools are sorted by and narrowed to, in narrow rows of their own: each night moves
-- them all on, and what a record amounts to is not written again for it.
create table pool_sorts (
  pool_id uuid primary key references pools on delete cascade,
  record_rev bigint not null,
  load double precision, -- expected
  over_at timestamptz, -- even odds of having passed the limit
  seen_at timestamptz, -- last visit
  open_suspect text not null default '',
  danger text not null default '', -- work that keeps the pump off
  worked_at timestamptz not null
) with (autovacuum_vacuum_scale_factor = 0.02);
insert into pool_sorts select pool_id, record_rev, load, over_at, seen_at, open_suspect, danger, worked_at from standings;
alter table standings drop column load, drop column over_at, drop column seen_at, drop column open_suspect, drop column danger, drop column worked_at;
create index pool_sorts_load on pool_sorts (load, pool_id);
create index pool_sorts_load_down on pool_sorts (load desc nulls last, pool_id);
create index pool_sorts_over on pool_sorts (over_at, pool_id);
create index pool_sorts_over_down on pool_sorts (over_at desc nulls last, pool_id);
create index pool_sorts_seen on pool_sorts (seen_at, pool_id);
create index pool_sorts_seen_down on pool_sorts (seen_at desc nulls last, pool_id);
create index pool_sorts_open on pool_sorts (pool_id) where open_suspect <> '';
create index pool_sorts_danger on pool_sorts (pool_id) where danger <> '';
-- +goose StatementBegin
create or replace function pool_grew() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then -- every pool has rows, though nothing was worked out yet
    insert into standings (pool_id, record_rev, basis, kept) values (new.id, -1, '', '{}') on conflict do nothing;
    insert into pool_sorts (pool_id, record_rev, worked_at) values (new.id, -1, now()) on conflict do nothing;
  end if;
  perform note_grown(new.id);
  return null;
end
$$;
-- +goose StatementEnd

-- +goose Down
alter table standings add column load double precision, add column over_at timestamptz, add column seen_at timestamptz,
  add column open_suspect text not null default '', add column danger text not null default '', add column worked_at timestamptz not null default now();
update standings s set load = p.load, over_at = p.over_at, seen_at = p.seen_at, open_suspect = p.open_suspect, danger = p.danger, worked_at = p.worked_at
  from pool_sorts p where p.pool_id = s.pool_id;
alter table standings alter column worked_at drop default;
drop table pool_sorts;
create index standings_load on standings (load, pool_id);
create index standings_load_down on standings (load desc nulls last, pool_id);
create index standings_over on standings (over_at, pool_id);
create index standings_over_down on standings (over_at desc nulls last, pool_id);
create index standings_seen on standings (seen_at, pool_id);
create index standings_seen_down on standings (seen_at desc nulls last, pool_id);
create index standings_open on standings (pool_id) where open_suspect <> '';
create index standings_danger on standings (pool_id) where danger <> '';
-- +goose StatementBegin
create or replace function pool_grew() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then -- every pool has a row, though nothing was worked out yet
    insert into standings (pool_id, record_rev, basis, kept, worked_at) values (new.id, -1, '', '{}', now()) on conflict do nothing;
  end if;
  perform note_grown(new.id);
  return null;
end
$$;
-- +goose StatementEnd
