-- +goose Up
-- Invoices and the credit notes that take them back: numbered in one row without gaps, and never changed.
create table invoices (
  kitchen_id uuid not null references kitchens,
  number     integer not null check (number > 0),
  order_id   uuid not null,
  credits    integer, -- the number of the invoice that this one takes back
  content    jsonb not null,
  at         timestamptz not null,
  person_id  uuid not null,
  primary key (kitchen_id, number),
  unique (kitchen_id, credits),
  foreign key (kitchen_id, order_id) references orders,
  foreign key (kitchen_id, credits) references invoices
);
create index invoices_order on invoices (kitchen_id, order_id);
alter table invoices enable row level security;
alter table invoices force row level security;
create policy own_kitchen on invoices using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on invoices to zestytin_app;
create trigger changed after insert on invoices for each statement execute function zt_changed('orders');
