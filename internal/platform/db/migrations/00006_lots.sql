-- +goose Up
-- What is there is changed by the owner of the tables, whom row-level security binds as well while it is forced.
alter table batches no force row level security;
alter table batch_needs no force row level security;
alter table orders no force row level security;

-- Who takes how many pieces of a batch. Mostly it is made for one line of one order; orders of the same treat may be made in one go.
create table batch_shares (
  kitchen_id uuid not null,
  batch_id   uuid not null,
  order_id   uuid not null,
  position   integer not null,           -- of the order's line
  part       integer not null default 0, -- of its line, from 1; 0: the whole of it
  count      integer not null check (count > 0),
  price      numeric, -- its share of what was agreed on
  cost       numeric,
  since      timestamptz not null,
  primary key (kitchen_id, batch_id, order_id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade,
  foreign key (kitchen_id, order_id, position) references order_lines
);
create index batch_shares_order on batch_shares (kitchen_id, order_id);
insert into batch_shares (kitchen_id, batch_id, order_id, position, part, count, price, cost, since)
  select b.kitchen_id, b.id, b.order_id, b.position, b.part, b.count, b.price, b.cost, o.updated_at from batches b join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id;

-- What each of them takes of the larder, from the card of its own pieces.
alter table batch_needs add column order_id uuid;
update batch_needs n set order_id = b.order_id from batches b where b.kitchen_id = n.kitchen_id and b.id = n.batch_id;
alter table batch_needs
  alter column order_id set not null,
  drop constraint batch_needs_pkey,
  drop constraint batch_needs_kitchen_id_batch_id_fkey,
  add primary key (kitchen_id, batch_id, order_id, item_id),
  add foreign key (kitchen_id, batch_id, order_id) references batch_shares on delete cascade;

alter table batches
  drop column order_id,
  drop column position,
  drop column part,
  drop column price,
  drop column cost;

-- Whom a batch is for, next handover first.
create function batch_for(kitchen uuid, batch uuid) returns jsonb language sql stable as $$
  select jsonb_agg(jsonb_build_object('order', o.id, 'number', o.number, 'customer', o.customer, 'state', o.state, 'ready', o.from_at, 'freeFrom', o.free_from,
    'count', s.count, 'line', s.position, 'part', s.part, 'treat', l.treat_id, 'version', l.treat_version, 'coating', l.coating) order by o.from_at, o.number)
  from batch_shares s join orders o on o.kitchen_id = s.kitchen_id and o.id = s.order_id
    join order_lines l on l.kitchen_id = s.kitchen_id and l.order_id = s.order_id and l.position = s.position
  where s.kitchen_id = kitchen and s.batch_id = batch
$$;

alter table plan_runs add column groups jsonb not null default '[]'; -- what its plan makes in one go that is not now

alter table batches force row level security;
alter table batch_needs force row level security;
alter table orders force row level security;
alter table batch_shares enable row level security;
alter table batch_shares force row level security;
create policy own_kitchen on batch_shares using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on batch_shares to zestytin_app;
