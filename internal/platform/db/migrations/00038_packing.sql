-- +goose Up
-- What of an order's pack list is ticked: its lines and its packaging, for whoever packs with somebody else.
create table pack_ticks (
  kitchen_id uuid not null references kitchens,
  order_id   uuid not null,
  what       text not null check (length(what) between 1 and 60),
  at         timestamptz not null,
  primary key (kitchen_id, order_id, what),
  foreign key (kitchen_id, order_id) references orders
);
alter table pack_ticks enable row level security;
alter table pack_ticks force row level security;
create policy own_kitchen on pack_ticks using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on pack_ticks to zestytin_app;
create trigger changed after insert or update or delete on pack_ticks for each statement execute function zt_changed('packing');
