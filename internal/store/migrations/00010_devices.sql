-- +goose Up
-- What thermometers report by themselves, apart from what people log: by stove and
-- not by burn, since they report whether a fire is in or not. A part a month, made
-- when its first reading comes, so that old winters can be put away whole.
CREATE TABLE reported (
    household_id bigint NOT NULL,
    stove_id     bigint NOT NULL,
    at           timestamptz NOT NULL,
    place        text NOT NULL,             -- of a gauge, or "draft"
    value        real NOT NULL,             -- °C, or Pa
    PRIMARY KEY (household_id, stove_id, at, place)
) PARTITION BY RANGE (at);

-- Keys for devices and programs. Only the hash of a token is here; the rate is
-- counted in its row, so that all processes of the server see it.
CREATE TABLE tokens (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    stove_id     bigint,                    -- the only stove it is for; NULL: all
    name         text NOT NULL CHECK (name <> ''),
    scopes       text[] NOT NULL,           -- readings, log, read
    hash         bytea NOT NULL UNIQUE,     -- SHA-256 of the token, which is 160 random bits
    made_at      timestamptz NOT NULL DEFAULT now(),
    used_at      timestamptz,
    revoked_at   timestamptz,
    minute_at    timestamptz,               -- the minute that is counted
    minute_count integer NOT NULL DEFAULT 0
);
CREATE INDEX tokens_household ON tokens (household_id) WHERE revoked_at IS NULL;

-- +goose Down
DROP TABLE tokens, reported;
