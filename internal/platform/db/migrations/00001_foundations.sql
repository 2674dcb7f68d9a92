-- +goose Up
-- +goose StatementBegin
do $$ begin
  -- The server's rights. It owns nothing and cannot step round row-level security.
  if not exists (select from pg_roles where rolname = 'zestytin_app') then
    create role zestytin_app nologin;
  end if;
end $$;
-- +goose StatementEnd

create function zt_kitchen() returns uuid language sql stable parallel safe
  as $$ select nullif(current_setting('zt.kitchen', true), '')::uuid $$;
create function zt_person() returns uuid language sql stable parallel safe
  as $$ select nullif(current_setting('zt.person', true), '')::uuid $$;

create table kitchens (
  id            uuid primary key,
  name          text not null check (name <> ''),
  time_zone     text not null,
  currency      text not null check (currency ~ '^[A-Z]{3}$'),
  units         text not null default 'us' check (units in ('us', 'metric')),
  hourly_rate   numeric not null default 18 check (hourly_rate >= 0),
  overhead_rate numeric not null default 2 check (overhead_rate >= 0),
  margin        numeric not null default 0.2 check (margin >= 0 and margin < 1),
  sureness      double precision not null default 0.95 check (sureness > 0 and sureness < 1),
  room_celsius  double precision not null default 21,
  next_order    integer not null default 1,
  work_revision integer not null default 1,
  revision      integer not null default 1,
  created_at    timestamptz not null
);

-- People are of no kitchen: they sign in before it is known which one they work in.
create table people (
  id            uuid primary key,
  mail          text not null unique check (mail = lower(mail)),
  name          text not null check (name <> ''),
  password_hash text not null,
  credentials   integer not null default 1, -- raised with the password: older sessions end
  created_at    timestamptz not null
);

create table memberships (
  kitchen_id uuid not null references kitchens,
  person_id  uuid not null references people,
  primary key (kitchen_id, person_id)
);

create table sessions (
  token  text primary key,
  data   bytea not null,
  expiry timestamptz not null
);
create index sessions_expiry on sessions (expiry);

-- Counters of the sign-in limits, shared by all servers.
create table attempts (
  key    text not null,
  begun  timestamptz not null,
  number integer not null,
  primary key (key, begun)
);

create table idempotency_keys (
  kitchen_id uuid not null references kitchens,
  key        text not null check (length(key) between 1 and 200),
  request    text not null, -- operation and a hash of the body
  answer     jsonb,
  created_at timestamptz not null default now(),
  primary key (kitchen_id, key)
);

create table ingredients (
  kitchen_id  uuid not null references kitchens,
  id          uuid not null,
  name        text not null check (name <> ''),
  unit        text not null check (unit in ('g', 'each')),
  density     double precision check (density > 0),     -- g per mL
  grams_each  double precision check (grams_each > 0),
  allergens   text[] not null default '{}',
  kind        text check (kind in ('real', 'compound')), -- of a chocolate
  colour      text check (colour in ('dark', 'milk', 'white')),
  tint        text check (tint ~ '^#[0-9a-f]{6}$'),
  paid        numeric not null default 0 check (paid >= 0),
  paid_for    double precision not null default 1 check (paid_for > 0), -- in unit
  revision    integer not null default 1,
  primary key (kitchen_id, id),
  unique (kitchen_id, name),
  check ((kind is null) = (colour is null))
);

create table supplies (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  name       text not null check (name <> ''),
  unit       text not null check (unit in ('each', 'mm')),
  stock      double precision not null default 0 check (stock >= 0),
  paid       numeric not null default 0 check (paid >= 0),
  paid_for   double precision not null default 1 check (paid_for > 0),
  revision   integer not null default 1,
  primary key (kitchen_id, id),
  unique (kitchen_id, name)
);

create table treats (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  name       text not null check (name <> ''),
  version    integer not null default 0, -- of the formula that counts; 0: none written yet
  revision   integer not null default 1,
  primary key (kitchen_id, id),
  unique (kitchen_id, name)
);

create table treat_versions (
  kitchen_id uuid not null,
  treat_id   uuid not null,
  version    integer not null check (version > 0),
  formula    jsonb not null,
  created_at timestamptz not null,
  created_by uuid not null references people,
  primary key (kitchen_id, treat_id, version),
  foreign key (kitchen_id, treat_id) references treats
);

