-- +goose Up
-- The drives of a day as somebody has settled them: the rest follows from its orders. A time of leaving belongs to the drive that has the order.
create table drives (
  kitchen_id uuid not null references kitchens,
  day        date not null,
  revision   integer not null default 1,
  sequence   uuid[] not null default '{}', -- of one's own; empty: the best
  leaves     jsonb not null default '{}',  -- minute of the day, by order
  doors      jsonb not null default '{}',  -- minutes at the door, by order
  stays      boolean,                      -- somebody must be at home for pickups; null: where one person works that day
  hand       integer not null default 0 check (hand between 0 and 8),
  warmest    double precision check (warmest between -40 and 60), -- C, where somebody knows better than the forecast
  planned    boolean not null default false,
  primary key (kitchen_id, day)
);
-- What became of a drop.
create table drops (
  kitchen_id uuid not null references kitchens,
  order_id   uuid not null,
  day        date not null,
  outcome    text not null check (outcome in ('handed over', 'in part', 'nobody there', 'brought back')),
  note       text not null default '' check (length(note) <= 500),
  at         timestamptz not null,
  person_id  uuid not null,
  primary key (kitchen_id, order_id),
  foreign key (kitchen_id, order_id) references orders
);
-- Where an address is, as somebody has said, and how long the way from one to another takes.
create table positions (
  kitchen_id uuid not null references kitchens,
  address    text not null check (length(address) between 1 and 300),
  lat        double precision not null check (lat between -90 and 90),
  lon        double precision not null check (lon between -180 and 180),
  primary key (kitchen_id, address)
);
create table legs (
  kitchen_id uuid not null references kitchens,
  from_place text not null check (length(from_place) between 1 and 300),
  to_place   text not null check (length(to_place) between 1 and 300),
  minutes    integer not null check (minutes between 0 and 600),
  primary key (kitchen_id, from_place, to_place)
);
-- Time of a person that the plan leaves alone: somebody is on the road.
create table errands (
  kitchen_id uuid not null references kitchens,
  day        date not null,
  start      integer not null check (start between 0 and 1439), -- minute of the day
  minutes    integer not null check (minutes between 1 and 1440),
  hand       integer not null check (hand between 0 and 8),
  orders     uuid[] not null,
  primary key (kitchen_id, day, start)
);
-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['drives', 'drops', 'positions', 'legs', 'errands'] loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
    execute format('create trigger changed after insert or update or delete on %I for each statement execute function zt_changed(%L)', t,
      case t when 'errands' then 'plan' else 'drives' end);
  end loop;
end $$;
-- +goose StatementEnd
-- An order that is delivered is to be ready when its drive leaves, not when its window opens.
alter table orders add column leaves_at timestamptz;
create or replace function batch_for(kitchen uuid, batch uuid) returns jsonb language sql stable as $$
  select jsonb_agg(jsonb_build_object('order', o.id, 'number', o.number, 'customer', o.customer, 'state', o.state,
    'ready', least(o.from_at, o.leaves_at),
    'freeFrom', o.free_from || l.free_from,
    'count', s.count, 'line', s.position, 'part', s.part, 'again', s.again, 'treat', l.treat_id, 'version', l.treat_version, 'coating', l.coating, 'note', l.note)
    order by least(o.from_at, o.leaves_at), o.number)
  from batch_shares s join orders o on o.kitchen_id = s.kitchen_id and o.id = s.order_id
    join order_lines l on l.kitchen_id = s.kitchen_id and l.order_id = s.order_id and l.position = s.position
  where s.kitchen_id = kitchen and s.batch_id = batch
$$;
