-- +goose Up
-- Helpers: as what somebody works in a kitchen, and links by which they join. Whoever has left stays known by name, beside what they did.
alter table memberships
  add column role      text not null default 'owner' check (role in ('owner', 'maker', 'bookkeeper')),
  add column joined_at timestamptz,
  add column left_at   timestamptz,
  add column ended_by  uuid, -- who ended it, where that was somebody else
  add column used_at   timestamptz; -- when they entered it last: there one gets by signing in
alter table memberships alter column role drop default;
create trigger changed after insert or update of role, left_at or delete on memberships for each statement execute function zt_changed('account');

create function zt_invitation() returns text language sql stable as $$ select current_setting('zt.invitation', true) $$;
create table invitations (
  kitchen_id uuid not null references kitchens deferrable initially immediate,
  id         uuid not null,
  role       text not null check (role in ('owner', 'maker', 'bookkeeper')),
  name       text not null check (length(name) <= 100), -- whom it is for, as who made it calls them
  hash       text not null unique, -- SHA-256 of its link
  made_by    uuid not null,
  at         timestamptz not null,
  until      timestamptz not null,
  used_at    timestamptz,
  ended_at   timestamptz,
  primary key (kitchen_id, id)
);
alter table invitations enable row level security;
alter table invitations force row level security;
create policy own_kitchen on invitations using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()));
create policy named on invitations for select using (hash = zt_invitation());
grant select, insert, update, delete on invitations to zestytin_app;
create trigger changed after insert or update or delete on invitations for each statement execute function zt_changed('account');

alter table account_letters drop constraint account_letters_kind_check;
alter table account_letters add constraint account_letters_kind_check check (kind in
  ('open', 'known', 'verify', 'move', 'moved', 'reset', 'password', 'device', 'second', 'leaving', 'join', 'joined', 'removed', 'passkey'));
