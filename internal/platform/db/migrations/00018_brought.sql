-- +goose Up
-- Customers that a seller brought along, and what the own price list asks for a treat.
create table customers (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  brought    uuid not null, -- with which file
  name       text not null check (length(name) between 1 and 100),
  phone      text not null default '',
  mail       text not null default '',
  place      text not null default '',
  notes      text not null default '' check (length(notes) <= 1000),
  at         timestamptz not null,
  primary key (kitchen_id, id)
);
create index customers_name on customers (kitchen_id, lower(name));
alter table customers enable row level security;
alter table customers force row level security;
create policy own_kitchen on customers using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on customers to zestytin_app;
create trigger changed after insert or update or delete on customers for each statement execute function zt_changed('customers');
alter table treats
  add column list_price numeric check (list_price > 0),
  add column list_count integer check (list_count between 1 and 10000),
  add check ((list_price is null) = (list_count is null));
