-- +goose Up
-- A stack whose dryness is estimated from how long it has lain, and not read from
-- a meter, keeps how far off that may be; and which of its figures are taken as
-- usual because nobody has told them, by field, with blanks between.
ALTER TABLE stacks
    ADD COLUMN spread  double precision NOT NULL DEFAULT 0 CHECK (spread >= 0), -- of dry wood; 0: read from a meter
    ADD COLUMN assumed text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE stacks DROP COLUMN spread, DROP COLUMN assumed;
