-- +goose Up
-- Names are compared by a key that is normalised and folded in one place
-- (store.NameKey); the database's own idea of capitals depends on its locale.
-- Rows from before get theirs when the server starts.
ALTER TABLE users ADD COLUMN name_key text;
DROP INDEX users_name;
CREATE UNIQUE INDEX users_name ON users (name_key);
ALTER TABLE stoves ADD COLUMN name_key text;
DROP INDEX stoves_name;
CREATE UNIQUE INDEX stoves_name ON stoves (household_id, name_key) WHERE removed_at IS NULL;
ALTER TABLE stacks ADD COLUMN name_key text;
DROP INDEX stacks_name;
CREATE UNIQUE INDEX stacks_name ON stacks (household_id, name_key) WHERE removed_at IS NULL;

-- A session that was ended stays as a mark until it would have run out, so that
-- a page which was being computed meanwhile cannot bring it back. Tokens are
-- kept as hashes. Nobody is signed in under the old form any more.
DROP TABLE sessions;
CREATE TABLE sessions (
    token_hash text PRIMARY KEY,
    data       bytea NOT NULL,
    user_id    bigint REFERENCES users ON DELETE CASCADE, -- nobody yet: null
    agent      text NOT NULL DEFAULT '',                  -- the browser, in its own words, shortened
    begun_at   timestamptz NOT NULL DEFAULT now(),
    seen_at    timestamptz NOT NULL DEFAULT now(),
    expiry     timestamptz NOT NULL,
    ended_at   timestamptz
);
CREATE INDEX sessions_expiry ON sessions (expiry);
CREATE INDEX sessions_user ON sessions (user_id);

-- Attempts to sign in, so that every process of the server sees the same
-- limits. Keys are hashes of fixed length: what somebody types is not kept.
CREATE TABLE attempts (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    key text NOT NULL,
    at  timestamptz NOT NULL
);
CREATE INDEX attempts_key ON attempts (key, at);
CREATE INDEX attempts_at ON attempts (at);

-- Where a name has signed in from: guessing elsewhere does not lock it out there.
CREATE TABLE known_addresses (
    user_id bigint NOT NULL REFERENCES users ON DELETE CASCADE,
    key     text NOT NULL,
    at      timestamptz NOT NULL,
    PRIMARY KEY (user_id, key)
);

-- The code that the first owner of a fresh server types; printed where the
-- server was started.
CREATE TABLE setup_code (
    single boolean PRIMARY KEY DEFAULT true CHECK (single),
    code text NOT NULL
);

-- +goose Down
DROP TABLE setup_code, known_addresses, attempts;
