-- +goose Up
-- What a pool was taken on as: another one under its id is told from the same again.
alter table pools add column made_hash text not null default '';

-- +goose Down
alter table pools drop column made_hash;
