-- +goose Up
-- What is there is changed by the owner of the tables, whom row-level security binds as well while it is forced.
alter table kitchens no force row level security;
alter table plan_changes no force row level security;

-- Where things set and wait, and how many trays are there.
create table spots (
  kitchen_id uuid not null references kitchens on delete cascade,
  id         text not null check (id ~ '^[a-z0-9-]{1,40}$'),
  name       text not null check (name <> ''),
  celsius    double precision check (celsius between -40 and 40), -- null: as warm as the kitchen
  trays      integer not null check (trays between 0 and 500),
  n          integer not null, -- the order in which they are listed
  primary key (kitchen_id, id)
);
create unique index spots_name on spots (kitchen_id, lower(name));
insert into spots (kitchen_id, id, name, celsius, trays, n)
  select k.id, s.id, s.id, s.celsius, case s.id when 'fridge' then k.fridge when 'freezer' then k.freezer else k.counter end, s.n
  from kitchens k cross join (values ('fridge', 4, 0), ('freezer', -18, 1), ('counter', null, 2)) as s(id, celsius, n);

-- Older changes of the plan are undone with the spots as they were then.
update plan_changes set before = before - 'room' || jsonb_build_object('spots', jsonb_build_array(
    jsonb_build_object('id', 'fridge', 'name', 'fridge', 'celsius', 4, 'trays', coalesce((before #>> '{room,fridge}')::int, 0)),
    jsonb_build_object('id', 'freezer', 'name', 'freezer', 'celsius', -18, 'trays', coalesce((before #>> '{room,freezer}')::int, 0)),
    jsonb_build_object('id', 'counter', 'name', 'counter', 'trays', coalesce((before #>> '{room,counter}')::int, 0))))
  where before ? 'room';

alter table kitchens drop column fridge, drop column freezer, drop column counter;
alter table kitchens rename column room_revision to capacity_revision;

alter table spots enable row level security;
alter table spots force row level security;
create policy own_kitchen on spots using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on spots to zestytin_app;

alter table kitchens force row level security;
alter table plan_changes force row level security;
