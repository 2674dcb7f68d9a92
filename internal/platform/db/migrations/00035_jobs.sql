-- +goose Up
-- What the job queue keeps its jobs in: the schema of River's migrations 1 to 8 as they leave it, which a test compares.
-- A job names its kitchen and what it is about, and goes through the kitchen's own door for all else.
create type river_job_state as enum ('available', 'cancelled', 'completed', 'discarded', 'pending', 'retryable', 'running',
  'scheduled');
create table river_job (
  id bigserial primary key,
  state river_job_state not null default 'available',
  attempt smallint not null default 0,
  max_attempts smallint not null default 25,
  attempted_at timestamptz,
  created_at timestamptz not null default now(),
  finalized_at timestamptz,
  scheduled_at timestamptz not null default now(),
  priority smallint not null default 1,
  args jsonb not null,
  attempted_by text[],
  errors jsonb[],
  kind text not null,
  metadata jsonb not null default '{}',
  queue text not null default 'default',
  tags varchar(255)[] not null default '{}',
  unique_key bytea,
  unique_states bit(8),
  constraint finalized_or_finalized_at_null check (
    (finalized_at is null and state not in ('cancelled', 'completed', 'discarded')) or
    (finalized_at is not null and state in ('cancelled', 'completed', 'discarded'))),
  constraint max_attempts_is_positive check (max_attempts > 0),
  constraint priority_in_range check (priority >= 1 and priority <= 4),
  constraint queue_length check (char_length(queue) > 0 and char_length(queue) < 128),
  constraint kind_length check (char_length(kind) > 0 and char_length(kind) < 128)
);
-- +goose StatementBegin
create function river_job_state_in_bitmask(bitmask bit(8), state river_job_state) returns boolean language sql immutable as $$
  select case state
    when 'available' then get_bit(bitmask, 7)
    when 'cancelled' then get_bit(bitmask, 6)
    when 'completed' then get_bit(bitmask, 5)
    when 'discarded' then get_bit(bitmask, 4)
    when 'pending'   then get_bit(bitmask, 3)
    when 'retryable' then get_bit(bitmask, 2)
    when 'running'   then get_bit(bitmask, 1)
    when 'scheduled' then get_bit(bitmask, 0)
    else 0
  end = 1;
$$;
-- +goose StatementEnd
create index river_job_kind on river_job (kind);
create index river_job_state_and_finalized_at_index on river_job (state, finalized_at) where finalized_at is not null;
create index river_job_prioritized_fetching_index on river_job (state, queue, priority, scheduled_at, id);
create index river_job_args_index on river_job using gin (args);
create index river_job_metadata_index on river_job using gin (metadata);
create unique index river_job_unique_idx on river_job (unique_key)
  where unique_key is not null and unique_states is not null and river_job_state_in_bitmask(unique_states, state);
create unlogged table river_leader (
  elected_at timestamptz not null,
  expires_at timestamptz not null,
  leader_id text not null,
  name text primary key default 'default',
  constraint name_length check (name = 'default'),
  constraint leader_id_length check (char_length(leader_id) > 0 and char_length(leader_id) < 128)
);
create table river_queue (
  name text primary key not null,
  created_at timestamptz not null default now(),
  metadata jsonb not null default '{}',
  paused_at timestamptz,
  updated_at timestamptz not null default current_timestamp
);
create table river_notification (
  id bigserial primary key,
  created_at timestamptz not null default now(),
  payload text not null,
  topic text not null,
  constraint topic_length check (length(topic) > 0 and length(topic) < 128)
);
create index river_notification_created_at_idx on river_notification (created_at);
create index river_notification_topic_id_idx on river_notification (topic, id);
grant select, insert, update, delete on river_job, river_leader, river_queue, river_notification to zestytin_app;
grant usage, select on sequence river_job_id_seq, river_notification_id_seq to zestytin_app;
-- What is to be done in every kitchen begins with which there are.
create policy by_round on kitchens for select using (current_setting('zt.round', true) = 'on');
