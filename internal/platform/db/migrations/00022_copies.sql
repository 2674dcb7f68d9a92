-- +goose Up
-- A treat that was begun as a copy of another knows of which version, so that it can be said what differs.
alter table treats add column copied_from uuid, add column copied_version integer,
  add check ((copied_from is null) = (copied_version is null)),
  add foreign key (kitchen_id, copied_from, copied_version) references treat_versions (kitchen_id, treat_id, version);
