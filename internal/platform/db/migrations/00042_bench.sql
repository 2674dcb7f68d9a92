-- +goose Up
-- What was ticked and taken back at the bench, by whom and when: minutes come from it, and a tick that arrives late is
-- told when somebody has taken the step back since.
create table step_ticks (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  batch_id   uuid not null,
  step       text not null,
  done       boolean not null,
  at         timestamptz not null,
  by_id      uuid references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade
);
create index on step_ticks (kitchen_id, batch_id, step, at);
-- Timers of what sets, chills or bakes: everybody sees them; they ring on the device that set them, or on all.
create table timers (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  name       text not null check (length(name) between 1 and 200),
  place      text not null default '' check (length(place) <= 100),
  batch_id   uuid,
  step       text,
  begun_at   timestamptz not null,
  ends_at    timestamptz not null check (ends_at >= begun_at),
  device     text not null check (length(device) <= 60),
  everywhere boolean not null,
  by_id      uuid references people,
  stopped_at timestamptz,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade,
  check ((batch_id is null) = (step is null))
);
create unique index on timers (kitchen_id, batch_id, step) where stopped_at is null;
create index on timers (kitchen_id, ends_at) where stopped_at is null;
-- What somebody notes at a step while it is done.
create table step_notes (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  batch_id   uuid not null,
  step       text not null,
  text       text not null check (length(text) between 1 and 1000),
  at         timestamptz not null,
  by_id      uuid references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade
);
create index on step_notes (kitchen_id, batch_id, step);
-- +goose StatementBegin
do $$
declare name text;
begin
  foreach name in array array['step_ticks', 'timers', 'step_notes'] loop
    execute format('alter table %I enable row level security', name);
    execute format('alter table %I force row level security', name);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', name);
    execute format('grant select, insert, update, delete on %I to zestytin_app', name);
  end loop;
end $$;
-- +goose StatementEnd
create trigger changed after insert or update or delete on timers for each statement execute function zt_changed('timers');
create trigger changed after insert or update or delete on step_notes for each statement execute function zt_changed('plan');
