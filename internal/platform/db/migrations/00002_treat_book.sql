-- +goose Up
-- What is there is changed by the owner of the tables, whom row-level security binds as well while it is forced.
alter table ingredients no force row level security;
alter table treat_versions no force row level security;

alter table ingredients rename column kind to chocolate_kind;
alter table ingredients
  add column kind     text not null default 'other' check (kind in ('chocolate', 'fruit', 'nut', 'dairy', 'sugar', 'fat', 'baked', 'alcohol', 'flavour', 'colour', 'topping', 'other')),
  add column measures jsonb not null default '[]',
  add column fit      double precision not null default 1 check (fit > 0 and fit <= 1),
  add column diets    text[] not null default '{}',
  add column made_of  text[] not null default '{}',
  add column bands    jsonb; -- of a chocolate, in C
update ingredients set kind = 'chocolate' where chocolate_kind is not null;
alter table ingredients add check ((kind = 'chocolate') = (chocolate_kind is not null));

create table mixes (
  kitchen_id uuid not null references kitchens,
  id         uuid not null,
  name       text not null check (name <> ''),
  parts      jsonb not null,
  loss       double precision not null default 0 check (loss >= 0 and loss < 1),
  density    double precision check (density > 0), -- g per mL
  method     text not null default '',
  revision   integer not null default 1,
  primary key (kitchen_id, id),
  unique (kitchen_id, name)
);

-- What a written name turned out to mean, so that it is asked but once.
create table ingredient_names (
  kitchen_id    uuid not null,
  words         text not null check (words <> ''),
  ingredient_id uuid not null,
  primary key (kitchen_id, words),
  foreign key (kitchen_id, ingredient_id) references ingredients
);

alter table treat_versions
  add column mixes jsonb not null default '{}', -- as they were when the version was written
  add column look  jsonb;                       -- the chocolate that it is drawn in
update treat_versions v set look = (select jsonb_strip_nulls(jsonb_build_object('kind', i.chocolate_kind, 'colour', i.colour, 'tint', i.tint)) from ingredients i
  where i.kitchen_id = v.kitchen_id and i.id::text = v.formula -> 'coatings' -> 0 ->> 'ingredient');
alter table kitchens
  add column altitude double precision not null default 0 check (altitude between -500 and 9000), -- m
  add column boiling  double precision check (boiling between 70 and 110);                        -- C, by the seller's own thermometer

-- Formulas of the first shape: fruit became a centre, draining and whole sheets became choices, portions say where they go, and
-- what a step fills became what it adds.
update treat_versions set formula = (formula - 'fruit') || jsonb_build_object(
    'centre', jsonb_build_object('of', formula #> '{fruit,ingredient}', 'share', formula #> '{fruit,share}'))
  where formula ? 'fruit';
update treat_versions set formula = (formula #- '{shell,drain}' #- '{sheet,whole}') || jsonb_build_object(
    'finishes', '[]'::jsonb,
    'choices', case
      when formula #>> '{shell,drain}' = 'true' then '{"coat": "drain"}'::jsonb
      when formula #>> '{sheet,whole}' = 'false' then '{"last": "part"}'::jsonb
      else '{}'::jsonb end,
    'portions', (select coalesce(jsonb_agg(p || jsonb_build_object('where', case when formula ->> 'family' = 'bomb' then 'in' else 'on' end) order by n), '[]')
      from jsonb_array_elements(formula -> 'portions') with ordinality as each(p, n)),
    'steps', (select coalesce(jsonb_agg((s - 'fills') ||
        case when s ->> 'fills' = 'true' then jsonb_build_object('adds', case when formula ->> 'family' = 'bomb' then '["in"]'::jsonb else '["on"]'::jsonb end) else '{}'::jsonb end ||
        case when s ->> 'rounds' = 'true' then '{"moulds": true}'::jsonb else '{}'::jsonb end order by n), '[]')
      from jsonb_array_elements(formula -> 'steps') with ordinality as each(s, n)));

alter table ingredients force row level security;
alter table treat_versions force row level security;

-- +goose StatementBegin
do $$
declare t text;
begin
  foreach t in array array['mixes', 'ingredient_names'] loop
    execute format('alter table %I enable row level security', t);
    execute format('alter table %I force row level security', t);
    execute format('create policy own_kitchen on %I using (kitchen_id = zt_kitchen()) with check (kitchen_id = zt_kitchen())', t);
    execute format('grant select, insert, update, delete on %I to zestytin_app', t);
  end loop;
end $$;
-- +goose StatementEnd
