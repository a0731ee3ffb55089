-- +goose Up
-- A household heats one or more spaces; a stove stands in one.
CREATE TABLE spaces (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    name         text NOT NULL CHECK (name <> ''),
    name_key     text,
    spec         jsonb NOT NULL, -- house.House
    wanted_low   double precision NOT NULL,
    wanted_high  double precision NOT NULL,
    version      int NOT NULL DEFAULT 1,
    removed_at   timestamptz,
    UNIQUE (household_id, id)
);
CREATE UNIQUE INDEX spaces_name ON spaces (household_id, name_key) WHERE removed_at IS NULL;

INSERT INTO spaces (household_id, name, spec, wanted_low, wanted_high)
SELECT id, 'the house', house, wanted_low, wanted_high
FROM households;

ALTER TABLE stoves ADD COLUMN space_id bigint;
ALTER TABLE stoves ADD COLUMN version int NOT NULL DEFAULT 1;
-- A stove that stood somewhere else brought a house of its own.
-- +goose StatementBegin
DO $$
DECLARE
    s record;
    made bigint;
BEGIN
    FOR s IN SELECT st.id, st.household_id, st.name, st.spec, h.wanted_low, h.wanted_high
             FROM stoves st JOIN households h ON h.id = st.household_id
             WHERE jsonb_typeof(st.spec->'house') = 'object'
    LOOP
        INSERT INTO spaces (household_id, name, spec, wanted_low, wanted_high)
        VALUES (s.household_id, left(COALESCE(NULLIF(s.spec->>'room', ''), 'where ' || s.name || ' stands'), 60), s.spec->'house', s.wanted_low, s.wanted_high)
        RETURNING id INTO made;
        UPDATE stoves SET space_id = made, spec = spec - 'house' WHERE id = s.id;
    END LOOP;
END $$;
-- +goose StatementEnd
UPDATE stoves st
SET space_id = (SELECT min(sp.id) FROM spaces sp WHERE sp.household_id = st.household_id)
WHERE space_id IS NULL;
ALTER TABLE stoves ALTER COLUMN space_id SET NOT NULL;
ALTER TABLE stoves ADD FOREIGN KEY (household_id, space_id) REFERENCES spaces (household_id, id);

ALTER TABLE households DROP COLUMN house, DROP COLUMN wanted_low, DROP COLUMN wanted_high;
-- Where the weather comes from: an address that speaks docs/formats.md; empty:
-- somebody types it.
ALTER TABLE households ADD COLUMN weather_url text NOT NULL DEFAULT '';
ALTER TABLE households ADD COLUMN version int NOT NULL DEFAULT 1;
ALTER TABLE stacks ADD COLUMN version int NOT NULL DEFAULT 1;

-- +goose Down
ALTER TABLE households ADD COLUMN house jsonb, ADD COLUMN wanted_low double precision NOT NULL DEFAULT 19, ADD COLUMN wanted_high double precision NOT NULL DEFAULT 21.5;
UPDATE households h
SET (house, wanted_low, wanted_high) = (SELECT spec, wanted_low, wanted_high FROM spaces s WHERE s.household_id = h.id ORDER BY s.id LIMIT 1);
ALTER TABLE households DROP COLUMN weather_url, DROP COLUMN version;
ALTER TABLE stacks DROP COLUMN version;
ALTER TABLE stoves DROP COLUMN space_id, DROP COLUMN version;
DROP TABLE spaces;
