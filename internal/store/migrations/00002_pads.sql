-- +goose Up
-- Why a pad's document was revised: a description that was mended keeps its clean
-- line, work on the plumbing ends it.
alter table plumbing add column reason text not null default 'description' check (reason in ('description', 'work'));
alter table plumbing add column note text not null default '';

-- What else a clean line said when it was taken.
alter table clean_lines add column content_hash text not null default '';

-- A company's own models beside the built-in ones. Pads hold copies, so changing
-- one here changes no pad.
create table catalogue_items (
  model text primary key,
  kind text not null check (kind in ('pump', 'filter', 'heater', 'cell')),
  item jsonb not null,
  imported_at timestamptz not null,
  imported_by uuid references users
);

-- +goose Down
drop table catalogue_items;
alter table clean_lines drop column content_hash;
alter table plumbing drop column note;
alter table plumbing drop column reason;
