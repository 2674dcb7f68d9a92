-- +goose Up
-- Whether the cost that an order was promised at rests on prices that nobody had paid.
alter table orders add column estimated boolean not null default false;
