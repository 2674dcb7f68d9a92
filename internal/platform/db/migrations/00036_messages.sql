-- +goose Up
-- What a kitchen tells its customers by itself, as the seller has switched it on.
create table message_settings (
  kitchen_id uuid primary key references kitchens,
  reply_to   text not null default '' check (length(reply_to) <= 200),
  quiet_from integer not null default 1260 check (quiet_from between 0 and 1439), -- minute of the day
  quiet_to   integer not null default 480 check (quiet_to between 0 and 1439),    -- the same as quiet_from: never quiet
  kinds      jsonb not null default '{}', -- by kind: whether, since when, how, when, and in which words
  revision   integer not null default 1
);
-- Whom messages go to, and who wants none.
create table contacts (
  kitchen_id uuid not null references kitchens,
  address    text not null check (length(address) between 1 and 200), -- in small letters
  token      text not null unique,
  refused_at timestamptz,
  primary key (kitchen_id, address)
);
create policy by_token on contacts for select using (token = nullif(current_setting('zt.contact', true), ''));
-- The outbox: every message that was ever written, and what became of it.
create table messages (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  order_id   uuid not null,
  kind       text not null,
  cause      text not null, -- of its kind and order: each is told once
  way        text not null check (way in ('mail', 'text')),
  whom       text not null,
  address    text not null,
  subject    text not null,
  body       text not null,
  state      text not null check (state in ('waiting', 'sending', 'sent', 'failed', 'unsure', 'undone', 'dropped')),
  told       jsonb, -- why it stands so
  tries      integer not null default 0,
  turn       integer not null default 0, -- of the jobs that were to send it only the last does
  by_hand    boolean not null default false,
  created_at timestamptz not null,
  due_at     timestamptz not null,
  changed_at timestamptz not null,
  person_id  uuid, -- null: by itself
  primary key (kitchen_id, id),
  unique (kitchen_id, order_id, kind, cause),
  foreign key (kitchen_id, order_id) references orders
);
create index messages_latest on messages (kitchen_id, created_at desc);
-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['message_settings', 'contacts', 'messages'] loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
  end loop;
end $$;
-- +goose StatementEnd
create trigger changed after insert or update on message_settings for each statement execute function zt_changed('kitchen');
create trigger changed after insert or update on messages for each statement execute function zt_changed('messages');
-- A quote that ended without an answer: the seller is told of it like of an answer.
alter table quotes add column lapsed_at timestamptz;
