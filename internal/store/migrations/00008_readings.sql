-- +goose Up
-- Readings have a table of their own, their numbers in columns: a thermometer
-- that reads itself makes them by the ten thousand. Both count up together, so
-- that a burn's log keeps the order in which it was made.
CREATE TABLE readings (
    household_id bigint NOT NULL,
    burn_id      bigint NOT NULL,
    id           text NOT NULL, -- made where it was typed, so that it is kept once
    seq          bigint NOT NULL DEFAULT nextval(pg_get_serial_sequence('entries', 'seq')),
    at           timestamptz NOT NULL,
    place        text NOT NULL,
    reading      double precision NOT NULL, -- °C
    typed        text NOT NULL DEFAULT '',  -- as the owner said it
    corrects     text,                      -- the entry whose place it takes
    undone_at    timestamptz,
    counts       boolean NOT NULL DEFAULT true,
    PRIMARY KEY (household_id, burn_id, id),
    FOREIGN KEY (household_id, burn_id) REFERENCES burns (household_id, id) ON DELETE CASCADE
);
INSERT INTO readings (household_id, burn_id, id, seq, at, place, reading, typed, corrects, undone_at, counts)
SELECT household_id, burn_id, id, seq, at, COALESCE(place, ''), COALESCE(reading, 0), COALESCE(doc->>'typed', ''), corrects, undone_at, counts
FROM entries
WHERE kind = 'temperature';
DELETE FROM entries WHERE kind = 'temperature';
ALTER TABLE entries DROP COLUMN place, DROP COLUMN reading;

-- +goose Down
ALTER TABLE entries ADD COLUMN place text, ADD COLUMN reading double precision;
INSERT INTO entries (household_id, burn_id, id, seq, at, kind, doc, corrects, undone_at, counts, place, reading)
OVERRIDING SYSTEM VALUE
SELECT household_id, burn_id, id, seq, at, 'temperature', CASE WHEN typed = '' THEN '{}' ELSE jsonb_build_object('typed', typed) END,
       corrects, undone_at, counts, place, reading
FROM readings;
DROP TABLE readings;
