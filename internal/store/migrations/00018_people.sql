-- +goose Up
-- What somebody of a household may do, and how they read: empty is as the household does.
ALTER TABLE users ADD COLUMN role text NOT NULL DEFAULT 'owner' CHECK (role IN ('owner', 'member', 'looks'));
ALTER TABLE users ALTER COLUMN role DROP DEFAULT;
ALTER TABLE users ADD COLUMN units text NOT NULL DEFAULT '' CHECK (units IN ('', 'metric', 'imperial'));
ALTER TABLE users ADD COLUMN language text NOT NULL DEFAULT '' CHECK (length(language) <= 35);
ALTER TABLE users ADD COLUMN colours text NOT NULL DEFAULT '' CHECK (colours IN ('', 'light', 'dark'));

-- A link by which one more person comes in, once. Only the hash of what stands in it is here.
CREATE TABLE invitations (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    role         text NOT NULL CHECK (role IN ('owner', 'member', 'looks')),
    hash         bytea NOT NULL UNIQUE,
    by_name      text NOT NULL,
    made_at      timestamptz NOT NULL,
    ends_at      timestamptz NOT NULL
);
CREATE INDEX invitations_household ON invitations (household_id);

-- Who did it, by the name that they had then: it stays when they leave. Empty: not known, as of
-- all that is older than this.
ALTER TABLE entries ADD COLUMN by_name text NOT NULL DEFAULT '', ADD COLUMN undone_by text NOT NULL DEFAULT '';
ALTER TABLE readings ADD COLUMN by_name text NOT NULL DEFAULT '', ADD COLUMN undone_by text NOT NULL DEFAULT '';
ALTER TABLE burns ADD COLUMN ended_by text NOT NULL DEFAULT ''; -- who lit it stands in spec
ALTER TABLE upkeep ADD COLUMN by_name text NOT NULL DEFAULT '';
ALTER TABLE stack_readings ADD COLUMN by_name text NOT NULL DEFAULT '';
ALTER TABLE stack_counts ADD COLUMN by_name text NOT NULL DEFAULT '';
ALTER TABLE carried ADD COLUMN by_name text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE carried DROP COLUMN by_name;
ALTER TABLE stack_counts DROP COLUMN by_name;
ALTER TABLE stack_readings DROP COLUMN by_name;
ALTER TABLE upkeep DROP COLUMN by_name;
ALTER TABLE burns DROP COLUMN ended_by;
ALTER TABLE readings DROP COLUMN by_name, DROP COLUMN undone_by;
ALTER TABLE entries DROP COLUMN by_name, DROP COLUMN undone_by;
DROP TABLE invitations;
ALTER TABLE users DROP COLUMN role, DROP COLUMN units, DROP COLUMN language, DROP COLUMN colours;
