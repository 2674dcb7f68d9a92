-- +goose Up
-- How many pieces of each line were handed over at a door, where only a part was: by the lines of the order.
alter table drops add column given jsonb check (jsonb_typeof(given) = 'array');
