-- +goose Up
-- What one line of an order is to suit, beside what all of it is to.
alter table order_lines add column free_from text[] not null default '{}', add column wishes text[] not null default '{}';

-- Whom a batch is for, next handover first.
create or replace function batch_for(kitchen uuid, batch uuid) returns jsonb language sql stable as $$
  select jsonb_agg(jsonb_build_object('order', o.id, 'number', o.number, 'customer', o.customer, 'state', o.state, 'ready', o.from_at,
    'freeFrom', o.free_from || l.free_from,
    'count', s.count, 'line', s.position, 'part', s.part, 'again', s.again, 'treat', l.treat_id, 'version', l.treat_version, 'coating', l.coating, 'note', l.note) order by o.from_at, o.number)
  from batch_shares s join orders o on o.kitchen_id = s.kitchen_id and o.id = s.order_id
    join order_lines l on l.kitchen_id = s.kitchen_id and l.order_id = s.order_id and l.position = s.position
  where s.kitchen_id = kitchen and s.batch_id = batch
$$;
