-- +goose Up
-- Lists of pools go along a street by its numbers: "9 Mill Hill" before "14 Mill Hill", and after "2 Fennel Walk". The
-- number comes first in some countries and last in others.
-- +goose StatementBegin
create function address_order(street text) returns text language sql immutable strict parallel safe as $$
  select lower(regexp_replace(street, '^\s*\d+\S*\s+|,?\s+\d+\S*\s*$', '')) || ' '
    || lpad(coalesce(substring(street from '^\s*(\d+)'), substring(street from '\s(\d+)\S*\s*$'), ''), 9, '0') || ' ' || street
$$;
-- +goose StatementEnd
drop index pools_in_care;
create index pools_in_care on pools (address_order(street), which, id) where archived_at is null;

-- +goose Down
drop index pools_in_care;
create index pools_in_care on pools (street, which, id) where archived_at is null;
drop function address_order(text);
