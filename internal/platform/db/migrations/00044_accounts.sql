-- +goose Up
-- Accounts that one can rely on: addresses that are proven, sessions that can be looked at and ended, letters with links, and a record of what concerns safety.
alter table people
  add column verified_at timestamptz,
  add column totp        text,        -- the secret of the second step, in base32
  add column totp_since  timestamptz, -- null while it is being set up
  add column totp_last   bigint not null default 0; -- the step whose code was used last: each works once
create table recovery_codes (
  person_id uuid not null references people,
  hash      text not null, -- SHA-256 of a code with 60 bits of chance
  used_at   timestamptz,
  primary key (person_id, hash)
);
-- Keys that a device keeps (WebAuthn): of each the public half.
create table passkeys (
  person_id  uuid not null references people,
  id         uuid not null,
  key_id     bytea not null, -- as the device calls it
  name       text not null check (length(name) between 1 and 100),
  credential jsonb not null,
  made_at    timestamptz not null,
  used_at    timestamptz,
  primary key (person_id, id),
  unique (person_id, key_id)
);
alter table passkeys enable row level security;
alter table passkeys force row level security;
create policy own on passkeys using (person_id = zt_person()) with check (person_id = zt_person());
grant select, insert, update, delete on passkeys to zestytin_app;
alter table recovery_codes enable row level security;
alter table recovery_codes force row level security;
create policy own on recovery_codes using (person_id = zt_person()) with check (person_id = zt_person());
grant select, insert, update, delete on recovery_codes to zestytin_app;

-- Whose a session is, and from where: a person sees and ends their own.
alter table sessions
  add column id        uuid not null default gen_random_uuid(),
  add column person_id uuid references people,
  add column began_at  timestamptz,
  add column address   text not null default '',
  add column agent     text not null default '';
create unique index on sessions (id);
create index on sessions (person_id);
create policy own_are_seen on sessions for select using (person_id = zt_person());
create policy own_are_ended on sessions for delete using (person_id = zt_person());

-- Letters of accounts, some with a link that works once. Of a link its SHA-256 is kept; a letter is seen by its id or its link.
create function zt_letter() returns text language sql stable as $$ select current_setting('zt.letter', true) $$;
create table account_letters (
  id        uuid primary key,
  kind      text not null check (kind in ('open', 'known', 'verify', 'move', 'moved', 'reset', 'password', 'device', 'second', 'leaving')),
  person_id uuid references people,
  mail      text not null, -- whom it goes to
  facts     jsonb not null default '{}',
  state     text not null default 'waiting' check (state in ('waiting', 'sending', 'sent', 'failed')),
  hash      text unique,
  at        timestamptz not null,
  until     timestamptz, -- its link works
  used_at   timestamptz,
  made_at   timestamptz not null default now()
);
create index on account_letters (person_id);
create index on account_letters (made_at);
alter table account_letters enable row level security;
alter table account_letters force row level security;
create policy named on account_letters using (zt_letter() in (id::text, hash)) with check (zt_letter() in (id::text, hash));
create policy own on account_letters using (person_id = zt_person()) with check (person_id = zt_person());
create policy to_somebody on account_letters for select using (mail = zt_mail());
create policy old_are_seen on account_letters for select using (made_at < current_timestamp - interval '30 days');
create policy old_go on account_letters for delete using (made_at < current_timestamp - interval '30 days');
grant select, insert, update, delete on account_letters to zestytin_app;

-- What concerns the safety of a kitchen, for its owner to read.
create table security_events (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  at         timestamptz not null,
  what       text not null,
  person_id  uuid,
  address    text not null default '',
  agent      text not null default '',
  about      text not null default '',
  primary key (kitchen_id, id)
);
create index on security_events (kitchen_id, at desc);
alter table security_events enable row level security;
alter table security_events force row level security;
-- Nobody changes what was noted, and nobody takes it away before its time.
create policy own_are_seen on security_events for select using (kitchen_id = (select zt_kitchen()));
create policy own_are_noted on security_events for insert with check (kitchen_id = (select zt_kitchen()));
create policy own_old_go on security_events for delete using (kitchen_id = (select zt_kitchen()) and at < current_timestamp - interval '180 days');
grant select, insert, delete on security_events to zestytin_app;
create trigger changed after insert on security_events for each statement execute function zt_changed('account');

-- A kitchen goes a week after somebody said so, with all that is in it; who works in no kitchen any more goes along.
alter table kitchens
  add column gone_at        timestamptz,
  add column to_try         boolean not null default false, -- of a visitor, for a day: nothing leaves it
  add column customers_kept int not null default 0 check (customers_kept between 0 and 120); -- months after their last handover; 0: until somebody forgets them
grant delete on kitchens, people to zestytin_app;
create policy only_when_said on kitchens as restrictive for delete using (gone_at is not null);
create policy goes on people for delete using (id = zt_person() and not exists (select from memberships m where m.person_id = people.id));
create policy goes_along on security_events for delete using (kitchen_id = (select zt_kitchen()) and exists (select from kitchens k where k.id = zt_kitchen() and k.gone_at is not null));

-- A kitchen is taken in from a file, table by table: what refers to what is looked at when all of it is there.
-- +goose StatementBegin
do $$
declare c record;
begin
  for c in select conrelid::regclass as of, conname from pg_constraint where contype = 'f' and connamespace = 'public'::regnamespace
    and exists (select from pg_attribute a where a.attrelid = conrelid and a.attname = 'kitchen_id') loop
    execute format('alter table %s alter constraint %I deferrable initially immediate', c.of, c.conname);
  end loop;
end $$;
-- +goose StatementEnd
