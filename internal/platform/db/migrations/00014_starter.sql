-- +goose Up
-- What a kitchen reads: its clock, its dates and its degrees are settings of their own, first as its units suggest; its country proposed them. Where it is.
alter table kitchens no force row level security;
alter table kitchens
  add column country text not null default '' check (country ~ '^([A-Z]{2})?$'),
  add column clock   integer not null default 24 check (clock in (12, 24)),
  add column dates   text not null default 'dmy' check (dates in ('dmy', 'mdy', 'ymd')),
  add column degrees text not null default 'C' check (degrees in ('C', 'F')),
  add column address text not null default '' check (length(address) <= 300);
update kitchens set clock = 12, dates = 'mdy', degrees = 'F' where units = 'us';
alter table kitchens force row level security;

-- A price that nobody has typed: of the starting set. A receipt or a hand takes its place.
alter table ingredients add column estimated boolean not null default false;
alter table supplies add column estimated boolean not null default false;

-- What the starter made, so that it can be taken back: ids by kind, and what stood before in the settings.
create table starts (
  kitchen_id uuid primary key references kitchens,
  at         timestamptz not null,
  made       jsonb not null,
  before     jsonb not null
);
alter table starts enable row level security;
alter table starts force row level security;
create policy own_kitchen on starts using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on starts to zestytin_app;
