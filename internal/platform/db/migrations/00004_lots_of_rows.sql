-- +goose Up
-- People are never deleted, and a file of receipts has tens of thousands of lots, each of which would be checked.
alter table lots drop constraint lots_person_id_fkey;
