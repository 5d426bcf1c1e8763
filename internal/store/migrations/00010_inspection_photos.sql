-- +goose Up
-- A picture may belong to an inspection, and show one thing that was looked at there.
alter table photos
  add column inspection_id uuid references inspections,
  add column item text not null default '';
create index photos_inspection on photos (inspection_id) where inspection_id is not null;

-- +goose Down
alter table photos drop column inspection_id, drop column item;
