-- +goose Up
-- How a kitchen shows itself to its customers, in one place: who mail comes from and where replies go, what stands on invoices, quotes and labels, and its logo.
alter table kitchens
  add column sender         text not null default '' check (length(sender) <= 100),        -- empty: the kitchen's name
  add column reply_to       text not null default '' check (length(reply_to) <= 200),      -- empty: the owner's address
  add column tax_statement  text not null default '' check (length(tax_statement) <= 300),
  add column home_statement text not null default '' check (length(home_statement) <= 300);
alter table kitchens no force row level security;
alter table message_settings no force row level security;
update kitchens k set reply_to = s.reply_to from message_settings s where s.kitchen_id = k.id;
alter table kitchens force row level security;
alter table message_settings force row level security;
alter table message_settings drop column reply_to;
create trigger shown_changed after update of sender, reply_to, tax_statement, home_statement, customers_kept on kitchens
  for each statement execute function zt_changed('kitchen');

create table logos (
  kitchen_id uuid primary key references kitchens deferrable initially immediate,
  image      bytea not null, -- a PNG, encoded anew
  width      integer not null,
  height     integer not null,
  at         timestamptz not null
);
alter table logos enable row level security;
alter table logos force row level security;
create policy own_kitchen on logos using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on logos to zestytin_app;
create trigger changed after insert or update or delete on logos for each statement execute function zt_changed('kitchen');
