-- +goose Up
-- What somebody reads: empty is as the company does.
alter table users add column lang text not null default '' check (lang in ('', 'en', 'es')), add column units text not null default '' check (units in ('', 'us', 'metric'));

-- +goose Down
alter table users drop column lang, drop column units;
