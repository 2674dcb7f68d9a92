-- +goose Up
-- Where customers reach the kitchen: quotes and calendars are linked there. Empty: as the page was opened.
alter table kitchens add column public_address text not null default '' check (length(public_address) <= 200);
drop trigger changed on kitchens;
create trigger changed after update of name, time_zone, currency, units, hourly_rate, overhead_rate, margin, sureness, terms, clock, dates, degrees, law, country, address, public_address on kitchens
  for each statement execute function zt_changed('kitchen');
