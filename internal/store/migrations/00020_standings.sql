-- +goose Up
-- What a pool's record amounts to, whatever the day: worked out when the record grows, and
-- stamped with the record's revision and with what else it was worked out by. A row whose
-- stamp is not today's is worked out again by whoever needs it.
create table standings (
  pool_id uuid primary key references pools on delete cascade,
  record_rev bigint not null,
  basis text not null,
  kept json not null,
  -- For lists: as of worked_at, moved on each night.
  load double precision, -- expected
  over_at timestamptz, -- even odds of having passed the limit
  seen_at timestamptz, -- last visit
  open_suspect text not null default '',
  danger text not null default '', -- work that keeps the pump off
  worked_at timestamptz not null
);
create index standings_load on standings (load);
create index standings_load_down on standings (load desc nulls last);
create index standings_over on standings (over_at);
create index standings_over_down on standings (over_at desc nulls last);
create index standings_seen on standings (seen_at);
create index standings_seen_down on standings (seen_at desc nulls last);
insert into standings (pool_id, record_rev, basis, kept, worked_at) select id, -1, '', '{}', now() from pools;
create index visit_moves_technician on visit_moves (technician_id, moved_to) where technician_id is not null;
create index pools_nobodys on pools (id) where technician_id is null and archived_at is null;
create index standings_open on standings (pool_id) where open_suspect <> '';
create index standings_danger on standings (pool_id) where danger <> '';

-- A pool's record grows, and the transaction knows which did: fairlap.grown lists them until
-- it ends, as far as they are few.
-- +goose StatementBegin
create function note_grown(pool uuid) returns void language plpgsql as $$
declare
  grown text := coalesce(current_setting('fairlap.grown', true), '');
begin
  if length(grown) < 4000 then
    perform set_config('fairlap.grown', grown || pool || ' ', true);
  end if;
end
$$;
create function pool_grew() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then -- every pool has a row, though nothing was worked out yet
    insert into standings (pool_id, record_rev, basis, kept, worked_at) values (new.id, -1, '', '{}', now()) on conflict do nothing;
  end if;
  perform note_grown(new.id);
  return null;
end
$$;
-- +goose StatementEnd
create trigger pools_grew after update of record_rev on pools for each row
  when (old.record_rev is distinct from new.record_rev) execute function pool_grew();

-- When it came on record and its own choices are part of what a pool's record amounts to.
-- +goose StatementBegin
create function pool_chosen() returns trigger language plpgsql as $$
begin
  new.record_rev := new.record_rev + 1;
  perform note_grown(new.id);
  return new;
end
$$;
-- +goose StatementEnd
create trigger pools_chosen before update of on_record_since, cleaning on pools for each row
  when (old.on_record_since is distinct from new.on_record_since or old.cleaning is distinct from new.cleaning)
  execute function pool_chosen();
create trigger pools_begun after insert on pools for each row execute function pool_grew();

-- Words anywhere in what a pool, its customer and its parts are called; the space in front
-- lets the first word begin like any other.
create extension if not exists pg_trgm;
create index pools_letters on pools using gin ((' ' || street || ' ' || which || ' ' || town) gin_trgm_ops);
create index customers_letters on customers using gin ((' ' || name || ' ' || phone) gin_trgm_ops);
create index equipment_letters on equipment using gin ((' ' || kind || ' ' || replace(kind, '-', ' ') || ' ' || model || ' ' || serial) gin_trgm_ops) where removed_on is null;

-- The causes that were settled, and the corrections that undo one.
create index visits_settled on visits (closed_at desc) where confirmed <> '' and confirmed not like 'open:%';
create index visits_causes on visits (confirmed) where engine_version <> '';

-- +goose Down
drop index visits_causes;
drop index visits_settled;
drop index equipment_letters;
drop index customers_letters;
drop index pools_letters;
drop trigger pools_begun on pools;
drop trigger pools_chosen on pools;
drop function pool_chosen();
drop trigger pools_grew on pools;
drop function pool_grew();
drop function note_grown(uuid);
drop index pools_nobodys;
drop index visit_moves_technician;
drop table standings;
