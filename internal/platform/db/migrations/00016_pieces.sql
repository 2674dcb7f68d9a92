-- +goose Up
-- Pieces that broke at a step, and what is made again for an order because too few good ones are left.
alter table batch_steps add column broken integer not null default 0 check (broken between 0 and 100000);
alter table batch_shares add column again boolean not null default false; -- beside what was promised, at no price

-- Whom a batch is for, next handover first.
create or replace function batch_for(kitchen uuid, batch uuid) returns jsonb language sql stable as $$
  select jsonb_agg(jsonb_build_object('order', o.id, 'number', o.number, 'customer', o.customer, 'state', o.state, 'ready', o.from_at, 'freeFrom', o.free_from,
    'count', s.count, 'line', s.position, 'part', s.part, 'again', s.again, 'treat', l.treat_id, 'version', l.treat_version, 'coating', l.coating) order by o.from_at, o.number)
  from batch_shares s join orders o on o.kitchen_id = s.kitchen_id and o.id = s.order_id
    join order_lines l on l.kitchen_id = s.kitchen_id and l.order_id = s.order_id and l.position = s.position
  where s.kitchen_id = kitchen and s.batch_id = batch
$$;
