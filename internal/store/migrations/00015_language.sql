-- +goose Up
-- The language that a household reads, as a BCP 47 tag; empty: the one that its browser asks for.
ALTER TABLE households ADD COLUMN language text NOT NULL DEFAULT '' CHECK (length(language) <= 35);

-- +goose Down
ALTER TABLE households DROP COLUMN language;
