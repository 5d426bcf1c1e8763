-- +goose Up
-- What was settled at visits beside what had been shown, for the track record: one narrow row
-- a visit, as long as it counts (nobody corrected it or took it back).
create table outcomes (
  visit_id uuid primary key references visits on delete cascade,
  closed_at timestamptz not null,
  was text not null,
  faults text[] not null, -- as they were shown, falling
  odds double precision[] not null
);
create index outcomes_closed on outcomes (closed_at desc);

-- How many visits that count were judged, by what they settled; in shards, so that nobody
-- waits for another.
create table visit_counts (
  shard smallint not null,
  confirmed text not null,
  n bigint not null,
  primary key (shard, confirmed)
);

-- +goose StatementBegin
create function shard_of(pool uuid) returns smallint language sql immutable as $$ select (hashtext(pool::text) & 15)::smallint $$;

create function visits_counted() returns trigger language plpgsql as $$
begin
  insert into outcomes (visit_id, closed_at, was, faults, odds)
    select g.id, g.closed_at, g.confirmed, array_agg(s.value->>'id' order by s.n), array_agg((s.value->>'p')::double precision order by s.n)
    from grown g, jsonb_array_elements(case when jsonb_typeof(g.diagnosis->'suspects') = 'array' then g.diagnosis->'suspects' else '[]' end) with ordinality s (value, n)
    where g.engine_version <> '' and g.confirmed <> '' and g.confirmed not like 'open:%'
    group by g.id, g.closed_at, g.confirmed;
  insert into visit_counts as c (shard, confirmed, n)
    select shard_of(pool_id), confirmed, count(*) from grown where engine_version <> '' group by 1, 2 order by 1, 2
    on conflict (shard, confirmed) do update set n = c.n + excluded.n;
  delete from outcomes where visit_id in (select corrects_id from grown);
  update visit_counts c set n = c.n - v.n
    from (select shard_of(v.pool_id) as shard, v.confirmed, count(*) as n from visits v join grown g on g.corrects_id = v.id where v.engine_version <> '' group by 1, 2) v
    where c.shard = v.shard and c.confirmed = v.confirmed;
  return null;
end
$$;

create function visits_uncounted() returns trigger language plpgsql as $$
begin
  delete from outcomes where visit_id in (select visit_id from grown);
  update visit_counts c set n = c.n - v.n
    from (select shard_of(v.pool_id) as shard, v.confirmed, count(*) as n from visits v join grown g on g.visit_id = v.id where v.engine_version <> '' group by 1, 2) v
    where c.shard = v.shard and c.confirmed = v.confirmed;
  return null;
end
$$;
-- +goose StatementEnd
create trigger visits_counted after insert on visits referencing new table as grown for each statement execute function visits_counted();
create trigger visits_uncounted after insert on visits_taken_back referencing new table as grown for each statement execute function visits_uncounted();

insert into outcomes (visit_id, closed_at, was, faults, odds)
  select v.id, v.closed_at, v.confirmed, array_agg(s.value->>'id' order by s.n), array_agg((s.value->>'p')::double precision order by s.n)
  from visits v, jsonb_array_elements(case when jsonb_typeof(v.diagnosis->'suspects') = 'array' then v.diagnosis->'suspects' else '[]' end) with ordinality s (value, n)
  where v.engine_version <> '' and v.confirmed <> '' and v.confirmed not like 'open:%'
    and not exists (select 1 from visits c where c.corrects_id = v.id) and not exists (select 1 from visits_taken_back b where b.visit_id = v.id)
  group by v.id, v.closed_at, v.confirmed;
insert into visit_counts (shard, confirmed, n)
  select shard_of(pool_id), confirmed, count(*) from visits v
  where engine_version <> '' and not exists (select 1 from visits c where c.corrects_id = v.id) and not exists (select 1 from visits_taken_back b where b.visit_id = v.id)
  group by 1, 2;
drop index visits_settled;
drop index visits_causes;

-- When the expected life of each part in place ends, by its own years or its kind's: as
-- upkeep.LifeEnds has it; halves go up, so numeric.
create table part_lives (kind text primary key, years double precision not null);
create table part_ends (equipment_id uuid primary key references equipment on delete cascade, ends_on date);
create index part_ends_on on part_ends (ends_on, equipment_id);
-- +goose StatementBegin
create function ends_on(installed date, own double precision, of_kind text) returns date language sql stable as $$
  select case when y.years > 0 then installed + round((y.years * 365.25)::numeric)::int end
  from (select coalesce(own, (select years from part_lives where kind = of_kind), 0) as years) y
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
create function lives_changed() returns trigger language plpgsql as $$
begin
  update part_ends p set ends_on = ends_on(e.installed_on, e.expected_years, e.kind) from equipment e
    where e.id = p.equipment_id and e.kind in (select kind from changed) and e.expected_years is null;
  return null;
end
$$;
-- +goose StatementEnd
create trigger equipment_placed after insert on equipment referencing new table as grown for each statement execute function part_placed();
create trigger equipment_moved after update on equipment referencing new table as grown for each statement execute function part_placed();
create trigger part_lives_set after insert on part_lives referencing new table as changed for each statement execute function lives_changed();
create trigger part_lives_reset after update on part_lives referencing new table as changed for each statement execute function lives_changed();
insert into part_ends (equipment_id, ends_on) select id, ends_on(installed_on, expected_years, kind) from equipment where removed_on is null;
create index equipment_placed on equipment (installed_on) where removed_on is null;

-- +goose Down
drop index equipment_placed;
drop trigger equipment_moved on equipment;
drop trigger equipment_placed on equipment;
drop table part_ends;
drop table part_lives;
drop function lives_changed();
drop function part_placed();
drop function ends_on(date, double precision, text);
create index visits_causes on visits (confirmed) where engine_version <> '';
create index visits_settled on visits (closed_at desc) where confirmed <> '' and confirmed not like 'open:%';
drop trigger visits_uncounted on visits_taken_back;
drop trigger visits_counted on visits;
drop function visits_uncounted();
drop function visits_counted();
drop function shard_of(uuid);
drop table visit_counts;
drop table outcomes;
