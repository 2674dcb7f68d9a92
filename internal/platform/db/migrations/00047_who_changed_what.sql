-- +goose Up
-- Who changed what an order says, beside who moved it on: one row for what somebody changes within an hour.
create table order_edits (
  kitchen_id uuid not null references kitchens deferrable initially immediate,
  id         uuid not null,
  order_id   uuid not null,
  person_id  uuid not null,
  at         timestamptz not null, -- of the last of them
  primary key (kitchen_id, id),
  foreign key (kitchen_id, order_id) references orders deferrable initially immediate
);
create index on order_edits (kitchen_id, order_id);
alter table order_edits enable row level security;
alter table order_edits force row level security;
create policy own_kitchen on order_edits using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
grant select, insert, update, delete on order_edits to zestytin_app;

-- Codes of a second step that were wrong, from wherever they came: after some the step waits.
alter table people
  add column codes_wrong    integer not null default 0,
  add column codes_wrong_at timestamptz;
alter table account_letters drop constraint account_letters_kind_check;
alter table account_letters add constraint account_letters_kind_check check (kind in
  ('open', 'known', 'verify', 'move', 'moved', 'reset', 'password', 'device', 'second', 'leaving', 'join', 'joined', 'removed', 'passkey', 'guesses'));
-- What somebody typed to open a kitchen, or to join one, and never came back for, is not kept for a month as other letters are.
create policy openings_are_seen on account_letters for select using (kind in ('open', 'join') and made_at < current_timestamp - interval '2 days');
create policy openings_go on account_letters for delete using (kind in ('open', 'join') and made_at < current_timestamp - interval '2 days');
