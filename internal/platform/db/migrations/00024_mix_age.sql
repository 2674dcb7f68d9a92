-- +goose Up
-- How long a mix keeps from its making, in hours, and where.
alter table mixes add column keeps integer check (keeps between 1 and 8760), add column place text not null default '';
