-- +goose Up
-- The payment that settling an order notes is told by a mark, no longer by a sentence.
alter table payments no force row level security;
alter table payments add column settles boolean not null default false;
update payments set settles = true, note = '' where note = 'the rest, when it was settled';
alter table payments force row level security;
