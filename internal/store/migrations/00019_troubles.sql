-- +goose Up
-- What was found to be wrong with a stove, until it is put right: Before lighting says it.
CREATE TABLE troubles (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    stove_id     bigint NOT NULL,
    cause        text NOT NULL CHECK (length(cause) <= 40), -- trouble.Cause
    found_at     timestamptz NOT NULL,
    by_name      text NOT NULL DEFAULT '',
    righted_at   timestamptz,
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE UNIQUE INDEX troubles_open ON troubles (household_id, stove_id, cause) WHERE righted_at IS NULL;

-- +goose Down
DROP TABLE troubles;
