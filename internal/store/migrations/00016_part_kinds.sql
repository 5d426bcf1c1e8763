-- +goose Up
-- Kinds of parts are ids, not English: what people called them becomes the id that every
-- language has words for; a kind of somebody's own stays as they wrote it.
create table part_ids (was text primary key, id text not null);
insert into part_ids values ('Sand', 'sand'), ('Cartridge', 'cartridge'), ('Grids', 'grids'), ('Multiport gasket', 'multiport-gasket'), ('Filter tank', 'filter-tank'),
  ('Pump', 'pump'), ('Lid O-ring', 'lid-o-ring'), ('Tank gauge', 'tank-gauge'), ('Heater', 'heater'), ('Salt cell', 'salt-cell'), ('Zinc anode', 'zinc-anode'),
  ('Check valve', 'check-valve'), ('Flow switch', 'flow-switch'), ('Light', 'light'), ('Tank O-ring', 'tank-o-ring'), ('Timer', 'timer');
update equipment e set kind = p.id from part_ids p where e.kind = p.was;
alter table due_marks disable trigger due_marks_append_only;
update due_marks m set item = 'part:' || p.id from part_ids p where m.item = 'part:' || p.was;
alter table due_marks enable trigger due_marks_append_only;
update company set settings = jsonb_set(settings, '{partLives}', (
  select jsonb_object_agg(coalesce(p.id, l.key), l.value) from jsonb_each(settings -> 'partLives') l left join part_ids p on p.was = l.key))
  where jsonb_typeof(settings -> 'partLives') = 'object' and settings -> 'partLives' <> '{}';
drop table part_ids;

-- +goose Down
create table part_ids (was text primary key, id text not null);
insert into part_ids values ('Sand', 'sand'), ('Cartridge', 'cartridge'), ('Grids', 'grids'), ('Multiport gasket', 'multiport-gasket'), ('Filter tank', 'filter-tank'),
  ('Pump', 'pump'), ('Lid O-ring', 'lid-o-ring'), ('Tank gauge', 'tank-gauge'), ('Heater', 'heater'), ('Salt cell', 'salt-cell'), ('Zinc anode', 'zinc-anode'),
  ('Check valve', 'check-valve'), ('Flow switch', 'flow-switch'), ('Light', 'light'), ('Tank O-ring', 'tank-o-ring'), ('Timer', 'timer');
update equipment e set kind = p.was from part_ids p where e.kind = p.id;
alter table due_marks disable trigger due_marks_append_only;
update due_marks m set item = 'part:' || p.was from part_ids p where m.item = 'part:' || p.id;
alter table due_marks enable trigger due_marks_append_only;
update company set settings = jsonb_set(settings, '{partLives}', (
  select jsonb_object_agg(coalesce(p.was, l.key), l.value) from jsonb_each(settings -> 'partLives') l left join part_ids p on p.id = l.key))
  where jsonb_typeof(settings -> 'partLives') = 'object' and settings -> 'partLives' <> '{}';
drop table part_ids;
