-- +goose Up
-- The inside of a box and what a liner takes up in one, as they were measured; and the boxes that a line of an order is packed in, in the place of those of its treat.
alter table supplies add column inside jsonb, add column foot jsonb;
alter table order_lines add column boxes jsonb not null default '[]';
