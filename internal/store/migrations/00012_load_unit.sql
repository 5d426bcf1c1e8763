-- +goose Up
-- The resistance that was load 1 when a visit was judged: with another limit its loads
-- are read anew. Null are loads of the gauge's rise alone.
alter table visits add column load_unit double precision check (load_unit > 0);

-- +goose Down
alter table visits drop column load_unit;
