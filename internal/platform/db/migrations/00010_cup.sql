-- +goose Up
-- What a bare cup is in recipes that are read: by the cup that the seller measures with.
alter table kitchens no force row level security;
alter table kitchens add column cup text not null default 'us' check (cup in ('us', 'metric', 'imperial'));
update kitchens set cup = 'metric' where units = 'metric';
alter table kitchens force row level security;
