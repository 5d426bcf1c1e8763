-- +goose Up
-- What a customer reads on their papers: empty is as whoever opens them.
alter table customers add column lang text not null default '' check (lang in ('', 'en', 'es'));

-- +goose Down
alter table customers drop column lang;