create table orders (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  number     integer not null,
  state      text not null check (state in ('enquiry', 'quoted', 'promised', 'in the making', 'packed', 'handed over', 'settled', 'cancelled')),
  customer   text not null check (customer <> ''),
  phone      text not null default '',
  mail       text not null default '',
  occasion   text not null default '',
  way        text not null check (way in ('pickup', 'delivery')),
  place      text not null default '',
  from_at    timestamptz not null,
  to_at      timestamptz not null check (to_at > from_at),
  free_from  text[] not null default '{}',
  notes      text not null default '',
  asked      numeric check (asked >= 0),
  cost       numeric check (cost >= 0),       -- reckoned when it was promised
  materials  numeric check (materials >= 0),  -- the part of cost that is not pay for hands
  minutes    integer check (minutes >= 0),
  revision   integer not null default 1,
  created_at timestamptz not null,
  updated_at timestamptz not null,
  primary key (kitchen_id, id),
  unique (kitchen_id, number)
);
create index orders_handover on orders (kitchen_id, from_at);

create table order_lines (
  kitchen_id    uuid not null,
  order_id      uuid not null,
  position      integer not null check (position >= 0),
  treat_id      uuid not null,
  treat_version integer not null check (treat_version > 0),
  count         integer not null check (count between 1 and 10000),
  primary key (kitchen_id, order_id, position),
  foreign key (kitchen_id, order_id) references orders,
  foreign key (kitchen_id, treat_id, treat_version) references treat_versions
);

create table order_moves (
  kitchen_id uuid not null,
  id         uuid not null,
  order_id   uuid not null,
  from_state text, -- null: the order was written
  to_state   text not null,
  at         timestamptz not null,
  person_id  uuid not null references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, order_id) references orders
);
create index order_moves_order on order_moves (kitchen_id, order_id);

create table supply_moves (
  kitchen_id uuid not null,
  id         uuid not null,
  supply_id  uuid not null,
  order_id   uuid,
  change     double precision not null,
  reason     text not null,
  at         timestamptz not null,
  person_id  uuid not null references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, supply_id) references supplies,
  foreign key (kitchen_id, order_id) references orders
);
create index supply_moves_supply on supply_moves (kitchen_id, supply_id);

create table work_week (
  kitchen_id  uuid not null references kitchens,
  weekday     integer not null check (weekday between 0 and 6), -- 0 is Sunday
  from_minute integer not null check (from_minute >= 0),
  to_minute   integer not null check (to_minute <= 1440),
  hands       integer not null check (hands between 1 and 9),
  primary key (kitchen_id, weekday, from_minute),
  check (to_minute > from_minute)
);

create table work_exceptions (
  kitchen_id uuid not null references kitchens,
  day        date not null,
  reason     text not null default '',
  primary key (kitchen_id, day)
);

create table work_exception_sessions (
  kitchen_id  uuid not null,
  day         date not null,
  from_minute integer not null check (from_minute >= 0),
  to_minute   integer not null check (to_minute <= 1440),
  hands       integer not null check (hands between 1 and 9),
  primary key (kitchen_id, day, from_minute),
  foreign key (kitchen_id, day) references work_exceptions on delete cascade,
  check (to_minute > from_minute)
);

create table batches (
  kitchen_id uuid not null,
  id         uuid not null,
  order_id   uuid not null,
  position   integer not null, -- of the order's line
  day        date not null,
  sheet      jsonb not null,   -- the batch card as it was promised: what the run sheet reads out
  primary key (kitchen_id, id),
  foreign key (kitchen_id, order_id, position) references order_lines
);
create index batches_day on batches (kitchen_id, day);
create index batches_order on batches (kitchen_id, order_id);

create table batch_steps (
  kitchen_id  uuid not null,
  batch_id    uuid not null,
  position    integer not null,
  step        text not null,
  day         date not null,
  start       integer not null,  -- minute of that day
  hand        integer not null check (hand >= 0),
  hands       integer not null check (hands > 0),
  wait        integer not null check (wait >= 0),
  changeover  integer not null check (changeover >= 0),
  pot         text not null default '',
  done_at     timestamptz,
  done_by     uuid references people,
  primary key (kitchen_id, batch_id, step),
  foreign key (kitchen_id, batch_id) references batches on delete cascade,
  check ((done_at is null) = (done_by is null))
);
create index batch_steps_day on batch_steps (kitchen_id, day);

-- +goose StatementBegin
do $$
declare t text;
begin
  for t in select c.table_name from information_schema.columns c
           where c.table_schema = current_schema() and c.column_name = 'kitchen_id' loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = zt_kitchen()) with check (kitchen_id = zt_kitchen())', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
  end loop;
end $$;
-- +goose StatementEnd

alter table kitchens enable row level security;
alter table kitchens force row level security;
create policy own_kitchen on kitchens using (id = zt_kitchen()) with check (id = zt_kitchen());
-- A person may see which kitchens they belong to, before one is entered.
create policy own_membership on memberships for select using (person_id = zt_person());
grant select, insert, update on kitchens, people to zestytin_app;
grant select, insert, update, delete on sessions, attempts to zestytin_app;
