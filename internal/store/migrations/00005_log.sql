-- +goose Up
-- Whether an entry counts follows from what was undone and what was corrected;
-- burn.Log decides it, and the column holds what it decided so that sums can be
-- made here. Readings have their numbers in columns: there are many of them.
ALTER TABLE entries ADD COLUMN undone_at timestamptz;
ALTER TABLE entries ADD COLUMN counts boolean NOT NULL DEFAULT true;
ALTER TABLE entries ADD COLUMN place text;
ALTER TABLE entries ADD COLUMN reading double precision; -- °C
-- An entry that was struck because another took its place was not undone.
UPDATE entries e
SET undone_at = e.struck_at
WHERE e.struck_at IS NOT NULL
  AND NOT EXISTS (SELECT 1 FROM entries c
                  WHERE c.household_id = e.household_id AND c.burn_id = e.burn_id AND c.corrects = e.id AND c.struck_at IS NULL);
UPDATE entries SET counts = undone_at IS NULL WHERE undone_at IS NOT NULL;
-- +goose StatementBegin
DO $$
DECLARE r record;
BEGIN
    -- the newest first: a correction is always newer than what it corrects
    FOR r IN SELECT e.household_id, e.burn_id, e.id FROM entries e
             WHERE EXISTS (SELECT 1 FROM entries c
                           WHERE c.household_id = e.household_id AND c.burn_id = e.burn_id AND c.corrects = e.id)
             ORDER BY e.seq DESC
    LOOP
        UPDATE entries e
        SET counts = e.undone_at IS NULL
            AND NOT EXISTS (SELECT 1 FROM entries c
                            WHERE c.household_id = e.household_id AND c.burn_id = e.burn_id AND c.corrects = e.id AND c.counts)
        WHERE e.household_id = r.household_id AND e.burn_id = r.burn_id AND e.id = r.id;
    END LOOP;
END $$;
-- +goose StatementEnd
UPDATE entries
SET place = doc->>'place', reading = CAST(doc->>'reading_c' AS double precision)
WHERE kind = 'temperature';
UPDATE entries SET reading = 0 WHERE kind = 'temperature' AND reading IS NULL;
-- Mineral fuel is a load of its own kind: it is not wood.
UPDATE entries
SET kind = 'mineral', doc = jsonb_set(doc, '{kind}', '"mineral"')
WHERE kind = 'load' AND doc->'load'->'species'->>'Mineral' = 'true';
DROP INDEX entries_loads;
ALTER TABLE entries DROP COLUMN struck_at;
CREATE INDEX entries_loads ON entries (household_id, stack_id, at) WHERE kind IN ('load', 'mineral') AND counts;

-- +goose Down
UPDATE entries SET kind = 'load', doc = jsonb_set(doc, '{kind}', '"load"') WHERE kind = 'mineral';
ALTER TABLE entries ADD COLUMN struck_at timestamptz;
UPDATE entries SET struck_at = COALESCE(undone_at, now()) WHERE NOT counts;
DROP INDEX entries_loads;
ALTER TABLE entries DROP COLUMN undone_at, DROP COLUMN counts, DROP COLUMN place, DROP COLUMN reading;
CREATE INDEX entries_loads ON entries (household_id, stack_id, at) WHERE kind = 'load' AND struck_at IS NULL;
