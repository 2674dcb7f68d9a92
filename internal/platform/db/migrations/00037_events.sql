-- +goose Up
-- Occasions for which several orders are made.
create table events (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  begins_at  timestamptz not null,
  content    jsonb not null, -- as core/event writes it
  revision   integer not null default 1,
  primary key (kitchen_id, id)
);
create index events_begin on events (kitchen_id, begins_at);
alter table events enable row level security;
alter table events force row level security;
create policy own_kitchen on events using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on events to zestytin_app;
create trigger changed after insert or update or delete on events for each statement execute function zt_changed('events');
alter table orders add column event_id uuid, add foreign key (kitchen_id, event_id) references events;
create index orders_event on orders (kitchen_id, event_id) where event_id is not null;
