-- +goose Up
-- What is there is changed by the owner of the tables, whom row-level security binds as well while it is forced.
alter table ingredients no force row level security;
alter table supplies no force row level security;
alter table supply_moves no force row level security;
alter table orders no force row level security;
alter table batches no force row level security;
alter table batch_steps no force row level security;

alter table ingredients
  add column fresh_days integer check (fresh_days between 1 and 365), -- null: it keeps
  add column paid_on date;                                            -- when paid was last paid
alter table supplies add column paid_on date;
update ingredients set fresh_days = 1 where kind = 'fruit' and name !~* 'dried';

-- Some of one thing that came into the house at once.
create table lots (
  kitchen_id    uuid not null, -- that of the thing, by its key
  id            uuid not null,
  ingredient_id uuid,
  supply_id     uuid,
  item_id       uuid not null generated always as (coalesce(ingredient_id, supply_id)) stored,
  origin        text not null check (origin in ('bought', 'shopping', 'counted', 'reclaimed', 'unrecorded')),
  amount        double precision not null check (amount >= 0), -- that came, in the unit of the thing
  remaining     double precision not null check (remaining >= 0 and remaining < 1e9),
  paid          numeric not null default 0 check (paid >= 0),  -- for amount
  each          numeric not null generated always as (case when amount > 0 then round(paid / amount::numeric, 10) else 0 end) stored, -- price of a unit
  shop          text not null default '',
  bought_on     date not null,
  best_before   date,
  opened_on     date,
  open_until    date check (open_until is null or opened_on is not null),
  unaccounted   double precision not null default 0 check (unaccounted >= 0), -- used without being on record, and no receipt or count since
  voided        boolean not null default false, -- it was a mistake
  revision      integer not null default 1,
  order_id      uuid,
  batch_id      uuid, -- that it came back from; no reference: a batch may be planned anew
  note          text not null default '',
  at            timestamptz not null,
  person_id     uuid references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, ingredient_id) references ingredients,
  foreign key (kitchen_id, supply_id) references supplies,
  foreign key (kitchen_id, order_id) references orders,
  check (num_nonnulls(ingredient_id, supply_id) = 1)
);
create index lots_batch on lots (kitchen_id, batch_id) where batch_id is not null;
create index lots_item on lots (kitchen_id, item_id, bought_on);
create index lots_left on lots (kitchen_id, item_id) where remaining > 0;
create index lots_unaccounted on lots (kitchen_id, item_id) where unaccounted > 0;

-- What changed of a lot since it came: remaining is amount and all of these.
create table stock_moves (
  kitchen_id uuid not null,
  id         uuid not null,
  lot_id     uuid not null,
  order_id   uuid,
  batch_id   uuid, -- no reference: a batch may be planned anew, what it used stays used
  kind       text not null check (kind in ('used', 'returned', 'corrected', 'voided')),
  change     double precision not null,
  reason     text not null default '',
  at         timestamptz not null,
  person_id  uuid references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, lot_id) references lots,
  foreign key (kitchen_id, order_id) references orders
);
create index stock_moves_lot on stock_moves (kitchen_id, lot_id);
create index stock_moves_batch on stock_moves (kitchen_id, batch_id) where batch_id is not null;
create index stock_moves_order on stock_moves (kitchen_id, order_id) where order_id is not null;

-- A pack as a shop sells it.
create table offers (
  kitchen_id    uuid not null,
  id            uuid not null,
  ingredient_id uuid,
  supply_id     uuid,
  item_id       uuid not null generated always as (coalesce(ingredient_id, supply_id)) stored,
  shop          text not null default '',
  size          double precision not null check (size > 0),
  price         numeric not null check (price >= 0),
  seen_on       date not null,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, ingredient_id) references ingredients,
  foreign key (kitchen_id, supply_id) references supplies,
  check (num_nonnulls(ingredient_id, supply_id) = 1)
);
create unique index offers_one on offers (kitchen_id, item_id, lower(shop), size);

