-- +goose Up
-- What a visit left unlike daily use, why, and how the pad was then; null where nothing was, or nobody said.
alter table visits add column left_open jsonb;

-- +goose Down
alter table visits drop column left_open;
