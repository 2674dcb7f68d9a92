-- +goose Up
-- A customer that a seller has written down, with wishes that last, beside those that came in a file.
alter table customers
  alter column brought drop not null,
  add column free_from text[] not null default '{}',
  add column wishes    text[] not null default '{}',
  add column revision  integer not null default 1;
create index orders_customer on orders (kitchen_id, lower(customer));
