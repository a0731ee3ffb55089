-- +goose Up
-- How much dry wood a load was is asked with every look at a stack: worked out once, when it is
-- logged, and found in the index without the entry itself.
ALTER TABLE entries ADD COLUMN load_dry double precision; -- kg, oven-dry, of a load
UPDATE entries
SET load_dry = load_mass / (1 + COALESCE(CAST(doc->'load'->>'moisture' AS double precision), 0))
WHERE load_mass IS NOT NULL;
ALTER TABLE entries ADD CONSTRAINT entries_load_dry CHECK ((load_mass IS NULL) = (load_dry IS NULL));
DROP INDEX entries_loads;
CREATE INDEX entries_loads ON entries (household_id, stack_id, at) INCLUDE (load_dry, burn_id) WHERE kind IN ('load', 'mineral') AND counts;
CREATE INDEX entries_put_on ON entries (household_id, at) WHERE kind = 'load' AND counts;

CREATE INDEX plans_stove ON plans (household_id, stove_id);
CREATE INDEX plans_burn ON plans (household_id, burn_id) WHERE burn_id IS NOT NULL;
CREATE INDEX users_household ON users (household_id);

-- +goose Down
DROP INDEX users_household, plans_burn, plans_stove, entries_put_on, entries_loads;
CREATE INDEX entries_loads ON entries (household_id, stack_id, at) WHERE kind IN ('load', 'mineral') AND counts;
ALTER TABLE entries DROP COLUMN load_dry;
