-- +goose Up
-- What all of an order is to suit: vegan, no alcohol.
alter table orders add column wishes text[] not null default '{}';
