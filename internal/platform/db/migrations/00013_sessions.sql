-- +goose Up
-- Sessions and counts of attempts are seen one at a time, by who names them; what has run out is seen to be thrown away.
create function zt_session() returns text language sql stable as $$ select current_setting('zt.session', true) $$;
create function zt_attempt() returns text language sql stable as $$ select current_setting('zt.attempt', true) $$;

alter table sessions enable row level security;
alter table sessions force row level security;
create policy named on sessions using (token = zt_session()) with check (token = zt_session());
create policy run_out_is_seen on sessions for select using (expiry < current_timestamp);
create policy run_out_goes on sessions for delete using (expiry < current_timestamp);

alter table attempts enable row level security;
alter table attempts force row level security;
create policy named on attempts using (key = zt_attempt()) with check (key = zt_attempt());
create policy run_out_is_seen on attempts for select using (begun < current_timestamp - interval '3 hours');
create policy run_out_goes on attempts for delete using (begun < current_timestamp - interval '3 hours');
