-- +goose Up
-- What is there is changed by the owner of the tables, whom row-level security binds as well while it is forced.
alter table kitchens no force row level security;
alter table batches no force row level security;
alter table batch_steps no force row level security;
alter table batch_needs no force row level security;
alter table plan_changes no force row level security;

alter table kitchens
  add column source text not null default 'microwave' check (source in ('microwave', 'bath')), -- what chocolate is melted with
  add column law    text not null default 'us' check (law in ('us', 'eu'));                    -- by which allergens are declared
update kitchens set law = 'eu' where currency <> 'USD';

-- What a step takes from which bowl, or gives back to it; which pots are melted for it; and the bowl that was booked with it.
alter table batch_steps
  add column draw  jsonb,
  add column melts text[] not null default '{}',
  add column bowl  uuid;
update batch_steps s set bowl = b.id from batches b where b.kitchen_id = s.kitchen_id and b.id = s.batch_id and b.made_at is not null; -- it was booked with its batch
create index batch_steps_bowl on batch_steps (kitchen_id, bowl) where bowl is not null;

-- The pots of what was promised before, told by ingredient, method and temperature; each step draws its part of the hands that worked from it.
create temporary table old_pots as
  select b.kitchen_id, b.id as batch_id, p ->> 'ingredient' as ingredient, p ->> 'method' as method, (p -> 'used' ->> 'amount')::float8 as used,
    greatest((p -> 'melted' ->> 'amount')::float8 - (p -> 'used' ->> 'amount')::float8, 0) as pool, p #>> '{chocolate,kind}' as kind,
    case when p #>> '{chocolate,kind}' = 'compound' then 38 when p ->> 'method' = 'none' then 40 else coalesce((p #>> '{tempering,bands,work,from}')::float8, 31) end as low,
    case when p #>> '{chocolate,kind}' = 'compound' then 43 when p ->> 'method' = 'none' then 45 else coalesce((p #>> '{tempering,bands,work,to}')::float8, 32) end as high
  from batches b cross join lateral jsonb_array_elements(b.sheet -> 'card' -> 'pots') p where jsonb_typeof(b.sheet -> 'card' -> 'pots') = 'array';
alter table old_pots add column key text;
update old_pots set key = ingredient || ' ' || method || ' ' || high || ' microwave';

update batch_steps s set
    draw = jsonb_build_object('pot', jsonb_build_object('ingredient', o.ingredient, 'method', o.method, 'work', jsonb_build_object('from', o.low, 'to', o.high), 'source', 'microwave'),
      'applied', o.used / 1.02 * s.hands / greatest((select sum(x.hands) from batch_steps x where x.kitchen_id = s.kitchen_id and x.batch_id = s.batch_id and x.pot = s.pot), 1), 'pool', o.pool, 'least', 115),
    melts = case when s.changeover > 0 then array[o.key] else '{}' end
  from old_pots o where o.kitchen_id = s.kitchen_id and o.batch_id = s.batch_id and o.ingredient = s.pot;

update batches b set work = jsonb_set(b.work, '{steps}', (
    select jsonb_agg(case when o.key is null then s - 'pot'
      else (s - 'pot') || jsonb_build_object('pots', jsonb_build_array(jsonb_build_object('pot', o.key, 'changeover', case o.kind when 'compound' then 10 else 25 end, 'holds', case o.kind when 'compound' then 45 else 60 end))) end order by n)
    from jsonb_array_elements(b.work -> 'steps') with ordinality as each(s, n)
      left join old_pots o on o.kitchen_id = b.kitchen_id and o.batch_id = b.id and o.ingredient = s ->> 'pot'))
  where b.work ? 'steps' and exists (select from jsonb_array_elements(b.work -> 'steps') s where s ? 'pot');

-- Why a batch has no room, as a reason and what it is of.
update batches set short = short - 'short' - 'why' || jsonb_build_object('reason', split_part(short ->> 'short', ':', 1), 'of', split_part(short ->> 'short', ':', 2)) where short is not null;

-- What of a need comes out of bowls; what is left in them is the bowl's, not the batch's.
alter table batch_needs add column drawn double precision not null default 0 check (drawn >= 0);
update batch_needs n set drawn = least(n.used, o.used * n.used / greatest((select sum(x.used) from batch_needs x where x.kitchen_id = n.kitchen_id and x.batch_id = n.batch_id and x.item_id = n.item_id), 1e-9))
  from (select kitchen_id, batch_id, ingredient, sum(used) as used from old_pots group by 1, 2, 3) o
  where o.kitchen_id = n.kitchen_id and o.batch_id = n.batch_id and o.ingredient = n.item_id::text and not n.packaging;
alter table batch_needs drop column pool;
drop table old_pots;

-- Batches as they were before an older change of the plan cannot be put back any more: their rows have another form.
delete from plan_changes where before ? 'stood';

-- A lot that came out of a bowl knows what is stirred into it, what it has touched, and whether it is damp.
alter table lots
  add column stirred jsonb,                         -- null: nothing
  add column touched text[] not null default '{}',
  add column damp    boolean not null default false, -- fresh fruit went through it: for the same day only
  add column bowl    uuid;                           -- that it came out of
alter table stock_moves add column bowl uuid;
create index lots_bowl on lots (kitchen_id, bowl) where bowl is not null;
create index stock_moves_bowl on stock_moves (kitchen_id, bowl) where bowl is not null;

-- Whose a bowl was that has been booked: shares of what is used of it.
create table bowl_shares (
  kitchen_id uuid not null references kitchens,
  bowl       uuid not null,
  order_id   uuid not null,
  share      double precision not null check (share > 0 and share <= 1 + 1e-9),
  primary key (kitchen_id, bowl, order_id),
  foreign key (kitchen_id, order_id) references orders
);
create index bowl_shares_order on bowl_shares (kitchen_id, order_id);
alter table bowl_shares enable row level security;
alter table bowl_shares force row level security;
create policy own_kitchen on bowl_shares using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on bowl_shares to zestytin_app;

-- Kitchens whose promised work that has not begun is to get its account from the version that it pins: `zestytin migrate` does so.
create table ledger_renewals (kitchen uuid primary key references kitchens on delete cascade);
insert into ledger_renewals select distinct b.kitchen_id from batches b where b.made_at is null
  and not exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id and s.done_at is not null);
grant select, delete on ledger_renewals to zestytin_app;

alter table kitchens force row level security;
alter table batches force row level security;
alter table batch_steps force row level security;
alter table batch_needs force row level security;
alter table plan_changes force row level security;
