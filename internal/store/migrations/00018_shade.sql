-- +goose Up
-- The shade that somebody's pages are in: empty is as their device has it.
alter table users add column shade text not null default 'light' check (shade in ('', 'light', 'dark'));

-- +goose Down
alter table users drop column shade;
