-- +goose Up
-- Who reads the table of sessions cannot sign in with what stands there: tokens are kept as their SHA-256, in base64 without padding. When a session was last seen is kept beside it.
update sessions set token = translate(encode(sha256(convert_to(token, 'UTF8')), 'base64'), '+/=', '-_');
alter table sessions add column seen timestamptz;
