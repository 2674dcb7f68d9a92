-- +goose Up
-- What went wrong at the bench: what was seen, what was behind it, what was done about it and what that took and gave.
-- What is booked in the larder for it stands there under its id.
create table faults (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  day        date not null,
  batch_id   uuid,
  step       text,
  pot_id     uuid,
  sign       text not null check (length(sign) <= 40),
  cause      text not null check (length(cause) <= 40),
  fix        text not null check (length(fix) <= 40),
  grade      text not null check (grade in ('', 'sell', 'repair', 'eat', 'reclaim', 'bin')),
  units      int not null check (units between 0 and 100000),
  pieces     int not null check (pieces between 0 and 100000), -- that the batch has lost by it
  back       double precision not null check (back >= 0),      -- g of chocolate, from here on
  uses       double precision not null check (uses >= 0),
  gone       double precision not null check (gone >= 0),
  wet        double precision not null check (wet >= 0),
  made       double precision not null check (made >= 0),
  facts      jsonb not null,
  at         timestamptz not null,
  by_id      uuid references people,
  undone_at  timestamptz,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade,
  foreign key (kitchen_id, pot_id) references pots,
  check ((batch_id is null) = (step is null))
);
create index on faults (kitchen_id, batch_id) where undone_at is null;
create index on faults (kitchen_id, day) where undone_at is null;
-- What a step came to, where a person knows better than ticks and touches: minutes of hands, and pieces.
create table step_results (
  kitchen_id uuid not null references kitchens,
  batch_id   uuid not null,
  step       text not null, -- of the formula: of all of its rounds
  minutes    double precision check (minutes > 0 and minutes <= 100000),
  repaired   int check (repaired between 0 and 100000),
  lost       int check (lost between 0 and 100000),
  back       int check (back between 0 and 100000),
  unfit      int check (unfit between 0 and 100000), -- of what was bought, not fit to use
  by_id      uuid references people,
  primary key (kitchen_id, batch_id, step),
  foreign key (kitchen_id, batch_id) references batches on delete cascade
);
-- What was learned and taken into a treat, with what it rested on: its spread is kept.
create table lessons (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  treat_id   uuid not null,
  what       text not null check (what in ('loss', 'pace', 'coat', 'pool', 'fit')),
  step       text not null,
  was        double precision not null,
  mean       double precision not null,
  low        double precision not null,
  high       double precision not null,
  batches    int not null,
  counts     double precision not null,
  version    int not null, -- of the treat, in which it was taken
  at         timestamptz not null,
  by_id      uuid references people,
  primary key (kitchen_id, id),
  foreign key (kitchen_id, treat_id) references treats on delete cascade
);
create index on lessons (kitchen_id, treat_id, at);
-- One photo of a batch, as it was encoded anew here.
create table batch_photos (
  kitchen_id uuid not null references kitchens,
  batch_id   uuid not null,
  image      bytea not null check (length(image) between 1 and 5242880),
  width      int not null check (width between 1 and 1600),
  height     int not null check (height between 1 and 1600),
  at         timestamptz not null,
  by_id      uuid references people,
  primary key (kitchen_id, batch_id),
  foreign key (kitchen_id, batch_id) references batches on delete cascade
);
-- +goose StatementBegin
do $$
declare name text;
begin
  foreach name in array array['faults', 'step_results', 'lessons', 'batch_photos'] loop
    execute format('alter table %I enable row level security', name);
    execute format('alter table %I force row level security', name);
    execute format('create policy own_kitchen on %I using (kitchen_id = (select zt_kitchen())) with check (kitchen_id = (select zt_kitchen()))', name);
    execute format('grant select, insert, update, delete on %I to zestytin_app', name);
  end loop;
end $$;
-- +goose StatementEnd
create trigger changed after insert or update or delete on faults for each statement execute function zt_changed('plan');
create trigger changed after insert or update or delete on step_results for each statement execute function zt_changed('plan');
create trigger changed after insert or update or delete on batch_photos for each statement execute function zt_changed('plan');