-- The stock of packaging becomes lots: what was there at first, and the moves since.
insert into lots (kitchen_id, id, supply_id, origin, amount, remaining, paid, bought_on, note, at)
  select s.kitchen_id, gen_random_uuid(), s.id, 'counted', s.stock - coalesce(m.moved, 0), s.stock, greatest(s.stock - coalesce(m.moved, 0), 0) * (s.paid / s.paid_for::numeric)::double precision,
    coalesce(m.first, now())::date, 'on the shelf', coalesce(m.first, now())
  from supplies s left join (select kitchen_id, supply_id, sum(change) as moved, min(at) as first from supply_moves group by 1, 2) m on m.kitchen_id = s.kitchen_id and m.supply_id = s.id
  where s.stock > 0 or m.moved is not null;
insert into stock_moves (kitchen_id, id, lot_id, order_id, kind, change, reason, at, person_id)
  select m.kitchen_id, m.id, l.id, m.order_id, case when m.order_id is null then 'corrected' when m.change < 0 then 'used' else 'returned' end, m.change, m.reason, m.at, m.person_id
  from supply_moves m join lots l on l.kitchen_id = m.kitchen_id and l.supply_id = m.supply_id;
drop table supply_moves;
alter table supplies drop column stock;

alter table kitchens
  add column terms jsonb not null default '{"ending": "exact", "perPiece": false, "minimum": "0", "rush": [], "tax": 0, "taxIncluded": false, "deposit": 0, "cardShare": 0, "cardFixed": "0", "drive": "0", "reclaim": 1, "quoteDays": 7}',
  add column shopping_days integer[] not null default '{}'; -- 0 is Sunday; empty: any day

-- Asked of many versions at once: a formula is large.
alter table treat_versions add column family text generated always as (formula ->> 'family') stored;
alter table treats
  add column market_low  numeric check (market_low >= 0), -- what others ask for a dozen
  add column market_high numeric check (market_high >= market_low),
  add check ((market_low is null) = (market_high is null));

alter table orders
  add column price_by    text check (price_by in ('margin', 'markup', 'hourly', 'price')),
  add column price_value numeric check (price_value >= 0),
  add column discount    text not null default '',
  add column distance    double precision not null default 0 check (distance >= 0), -- km there and back
  add column cash        boolean not null default false,
  add column agreed      numeric check (agreed >= 0), -- the price that was quoted
  add column tax         numeric check (tax >= 0),    -- in or on it, when it was quoted
  add column gross       numeric check (gross >= 0),  -- what the customer is to pay
  add check ((price_by is null) = (price_value is null));
update orders set price_by = 'price', price_value = asked where asked is not null;
update orders set agreed = asked, tax = 0, gross = asked where asked is not null and state not in ('enquiry', 'cancelled');
alter table orders drop column asked;

alter table order_moves
  alter column person_id drop not null,
  add column by_customer boolean not null default false,
  add check ((person_id is null) = by_customer);

alter table batches
  -- What is asked of many batches at once, beside the sheet, which is large.
  add column name    text not null default '',
  add column count   integer not null default 1 check (count > 0),
  add column family  text not null default 'bomb',
  add column look    jsonb,
  add column sold    text not null default 'pieces',
  add column started integer not null default 0, -- pieces; of bark the sheets
  add column hands   integer not null default 0, -- minutes, melting included
  add column price   numeric,                    -- its share of what was agreed on
  add column cost    numeric,
  add column made_at timestamptz,              -- its last step was done: what it takes has left the larder
  add column good    integer check (good >= 0), -- pieces that came out well
  add column minutes integer check (minutes > 0); -- of hands that it really took
