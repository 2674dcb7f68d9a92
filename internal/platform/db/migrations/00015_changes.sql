-- +goose Up
-- Pages that are open hear what has changed: the topic alone, when the transaction that changed it is through; they ask for the rest anew.
-- +goose StatementBegin
create function zt_changed() returns trigger language plpgsql as $$
begin
  if zt_kitchen() is not null then
    perform pg_notify('zt_changes', zt_kitchen()::text || ' ' || tg_argv[0]);
  end if;
  return null;
end $$;
-- +goose StatementEnd
-- +goose StatementBegin
do $$
declare row record;
begin
  for row in select * from (values
    ('orders', 'orders'), ('order_lines', 'orders'), ('quotes', 'orders'), ('payments', 'orders'),
    ('batches', 'plan'), ('batch_steps', 'plan'), ('batch_shares', 'plan'), ('moulds', 'plan'), ('spots', 'plan'),
    ('work_week', 'plan'), ('work_exceptions', 'plan'), ('work_exception_sessions', 'plan'),
    ('treats', 'treats'), ('treat_versions', 'treats'), ('mixes', 'treats'),
    ('ingredients', 'larder'), ('supplies', 'larder'), ('lots', 'larder'), ('offers', 'larder')) as t(name, topic)
  loop
    execute format('create trigger changed after insert or update or delete on %I for each statement execute function zt_changed(%L)', row.name, row.topic);
  end loop;
end $$;
-- +goose StatementEnd
-- Of a kitchen only what people set: its numbers change with every order.
create trigger changed after update of name, time_zone, currency, units, hourly_rate, overhead_rate, margin, sureness, terms, clock, dates, degrees, law on kitchens
  for each statement execute function zt_changed('kitchen');
