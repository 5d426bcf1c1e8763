-- +goose Up
-- What a pool, its customer and its parts in place are called, in one row: a word is looked for
-- in all of it at once, in small letters. The space in front lets the first word begin like any
-- other.
create table pool_letters (
  pool_id uuid primary key references pools on delete cascade,
  letters text not null
);
create index pool_letters_any on pool_letters using gin (letters gin_trgm_ops);
-- A part in place at a pool in care, with what lists of parts count and look in. ends_on is when
-- its expected life ends, by its own years or its kind's: as upkeep.LifeEnds has it.
drop trigger equipment_placed on equipment;
drop trigger equipment_moved on equipment;
drop function part_placed();
drop table part_ends;
create table placed_parts (
  equipment_id uuid primary key references equipment on delete cascade,
  pool_id uuid not null,
  kind text not null,
  installed_on date,
  ends_on date,
  cost_cents bigint,
  letters text not null -- of the part and of its pool
);
create index placed_parts_any on placed_parts using gin (letters gin_trgm_ops);
create index placed_parts_ends on placed_parts (ends_on, equipment_id);
create index placed_parts_ends_down on placed_parts (ends_on desc nulls last, equipment_id);
create index placed_parts_age on placed_parts (installed_on, equipment_id);
create index placed_parts_age_down on placed_parts (installed_on desc nulls last, equipment_id);
create index placed_parts_cost on placed_parts (cost_cents, equipment_id);
create index placed_parts_cost_down on placed_parts (cost_cents desc nulls last, equipment_id);
create index placed_parts_part on placed_parts (left(letters, 60), equipment_id);
create index placed_parts_pool on placed_parts (pool_id);
create index placed_parts_kind on placed_parts (kind);

-- +goose StatementBegin
create function letters_of(parts equipment) returns text language sql immutable as $$
  select lower(' ' || parts.kind || ' ' || replace(parts.kind, '-', ' ') || ' ' || parts.model || ' ' || parts.serial) -- a kind's id, or its words
$$;
create function letters_of(pool pools) returns text language sql immutable as $$
  select lower(' ' || pool.street || ' ' || pool.which || ' ' || pool.town)
$$;
-- Some pools' rows anew. Whoever changes one of a pool's names waits for whoever else does.
create function called(these uuid[]) returns void language plpgsql as $$
begin
  perform 1 from pools where id = any(these) order by id for no key update;
  insert into pool_letters (pool_id, letters)
    select p.id, letters_of(p) || coalesce(lower(' ' || c.name || ' ' || c.phone), '') ||
      coalesce((select string_agg(letters_of(e), '' order by e.id) from equipment e where e.pool_id = p.id and e.removed_on is null), '')
    from pools p left join customers c on c.id = p.customer_id where p.id = any(these)
    on conflict (pool_id) do update set letters = excluded.letters where pool_letters.letters <> excluded.letters;
  delete from placed_parts n using equipment e, pools p
    where n.pool_id = any(these) and e.id = n.equipment_id and p.id = e.pool_id and (e.removed_on is not null or p.archived_at is not null);
  insert into placed_parts (equipment_id, pool_id, kind, installed_on, ends_on, cost_cents, letters)
    select e.id, e.pool_id, e.kind, e.installed_on, ends_on(e.installed_on, e.expected_years, e.kind), e.cost_cents, letters_of(e) || letters_of(p)
    from equipment e join pools p on p.id = e.pool_id where e.pool_id = any(these) and e.removed_on is null and p.archived_at is null
    on conflict (equipment_id) do update set (pool_id, kind, installed_on, ends_on, cost_cents, letters) = row(excluded.pool_id, excluded.kind, excluded.installed_on, excluded.ends_on, excluded.cost_cents, excluded.letters)
      where (placed_parts.pool_id, placed_parts.kind, placed_parts.installed_on, placed_parts.ends_on, placed_parts.cost_cents, placed_parts.letters)
        is distinct from (excluded.pool_id, excluded.kind, excluded.installed_on, excluded.ends_on, excluded.cost_cents, excluded.letters);
end
$$;
create function pools_called() returns trigger language plpgsql as $$
begin
  perform called(array(select id from grown));
  return null;
end
$$;
create function pool_called() returns trigger language plpgsql as $$
begin
  perform called(array[new.id]);
  return null;
end
$$;
create function customer_called() returns trigger language plpgsql as $$
begin
  perform called(array(select id from pools where customer_id = new.id));
  return null;
end
$$;
create function parts_called() returns trigger language plpgsql as $$
begin
  perform called(array(select pool_id from grown));
  return null;
end
$$;
create function parts_called_otherwise() returns trigger language plpgsql as $$
begin
  perform called(array(select pool_id from grown union select pool_id from was));
  return null;
end
$$;
create or replace function lives_changed() returns trigger language plpgsql as $$
begin
  update placed_parts p set ends_on = ends_on(e.installed_on, e.expected_years, e.kind) from equipment e
    where e.id = p.equipment_id and e.kind in (select kind from changed) and e.expected_years is null;
  return null;
