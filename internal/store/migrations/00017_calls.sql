-- +goose Up
-- What somebody wants to be called for, and when not: minutes of their household's day.
CREATE TABLE callings (
    user_id    bigint PRIMARY KEY REFERENCES users ON DELETE CASCADE,
    wanted     boolean NOT NULL DEFAULT true,
    off        text NOT NULL DEFAULT '' CHECK (length(off) <= 400), -- kinds, apart by spaces
    quiet_from integer NOT NULL DEFAULT 0 CHECK (quiet_from BETWEEN 0 AND 1439),
    quiet_to   integer NOT NULL DEFAULT 0 CHECK (quiet_to BETWEEN 0 AND 1439)
);

-- Browsers that a push service reaches.
CREATE TABLE push_browsers (
    id       bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    user_id  bigint NOT NULL REFERENCES users ON DELETE CASCADE,
    endpoint text NOT NULL UNIQUE CHECK (length(endpoint) <= 2000),
    p256dh   text NOT NULL CHECK (length(p256dh) <= 200),
    auth     text NOT NULL CHECK (length(auth) <= 100),
    made_at  timestamptz NOT NULL
);
CREATE INDEX push_browsers_user ON push_browsers (user_id);

-- What each of them was called for already.
CREATE TABLE calls_made (
    user_id bigint NOT NULL REFERENCES users ON DELETE CASCADE,
    key     text NOT NULL CHECK (length(key) <= 300),
    at      timestamptz NOT NULL,
    PRIMARY KEY (user_id, key)
);
CREATE INDEX calls_made_at ON calls_made (at);

-- +goose Down
DROP TABLE calls_made, push_browsers, callings;