update batches set name = coalesce(sheet ->> 'name', ''), count = greatest(coalesce((sheet ->> 'count')::int, 1), 1), family = coalesce(sheet -> 'card' ->> 'family', 'bomb'),
  look = coalesce(sheet -> 'card' -> 'look', sheet -> 'card' -> 'pots' -> 0 -> 'chocolate'), sold = coalesce(sheet -> 'card' ->> 'sold', 'pieces'),
  started = coalesce((sheet -> 'card' ->> 'start')::int, 0), hands = coalesce((sheet -> 'card' ->> 'hands')::int, 0);
update batches b set made_at = (select max(s.done_at) from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id)
  where not exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id and s.done_at is null)
    and exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id);

-- What a batch takes, from its batch card.
create table batch_needs (
  kitchen_id uuid not null,
  batch_id   uuid not null,
  item_id    uuid not null, -- an ingredient, or packaging
  packaging  boolean not null,
  used       double precision not null check (used >= 0), -- in the unit of the thing
  pool       double precision not null default 0 check (pool >= 0), -- must be there beside that, and comes back
  primary key (kitchen_id, batch_id, item_id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade
);
create index batch_needs_item on batch_needs (kitchen_id, item_id);
insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used, pool)
  select b.kitchen_id, b.id, (n ->> 'ingredient')::uuid, false, sum((n -> 'used' ->> 'amount')::float8), greatest(sum((n -> 'house' ->> 'amount')::float8 - (n -> 'used' ->> 'amount')::float8), 0)
  from batches b cross join lateral jsonb_array_elements(b.sheet -> 'card' -> 'needs') n group by 1, 2, 3;
insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used)
  select b.kitchen_id, b.id, (p ->> 'supply')::uuid, true, sum((p -> 'amount' ->> 'amount')::float8)
  from batches b cross join lateral jsonb_array_elements(b.sheet -> 'card' -> 'packs') p group by 1, 2, 3;

-- A quote that a customer can look at by its link, whoever they are.
create table quotes (
  kitchen_id  uuid not null,
  id          uuid not null,
  order_id    uuid not null,
  token       text not null unique check (length(token) >= 26), -- 130 bits
  content     jsonb not null,      -- what it says, as it was when it was written
  made_at     timestamptz not null,
  made_by     uuid not null references people,
  expires_at  timestamptz not null,
  revoked_at  timestamptz,
  accepted_at timestamptz,
  accepted_by text not null default '', -- the name that was given
  request     text not null default '', -- a change that was asked for
  requested_at timestamptz,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, order_id) references orders
);
create index quotes_order on quotes (kitchen_id, order_id);

create table payments (
  kitchen_id uuid not null,
  id         uuid not null,
  order_id   uuid not null,
  kind       text not null check (kind in ('deposit', 'balance', 'refund')),
  amount     numeric not null check (amount > 0),
  paid_on    date not null,
  way        text not null default '', -- cash, card, transfer
  note       text not null default '',
  at         timestamptz not null,
  person_id  uuid not null references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, order_id) references orders
);
create index payments_order on payments (kitchen_id, order_id);

alter table ingredients force row level security;
alter table supplies force row level security;
alter table orders force row level security;
alter table batches force row level security;
alter table batch_steps force row level security;

-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['lots', 'stock_moves', 'offers', 'batch_needs', 'quotes', 'payments'] loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = zt_kitchen()) with check (kitchen_id = zt_kitchen())', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
  end loop;
end $$;
-- +goose StatementEnd
-- As a subquery the kitchen is looked up once for a statement, not for every row.
-- +goose StatementBegin
do $$
declare t text;
begin
  for t in select c.relname from pg_policy p join pg_class c on c.oid = p.polrelid where p.polname = 'own_kitchen' and c.relname <> 'kitchens' and c.relnamespace = current_schema()::regnamespace loop
    execute format('alter policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', t);
  end loop;
end $$;
-- +goose StatementEnd
alter policy own_kitchen on kitchens using (id = (select zt_kitchen())) with check (id = (select zt_kitchen()));
-- Whoever has the link may find out of which kitchen and order it is, and nothing else.
create policy by_link on quotes for select using (token = nullif(current_setting('zt.quote', true), ''));
