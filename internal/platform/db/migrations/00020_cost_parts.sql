-- +goose Up
-- What the materials of an order's cost were for, as they were when it was promised. Orders that were promised before
-- have no parts.
alter table orders
  add column cost_ingredients numeric,
  add column cost_packaging   numeric,
  add column cost_overhead    numeric,
  add column cost_drive       numeric,
  add column cost_card        numeric;
