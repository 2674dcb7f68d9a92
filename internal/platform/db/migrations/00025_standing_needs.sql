-- +goose Up
-- What must lie there beside what is used, and comes back: a bed to roll in.
alter table batch_needs add column stands double precision not null default 0 check (stands >= 0);
