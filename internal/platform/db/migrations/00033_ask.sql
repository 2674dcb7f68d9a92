-- +goose Up
-- The page on which customers ask for something, as the seller has set it up.
create table ask_pages (
  kitchen_id uuid primary key references kitchens,
  slug       text not null unique check (slug ~ '^[a-z0-9]([a-z0-9-]{1,58})[a-z0-9]$'),
  open       boolean not null default false,
  hello      text not null default '' check (length(hello) <= 1000),
  notice     integer not null default 3 check (notice between 0 and 60),   -- days from today on that are not offered
  weekdays   integer[] not null default '{0,1,2,3,4,5,6}',                  -- on which one hands over, 0 is Sunday
  from_time  integer not null default 960 check (from_time between 0 and 1439), -- minute of the day
  to_time    integer not null default 1080 check (to_time between 1 and 1440),
  delivers   boolean not null default false,
  hidden     uuid[] not null default '{}',                                  -- treats that are not shown
  revision   integer not null default 1,
  check (to_time > from_time)
);
-- The days on which something can be made, as the planner said, while the plan stays as it is.
create table ask_days (
  kitchen_id uuid not null references kitchens,
  asked      text not null, -- what for: a hash
  days       date[] not null,
  at         timestamptz not null,
  primary key (kitchen_id, asked)
);
-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['ask_pages', 'ask_days'] loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
  end loop;
end $$;
-- +goose StatementEnd
create policy by_slug on ask_pages for select using (open and slug = nullif(current_setting('zt.ask', true), ''));
create trigger changed after insert or update on ask_pages for each statement execute function zt_changed('kitchen');
-- An order that a customer has asked for there.
alter table orders add column asked_at timestamptz;
