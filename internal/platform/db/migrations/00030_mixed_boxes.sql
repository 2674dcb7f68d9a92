-- +goose Up
-- Boxes of an order in which several of its lines lie together.
alter table orders add column sets jsonb not null default '[]';
