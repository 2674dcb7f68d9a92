-- +goose Up
-- People behind row-level security, as all else is: the server sees who says their address or is signed in, and whom the kitchen knows by name.
create function zt_mail() returns text language sql stable as $$ select current_setting('zt.mail', true) $$;
create function zt_device() returns text language sql stable as $$ select current_setting('zt.device', true) $$;

alter table people enable row level security;
alter table people force row level security;
create policy said on people for select using (mail = zt_mail());
create policy self on people for select using (id = zt_person());
create policy known on people for select using (exists (select from memberships m where m.person_id = people.id and m.kitchen_id = zt_kitchen()));
create policy opens on people for insert with check (mail = zt_mail());
create policy changes on people for update using (id = zt_person()) with check (id = zt_person());

-- A browser that has signed in is known again: whoever guesses at an account from elsewhere does not lock it out. Kept is the SHA-256 of what the browser holds.
create table devices (
  token     text primary key,
  person_id uuid not null references people,
  seen      timestamptz not null
);
create index devices_of on devices (person_id, seen);
alter table devices enable row level security;
alter table devices force row level security;
create policy said on devices for select using (token = zt_device());
create policy own on devices using (person_id = zt_person()) with check (person_id = zt_person());
grant select, insert, update, delete on devices to zestytin_app;
