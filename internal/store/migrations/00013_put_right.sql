-- +goose Up
-- A task that is put off until a day, with why; and whom to call.
ALTER TABLE upkeep
    ADD COLUMN until timestamptz; -- put off until then; null: it was done
CREATE TABLE contacts (
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    role         text NOT NULL,             -- sweep, installer, dealer, neighbour
    name         text NOT NULL DEFAULT '',
    phone        text NOT NULL DEFAULT '',
    PRIMARY KEY (household_id, role)
);

-- How wood lies, and what it was: as it was tipped; of a tree that stood dead.
ALTER TABLE stacks
    ADD COLUMN heap          boolean NOT NULL DEFAULT false,
    ADD COLUMN standing_dead boolean NOT NULL DEFAULT false;

-- +goose Down
ALTER TABLE stacks DROP COLUMN heap, DROP COLUMN standing_dead;
DROP TABLE contacts;
DELETE FROM upkeep WHERE until IS NOT NULL;
ALTER TABLE upkeep DROP COLUMN until;
