-- +goose Up
-- What goes with each of a kind of packaging: [{supply, amount}]. Shred is kept by weight.
alter table supplies add column fittings jsonb;
alter table supplies drop constraint supplies_unit_check,
  add constraint supplies_unit_check check (unit in ('each', 'mm', 'g'));
