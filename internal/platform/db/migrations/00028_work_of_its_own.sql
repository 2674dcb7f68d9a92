-- +goose Up
-- A mix that is to be made ahead is work of its own: a batch that no order takes from, to be there on a day.
alter table batches
  add column mix_id uuid,
  add column grams double precision check (grams > 0),
  add column made_of jsonb, -- what a gram of it is made of, by id of the ingredient, in the unit that it is kept in
  add column ready_on date,
  add foreign key (kitchen_id, mix_id) references mixes,
  add constraint batches_of_a_mix check (num_nonnulls(mix_id, grams, made_of, ready_on) in (0, 4));
create index batches_mix on batches (kitchen_id, mix_id) where mix_id is not null;