end
$$;
-- All that is counted and named as the record grows, anew from the record. Nobody writes a visit
-- or a part meanwhile.
create function recount() returns void language plpgsql as $$
begin
  lock table visits, visits_taken_back, equipment, part_lives in share row exclusive mode;
  delete from outcomes;
  insert into outcomes (visit_id, closed_at, was, faults, odds)
    select v.id, v.closed_at, v.confirmed, array_agg(s.value->>'id' order by s.n), array_agg((s.value->>'p')::double precision order by s.n)
    from visits v, jsonb_array_elements(case when jsonb_typeof(v.diagnosis->'suspects') = 'array' then v.diagnosis->'suspects' else '[]' end) with ordinality s (value, n)
    where v.engine_version <> '' and v.confirmed <> '' and v.confirmed not like 'open:%'
      and not exists (select 1 from visits c where c.corrects_id = v.id) and not exists (select 1 from visits_taken_back b where b.visit_id = v.id)
    group by v.id, v.closed_at, v.confirmed;
  delete from visit_counts;
  insert into visit_counts (shard, confirmed, n)
    select shard_of(pool_id), confirmed, count(*) from visits v
    where engine_version <> '' and not exists (select 1 from visits c where c.corrects_id = v.id) and not exists (select 1 from visits_taken_back b where b.visit_id = v.id)
    group by 1, 2;
  delete from placed_parts;
  perform called(array(select id from pools));
end
$$;
-- +goose StatementEnd
create trigger pools_called after insert on pools referencing new table as grown for each statement execute function pools_called();
create trigger pools_called_otherwise after update of street, which, town, customer_id, archived_at on pools for each row
  when ((old.street, old.which, old.town, old.customer_id, old.archived_at) is distinct from (new.street, new.which, new.town, new.customer_id, new.archived_at))
  execute function pool_called();
create trigger customers_called_otherwise after update of name, phone on customers for each row
  when ((old.name, old.phone) is distinct from (new.name, new.phone)) execute function customer_called();
create trigger equipment_called after insert on equipment referencing new table as grown for each statement execute function parts_called();
create trigger equipment_called_otherwise after update on equipment referencing old table as was new table as grown for each statement execute function parts_called_otherwise();
select called(array(select id from pools));
drop index equipment_letters;
drop index customers_letters;
drop index pools_letters;
drop index equipment_placed;

-- Lists go to any page by an index alone.
create index pools_in_care on pools (street, which, id) where archived_at is null;
create index pools_archived on pools (id) where archived_at is not null;
drop index standings_load;
drop index standings_load_down;
drop index standings_over;
drop index standings_over_down;
drop index standings_seen;
drop index standings_seen_down;
create index standings_load on standings (load, pool_id);
create index standings_load_down on standings (load desc nulls last, pool_id);
create index standings_over on standings (over_at, pool_id);
create index standings_over_down on standings (over_at desc nulls last, pool_id);
create index standings_seen on standings (seen_at, pool_id);
create index standings_seen_down on standings (seen_at desc nulls last, pool_id);

-- +goose Down
drop index standings_seen_down;
drop index standings_seen;
drop index standings_over_down;
drop index standings_over;
drop index standings_load_down;
drop index standings_load;
create index standings_load on standings (load);
create index standings_load_down on standings (load desc nulls last);
create index standings_over on standings (over_at);
create index standings_over_down on standings (over_at desc nulls last);
create index standings_seen on standings (seen_at);
create index standings_seen_down on standings (seen_at desc nulls last);
drop index pools_archived;
drop index pools_in_care;
create index pools_letters on pools using gin ((' ' || street || ' ' || which || ' ' || town) gin_trgm_ops);
create index customers_letters on customers using gin ((' ' || name || ' ' || phone) gin_trgm_ops);
create index equipment_letters on equipment using gin ((' ' || kind || ' ' || replace(kind, '-', ' ') || ' ' || model || ' ' || serial) gin_trgm_ops) where removed_on is null;
create index equipment_placed on equipment (installed_on) where removed_on is null;
drop trigger equipment_called_otherwise on equipment;
drop trigger equipment_called on equipment;
drop trigger customers_called_otherwise on customers;
drop trigger pools_called_otherwise on pools;
drop trigger pools_called on pools;
drop function recount();
drop function parts_called_otherwise();
drop function parts_called();
drop function customer_called();
drop function pool_called();
drop function pools_called();
drop function called(uuid[]);
drop function letters_of(pools);
drop function letters_of(equipment);
drop table placed_parts;
drop table pool_letters;
create table part_ends (equipment_id uuid primary key references equipment on delete cascade, ends_on date);
create index part_ends_on on part_ends (ends_on, equipment_id);
-- +goose StatementBegin
create or replace function lives_changed() returns trigger language plpgsql as $$
begin
  update part_ends p set ends_on = ends_on(e.installed_on, e.expected_years, e.kind) from equipment e
    where e.id = p.equipment_id and e.kind in (select kind from changed) and e.expected_years is null;
  return null;
end
$$;
create function part_placed() returns trigger language plpgsql as $$
begin
  delete from part_ends where equipment_id in (select id from grown where removed_on is not null);
  insert into part_ends (equipment_id, ends_on)
    select id, ends_on(installed_on, expected_years, kind) from grown where removed_on is null
    on conflict (equipment_id) do update set ends_on = excluded.ends_on where part_ends.ends_on is distinct from excluded.ends_on;
  return null;
end
$$;
-- +goose StatementEnd
create trigger equipment_placed after insert on equipment referencing new table as grown for each statement execute function part_placed();
create trigger equipment_moved after update on equipment referencing new table as grown for each statement execute function part_placed();
insert into part_ends (equipment_id, ends_on) select id, ends_on(installed_on, expected_years, kind) from equipment where removed_on is null;
