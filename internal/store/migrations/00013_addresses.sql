-- +goose Up
-- A street may hold more than one pool: which says which one it is there, town is the rest
-- of the address.
alter table pools add column town text not null default '', add column which text not null default '';
alter table pools drop constraint pools_street_key;
create unique index pools_address on pools (street, which);

-- +goose Down
drop index pools_address;
alter table pools add constraint pools_street_key unique (street);
alter table pools drop column town, drop column which;
