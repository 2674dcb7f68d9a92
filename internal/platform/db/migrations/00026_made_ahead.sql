-- +goose Up
-- A mix that was made ahead lies in the larder as what was bought does: a lot of it, with what went into a gram of it.
alter table lots
  add column mix_id uuid,
  add column made_of jsonb, -- per g, by id of the ingredient, in the unit that it is kept in
  add foreign key (kitchen_id, mix_id) references mixes,
  drop column item_id;
alter table lots
  add column item_id uuid not null generated always as (coalesce(ingredient_id, supply_id, mix_id)) stored,
  drop constraint lots_origin_check,
  add constraint lots_origin_check check (origin in ('bought', 'shopping', 'counted', 'reclaimed', 'unrecorded', 'made')),
  drop constraint if exists lots_check1,
  add constraint lots_of_one check (num_nonnulls(ingredient_id, supply_id, mix_id) = 1);
create index lots_item on lots (kitchen_id, item_id, bought_on);
create index lots_left on lots (kitchen_id, item_id) where remaining > 0;
create index lots_unaccounted on lots (kitchen_id, item_id) where unaccounted > 0;
create index lots_made on lots (kitchen_id, mix_id) where mix_id is not null;
