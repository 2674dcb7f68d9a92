-- +goose Up
-- What is there is changed by the owner of the tables, whom row-level security binds as well while it is forced.
alter table batches no force row level security;

alter table kitchens
  -- Trays that the places hold, and minutes of washing down before work that must be free from something.
  add column fridge        integer not null default 6 check (fridge between 0 and 500),
  add column freezer       integer not null default 2 check (freezer between 0 and 500),
  add column counter       integer not null default 12 check (counter between 0 and 500),
  add column washdown      integer not null default 15 check (washdown between 0 and 240),
  add column room_revision integer not null default 1,
  add column plan_revision integer not null default 1, -- raised whenever a planned step changes
  add column feed          text unique check (length(feed) >= 26); -- secret of the calendar's link; null: there is none
create policy by_feed on kitchens for select using (feed = nullif(current_setting('zt.feed', true), ''));

-- How many moulds of a kind there are, where that is not what the formulas say.
create table moulds (
  kitchen_id uuid not null references kitchens,
  tool       text not null check (tool <> ''),
  count      integer not null check (count between 1 and 200),
  primary key (kitchen_id, tool)
);

alter table order_lines add column coating boolean not null default false; -- made in compound coating

alter table batches
  add column part     integer not null default 0, -- of its line, from 1; 0: the whole of it
  add column work     jsonb not null default '{}', -- what the planner must know: steps, keeps, fresh_from, contains
  add column short    jsonb,                       -- why it has no room in the plan; null: it has
  add column sequence integer not null default 1;  -- of its events in the calendar
update batches b set work = jsonb_build_object(
  'steps', (select jsonb_agg(s - 'name' - 'role' - 'amounts' - 'inAll' order by n) from jsonb_array_elements(b.sheet -> 'card' -> 'steps') with ordinality as each(s, n)),
  'keeps', (b.sheet #>> '{card,keeps}')::int * 60, 'fresh_from', b.sheet #> '{card,freshFrom}', 'contains', coalesce(b.sheet #> '{card,allergens}', '[]'))
  where jsonb_array_length(b.sheet -> 'card' -> 'steps') > 0;
alter table batches force row level security;

alter table batch_steps
  add column washdown integer not null default 0 check (washdown >= 0),
  add column pinned   boolean not null default false;

-- What a person changed in the plan, with what stood there before.
create table plan_changes (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  revision   integer not null, -- of the plan that it led to
  says       text not null,
  before     jsonb not null,
  at         timestamptz not null,
  person_id  uuid not null,
  primary key (kitchen_id, id)
);

-- Plans that are made in the background.
create table plan_runs (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  revision   integer not null, -- of the plan that it began from
  state      text not null check (state in ('running', 'ready', 'dropped', 'stopped', 'taken', 'failed')),
  done       integer not null default 0,
  total      integer not null,
  made       jsonb,            -- the plan
  zero       date,             -- of its minute 0
  says       text not null default '',
  at         timestamptz not null,
  beat       timestamptz not null, -- of the server that makes it
  person_id  uuid not null,
  primary key (kitchen_id, id)
);

-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['moulds', 'plan_changes', 'plan_runs'] loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
  end loop;
end $$;
-- +goose StatementEnd
