-- +goose Up
-- Thermometers and scales of a kitchen. A real one posts what it says to a link whose secret only it knows: of that the
-- hash is kept. One without a secret is simulated, from its seed.
create table sensors (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  kind       text not null check (kind in ('probe', 'scale')),
  name       text not null check (length(name) between 1 and 60),
  unit       text not null check (kind = 'probe' and unit in ('C', 'F') or kind = 'scale' and unit in ('g', 'oz')),
  secret     text unique check (length(secret) = 64),
  seed       bigint not null,
  made_at    timestamptz not null,
  gone_at    timestamptz,
  last_at    timestamptz,
  last_value double precision,
  primary key (kitchen_id, id)
);
-- A bowl of chocolate on the counter: as it is begun, until it is over. What is left of it then is its curve.
create table pots (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  day        date not null,
  name       text not null check (length(name) between 1 and 120),
  chocolate  jsonb not null,
  bowl       jsonb not null,
  probe_id   uuid,
  scale_id   uuid,
  began_at   timestamptz not null,
  began_by   uuid,
  ended_at   timestamptz check (ended_at >= began_at),
  result     text not null default '' check (result in ('', 'good', 'poor')),
  note       text not null default '' check (length(note) <= 1000),
  remains    double precision check (remains >= 0),
  watts      double precision check (watts > 0),
  bursts     int not null default 0,
  curve      jsonb,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, probe_id) references sensors,
  foreign key (kitchen_id, scale_id) references sensors
);
create index on pots (kitchen_id, day);
-- One probe is in one bowl.
create unique index on pots (kitchen_id, probe_id) where ended_at is null;
create unique index on pots (kitchen_id, scale_id) where ended_at is null;
-- What was done to it.
create table pot_deeds (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  pot_id     uuid not null,
  at         timestamptz not null,
  what       text not null,
  seconds    double precision not null default 0 check (seconds between 0 and 3600),
  low        boolean not null default false,
  grams      double precision not null default 0 check (grams between 0 and 100000),
  pieces     int not null default 0 check (pieces between 0 and 10000),
  by_id      uuid,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, pot_id) references pots
);
create index on pot_deeds (kitchen_id, pot_id, at);
-- What a thermometer said of it, or a person read off one (then of no sensor), in °C, and a scale, in g.
create table readings (
  kitchen_id uuid not null references kitchens,
  pot_id     uuid not null,
  what       text not null check (what in ('temp', 'grams')),
  at         timestamptz not null,
  value      double precision not null check (value between -1000 and 100000),
  sensor_id  uuid,
  primary key (kitchen_id, pot_id, what, at),
  foreign key (kitchen_id, pot_id) references pots,
  foreign key (kitchen_id, sensor_id) references sensors
);
-- +goose StatementBegin
do $$
declare name text;
begin
  foreach name in array array['sensors', 'pots', 'pot_deeds', 'readings'] loop
    execute format('alter table %I enable row level security', name);
    execute format('alter table %I force row level security', name);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', name);
    execute format('grant select, insert, update, delete on %I to zestytin_app', name);
  end loop;
end $$;
-- +goose StatementEnd
create policy by_link on sensors for select using (secret = nullif(current_setting('zt.device_link', true), ''));
create trigger changed after insert or delete or update of name, unit, secret, gone_at on sensors for each statement execute function zt_changed('pots');
create trigger changed after insert or update or delete on pots for each statement execute function zt_changed('pots');
create trigger changed after insert or update or delete on pot_deeds for each statement execute function zt_changed('pots');
